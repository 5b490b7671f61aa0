#!/usr/bin/env bash
# npm run fuzz -- [--rounds N] [--seed S]: the script reader under damaged, repeated and shortened scripts.
cd "$(dirname "$0")/.."
. scripts/lib.sh
check_node
install_dependencies
node_modules/.bin/esbuild tests/fuzz/fuzz.ts --bundle --platform=node --format=esm --packages=external --outfile=dist/fuzz.js --log-level=warning
node dist/fuzz.js "$@"
