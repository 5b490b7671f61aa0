#!/usr/bin/env bash
# npm start: everything from a fresh clone to Pelvok with its demo at http://127.0.0.1:4280. Ctrl-C ends all of it.
cd "$(dirname "$0")/.."
. scripts/lib.sh
port=${PELVOK_PORT:-4280}

check_node
missing=()
command -v psql >/dev/null || missing+=(postgresql-client)
[ -n "$(pg_bin)" ] || missing+=(postgresql)
need_packages "${missing[@]}"

mkdir -p .pelvok
exec 9> .pelvok/lock
flock -n 9 || die 'Pelvok runs from this folder already; end that one first.'
end_orphans
port_is_free "$port" || die "port $port is taken by another program; end it, or set PELVOK_PORT to another port."

install_dependencies
build

children=()
finish() {
  trap - EXIT
  # A second Ctrl-C must not cut this short and leave the server running.
  trap '' INT TERM
  for pid in "${children[@]}"; do kill "$pid" 2>/dev/null || true; done
  for pid in "${children[@]}"; do wait "$pid" 2>/dev/null || true; done
  rm -f .pelvok/children
  cluster_stop
}
trap finish EXIT
trap 'exit 130' INT
trap 'exit 143' TERM

# Children must not hold the lock: one that outlives a killed script would keep the next start out.
cluster_start cluster 9>&-
prepare_store cluster
prepare_demo cluster
node dist/boot.js 9>&-
node dist/worker.js 9>&- &
children+=($!)
remember_child $!
NEXT_TELEMETRY_DISABLED=1 node node_modules/next/dist/bin/next start -H 127.0.0.1 -p "$port" 9>&- >/dev/null &
children+=($!)
remember_child $!
until node -e 'fetch(process.argv[1]).then(()=>process.exit(0),()=>process.exit(1))' "http://127.0.0.1:$port/" 2>/dev/null; do
  kill -0 "${children[1]}" 2>/dev/null || die 'the web server ended; see above.'
  sleep 0.3
done
say "Pelvok: http://127.0.0.1:$port"
wait -n
