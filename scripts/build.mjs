// Builds what runs outside Next: the command line and the job worker, into dist/. Dependencies stay in node_modules.
import { chmodSync, existsSync } from 'node:fs'
import { build } from 'esbuild'

const entries = {
  cli: 'src/cli/main.ts',
  worker: 'src/server/worker.ts',
  thread: 'src/server/apart/thread.ts',
  address: 'src/server/address.ts',
  boot: 'src/server/boot.ts',
}
const present = Object.fromEntries(Object.entries(entries).filter(([, path]) => existsSync(path)))
await build({
  entryPoints: present,
  outdir: 'dist',
  bundle: true,
  splitting: true,
  platform: 'node',
  format: 'esm',
  target: 'node20.10',
  supported: { 'import-attributes': true },
  packages: 'external',
  sourcemap: 'linked',
  loader: { '.sql': 'text' },
  banner: { js: '#!/usr/bin/env node' },
  logLevel: 'warning',
})
// One file that needs no other, for a process that may read nothing else.
await build({
  entryPoints: ['src/server/rowsProcess.ts'],
  outfile: 'dist/rowsProcess.cjs',
  bundle: true,
  platform: 'node',
  format: 'cjs',
  target: 'node20',
  external: ['pg-native'],
  logLevel: 'warning',
})
if (existsSync('dist/cli.js')) chmodSync('dist/cli.js', 0o755)
