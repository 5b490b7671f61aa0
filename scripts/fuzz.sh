#!/usr/bin/env bash
# npm run fuzz -- [--rounds N] [--seed S]: the script reader under damaged, repeated and shortened scripts.
# npm run fuzz -- --awkward: 100 KB of each awkward repetition to every entry point; a line before each, so that the last one names what stopped.
cd "$(dirname "$0")/.."
. scripts/lib.sh
check_node
install_dependencies
if [ "${1:-}" = --awkward ]; then
  node_modules/.bin/esbuild tests/awkward/awkward.ts --bundle --platform=node --format=esm --packages=external --outfile=dist/awkward.js --log-level=warning
  exec node dist/awkward.js "${@:2}"
fi
node_modules/.bin/esbuild tests/fuzz/fuzz.ts --bundle --platform=node --format=esm --packages=external --outfile=dist/fuzz.js --log-level=warning
node dist/fuzz.js "$@"
