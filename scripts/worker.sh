#!/usr/bin/env bash
# npm run worker: does jobs (surveys, rehearsals, plans) of the store that DATABASE_URL names, one at a time. There may be any number of them.
cd "$(dirname "$0")/.."
. scripts/lib.sh
need_store
[ -n "${PELVOK_SCRATCH_URL:-}" ] || say 'PELVOK_SCRATCH_URL is not set: plans cannot be rehearsed here. It names a PostgreSQL server on which scratch databases may be made.'
node dist/boot.js || exit
exec node dist/worker.js
