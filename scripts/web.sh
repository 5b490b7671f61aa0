#!/usr/bin/env bash
# npm run web: one web server on the store that DATABASE_URL names. There may be any number of them, on any machines; npm run worker does the jobs.
cd "$(dirname "$0")/.."
. scripts/lib.sh
listening
need_store
port_is_free "$port" || die "port $port is taken by another program; end it, or set PELVOK_PORT to another port."
export PELVOK_OUT=${PELVOK_OUT:-$PWD/.pelvok/code}
node dist/boot.js "${elsewhere[@]}" || exit
say "Pelvok: a web server at ${PELVOK_URL:-http://$reach:$port}"
web_server
