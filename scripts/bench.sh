#!/usr/bin/env bash
# npm run bench: the budgets of docs/architecture.md as ratios within one run. Prints; judges nothing.
cd "$(dirname "$0")/.."
. scripts/lib.sh

check_node
need_postgres
install_dependencies
PG_EXTRA='-c fsync=off -c synchronous_commit=off -c max_locks_per_transaction=1024 -c shared_buffers=512MB'
cluster_start bench
trap cluster_stop EXIT
trap 'exit 130' INT
node_modules/.bin/esbuild tests/bench/bench.ts --bundle --platform=node --format=esm --packages=external --outfile=dist/bench.js --log-level=warning
PELVOK_TEST_SERVER="$PG_ADMIN" node dist/bench.js "$@"
