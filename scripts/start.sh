#!/usr/bin/env bash
# npm start: everything from a fresh clone to Pelvok with its demo at http://127.0.0.1:4280. Ctrl-C ends all of it.
cd "$(dirname "$0")/.."
. scripts/lib.sh
listening

check_node
need_postgres

mkdir -p .pelvok
# The one folder below which the application writes code.
export PELVOK_OUT=${PELVOK_OUT:-$PWD/.pelvok/code}
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
  # Whoever is too busy to hear is ended: all of it is over within fifteen seconds.
  for _ in $(seq 100); do
    local left=0
    for pid in "${children[@]}"; do if kill -0 "$pid" 2>/dev/null; then left=1; fi; done
    [ $left = 1 ] || break
    sleep 0.1
  done
  for pid in "${children[@]}"; do kill -9 "$pid" 2>/dev/null || true; wait "$pid" 2>/dev/null || true; done
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
# For the command line, which finds the store by it.
(umask 077; printf '%s\n' "$DATABASE_URL" > .pelvok/store.url)
node dist/boot.js "${elsewhere[@]}" 9>&- || exit
# A PostgreSQL that went away is started again, under the same port; one that somebody restarts is left the time for it.
keep_cluster() {
  local away=0
  while sleep 5; do
    if cluster_runs; then away=0; continue; fi
    away=$((away + 1))
    [ $away -ge 4 ] || continue
    say 'PostgreSQL ended, and is started again.'
    cluster_run || say "It did not start; see $PG_DIR/log"
    away=0
  done
}
start_worker() {
  node dist/worker.js 9>&- &
  worker=$!
  children[0]=$worker
  remember_child "$worker"
}
start_worker
web_server 9>&- >/dev/null &
children+=($!)
remember_child $!
until node -e 'fetch(process.argv[1]).then(()=>process.exit(0),()=>process.exit(1))' "http://$reach:$port/" 2>/dev/null; do
  kill -0 "${children[1]}" 2>/dev/null || die 'the web server ended; see above.'
  sleep 0.3
done
keep_cluster 9>&- &
children+=($!)
say "Pelvok: ${PELVOK_URL:-http://127.0.0.1:$port} (on $(pg_version))"
# A worker that dies is started again, its job is told as interrupted, and the web server goes on meanwhile.
while :; do
  ended=
  wait -n -p ended || true
  [ "$ended" = "$worker" ] || die 'the web server ended; see above.'
  say 'The worker ended, and is started again.'
  sleep 1
  start_worker
done
