#!/usr/bin/env bash
# npm test: everything that must pass, on a cluster of its own. Ends with "N passed, N failed" over all runners.
#   npm test -- --changed [COMMIT]   what a change touches: since COMMIT, or what is not committed yet
#   npm test -- ARGUMENTS            go to vitest: `npm test -- --project pure` is quick and needs no server
# A file of tests with a server or a browser in which something fails runs once more by itself, at the end; what passes then counts, and is named.
cd "$(dirname "$0")/.."
. scripts/lib.sh

check_node
mkdir -p .pelvok
exec 8> .pelvok/test.lock
flock -n 8 || die 'the tests run in this folder already; wait for them to end.'
missing=()
command -v psql >/dev/null || missing+=(postgresql-client)
[ -n "$(pg_bin)" ] || missing+=(postgresql)
command -v sqlite3 >/dev/null || missing+=(sqlite3)
command -v mariadbd >/dev/null || missing+=(mariadb-server-core mariadb-client-core)
command -v chromium >/dev/null || missing+=(chromium)
need_packages "${missing[@]}"
install_dependencies
build

export PELVOK_TEST_OUT="$PWD/.pelvok/test-out"
rm -rf "$PELVOK_TEST_OUT"
mkdir -p "$PELVOK_TEST_OUT"

children=()
finish() {
  trap - EXIT
  # A second Ctrl-C must not cut this short and leave the server running.
  trap '' INT TERM
  for pid in "${children[@]}"; do kill "$pid" 2>/dev/null || true; done
  for pid in "${children[@]}"; do wait "$pid" 2>/dev/null || true; done
  cluster_stop
}
PG_EXTRA='-c fsync=off -c synchronous_commit=off -c full_page_writes=off -c shared_preload_libraries=pg_stat_statements'
unset DATABASE_URL PELVOK_KEY_FILE
# Children must not hold the lock.
cluster_start test 8>&-
trap finish EXIT
trap 'exit 130' INT
trap 'exit 143' TERM
# The demo database is only read and stays, the one for trying plans on is made anew.
admin postgres -c 'drop database if exists pelvok_store with (force)' -c 'drop database if exists fennmoor_preview with (force)'
rm -f .pelvok/test.key
prepare_store test
prepare_demo test
export PELVOK_TEST_SERVER="$PG_ADMIN"
# A variable that people may name for a source.
export PELVOK_SOURCE_DEMO="$PELVOK_DEMO_URL"
# A store for the command line; browser tests have their own.
node dist/boot.js 2> "$PELVOK_TEST_OUT/boot.log"

passed=0 failed=0
check() {
  local name=$1 started=$SECONDS
  shift
  if "$@" > "$PELVOK_TEST_OUT/$name.log" 2>&1; then passed=$((passed + 1)); say "ok      $name ($((SECONDS - started)) s)"
  else failed=$((failed + 1)); say "FAILED  $name"; cat "$PELVOK_TEST_OUT/$name.log" >&2; fi
}
# A runner's report is NAME.json. Run as a command of its own, it can be ended by its id.
runner() {
  local name=$1
  shift
  runner=(node_modules/.bin/vitest --run --reporter=default --reporter=json --outputFile.json="$PELVOK_TEST_OUT/$name.json" "$@")
}
# The last line: what all runners together passed and failed, after what failed with a server or a browser ran once more.
total() {
  local again=() status
  mapfile -t again < <(node scripts/tally.mjs --again "$@")
  if [ ${#again[@]} -gt 0 ]; then
    say "Once more, by itself: ${again[*]}"
    runner again "${again[@]}"
    "${runner[@]}" >&2 && status=0 || status=$?
    export PELVOK_AGAIN="$PELVOK_TEST_OUT/again.json"
  fi
  node scripts/tally.mjs "$passed" "$failed" "$@"
}

if [ "${1:-}" = --changed ]; then
  mapfile -t touched < <(node scripts/changed.mjs "${@:2}")
  check types node_modules/.bin/tsc -p .
  check types-core node_modules/.bin/tsc -p src/core
  check lint node_modules/.bin/biome check .
  check imports node_modules/.bin/depcruise src --config .dependency-cruiser.cjs
  runs=()
  if [ -n "${touched[0]:-}" ]; then
    read -ra files <<< "${touched[0]}"
    runner related related --project pure --project server --passWithNoTests "${files[@]}"
    "${runner[@]}" >&2 && status=0 || status=$?
    runs+=("$status" "$PELVOK_TEST_OUT/related.json")
  fi
  if [ -n "${touched[1]:-}" ]; then
    read -ra files <<< "${touched[1]}"
    runner browser --project browser "${files[@]}"
    "${runner[@]}" >&2 && status=0 || status=$?
    runs+=("$status" "$PELVOK_TEST_OUT/browser.json")
  fi
  total "${runs[@]}"
  exit
fi
if [ $# -gt 0 ]; then
  runner all "$@"
  "${runner[@]}" >&2 && status=0 || status=$?
  node scripts/tally.mjs 0 0 "$status" "$PELVOK_TEST_OUT/all.json"
  exit
fi
# A browser waits most of its time, so all the others run meanwhile; what it printed follows at the end.
runner browser --project browser
"${runner[@]}" > "$PELVOK_TEST_OUT/browser.log" 2>&1 8>&- &
browser=$!
children+=("$browser")
# The longest beside all the others.
(
  check types node_modules/.bin/tsc -p .
  echo "$passed $failed" > "$PELVOK_TEST_OUT/types.count"
) 8>&- &
types=$!
check types-core node_modules/.bin/tsc -p src/core
check lint node_modules/.bin/biome check .
check imports node_modules/.bin/depcruise src --config .dependency-cruiser.cjs
check unused node_modules/.bin/knip
check roundtrip-demo node scripts/roundtrip.mjs demo/schema.sql
wait "$types" || true
read -r more_passed more_failed < "$PELVOK_TEST_OUT/types.count"
passed=$((passed + more_passed)) failed=$((failed + more_failed))
runner server --project pure --project server
"${runner[@]}" >&2 && status=0 || status=$?
wait "$browser" && browser_status=0 || browser_status=$?
cat "$PELVOK_TEST_OUT/browser.log" >&2
total "$status" "$PELVOK_TEST_OUT/server.json" "$browser_status" "$PELVOK_TEST_OUT/browser.json"
