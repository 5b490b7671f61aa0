#!/usr/bin/env bash
# npm run corpus: the measures of ../shared/checks over the open corpus (CORPUS and CHECKS name other folders). Prints; exit 1 where a round trip differs.
# Last, what a person would not have called so, counted over the names given; `--list KIND` (or all) prints each.
cd "$(dirname "$0")/.."
. scripts/lib.sh
corpus=${CORPUS:-../shared/corpus}
checks=${CHECKS:-../shared/checks}
[ -d "$corpus" ] || die "there is no folder $corpus; set CORPUS."

check_node
need_postgres
install_dependencies
node scripts/build.mjs
PG_EXTRA='-c fsync=off -c synchronous_commit=off -c max_locks_per_transaction=1024'
cluster_start corpus
trap cluster_stop EXIT
trap 'exit 130' INT
node "$checks/survey-truth.mjs" "$corpus"/*/ | tail -n 1
node "$checks/roundtrip.mjs" --server "$PG_ADMIN" demo/schema.sql "$corpus"/*-pg/schema.sql "$corpus"/*-pg/normalized.sql
node_modules/.bin/esbuild tests/calibrate/names.ts --bundle --platform=node --format=esm --packages=external --outfile=dist/names.js --log-level=warning
node dist/names.js "$@"
