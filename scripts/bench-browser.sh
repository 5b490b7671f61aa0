#!/usr/bin/env bash
# npm run bench:browser -- [FILE.sql ...]: how long a person waits in Chromium, beside a page of as many plain shapes. For a quiet machine. Prints; judges nothing.
cd "$(dirname "$0")/.."
. scripts/lib.sh

check_node
need_postgres
command -v chromium >/dev/null || need_packages chromium
install_dependencies
build
cluster_start bench
trap cluster_stop EXIT
trap 'exit 130' INT
node_modules/.bin/esbuild tests/bench/browser.ts --bundle --platform=node --format=esm --packages=external --outfile=dist/benchBrowser.js --log-level=warning
PELVOK_TEST_SERVER="$PG_ADMIN" node dist/benchBrowser.js "$@"
