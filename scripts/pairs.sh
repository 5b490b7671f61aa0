#!/usr/bin/env bash
# npm run pairs -- [--rounds N] [--seed S]: plans between random schemas, run up, down and up again on filled databases of a private server.
cd "$(dirname "$0")/.."
. scripts/lib.sh

check_node
need_postgres
install_dependencies
PG_EXTRA='-c fsync=off -c synchronous_commit=off -c max_locks_per_transaction=1024'
cluster_start pairs
trap cluster_stop EXIT
trap 'exit 130' INT
node_modules/.bin/esbuild tests/pairs/pairs.ts --bundle --platform=node --format=esm --packages=external --outfile=dist/pairs.js --log-level=warning
PELVOK_TEST_SERVER="$PG_ADMIN" node dist/pairs.js "$@"
