#!/usr/bin/env bash
# npm run soak -- [RULINGS]: ten reviewers, two web servers on one store, one of them killed in the middle; on a private server.
cd "$(dirname "$0")/.."
. scripts/lib.sh

check_node
need_postgres
install_dependencies
build
PG_EXTRA='-c fsync=off -c synchronous_commit=off'
cluster_start soak
trap cluster_stop EXIT
trap 'exit 130' INT
node_modules/.bin/esbuild tests/soak/soak.ts --bundle --platform=node --format=esm --packages=external --loader:.sql=text --outfile=dist/soak.js --log-level=warning
PELVOK_TEST_SERVER="$PG_ADMIN" node dist/soak.js "$@"
