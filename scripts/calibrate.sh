#!/usr/bin/env bash
# npm run calibrate: what evidence for undeclared references is worth, fitted on the open corpus. Prints; with --write it writes weights.ts.
cd "$(dirname "$0")/.."
. scripts/lib.sh

check_node
install_dependencies
node_modules/.bin/esbuild tests/calibrate/calibrate.ts --bundle --platform=node --format=esm --packages=external --outfile=dist/calibrate.js --log-level=warning
node dist/calibrate.js "$@"
