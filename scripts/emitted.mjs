// npm run emitted [-- DIR]: the classes of every schema of the corpus (CORPUS names another folder) compile as strictly as people run the compiler, and
// have no `any` and no `unknown`. Prints a line per schema; exit 1 where one does not.
import { execFileSync, spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'

const corpus = process.env.CORPUS ?? '../shared/corpus'
const out = '.pelvok/emitted'
const strict = ['--strict', '--noUncheckedIndexedAccess', '--exactOptionalPropertyTypes', '--noUnusedLocals', '--noUnusedParameters', '--noEmit']
const target = ['--skipLibCheck', '--target', 'es2022', '--module', 'nodenext', '--typeRoots', '/nonexistent']
execFileSync('node', ['scripts/build.mjs'])
rmSync(out, { recursive: true, force: true })
let failed = 0
const schemas = readdirSync(corpus).filter((name) => existsSync(join(corpus, name, 'schema.sql')))
for (const name of schemas.sort()) {
  const dir = join(out, name)
  mkdirSync(dir, { recursive: true })
  const dialect = /-pg$/.test(name) ? 'postgresql' : /-sqlite$/.test(name) ? 'sqlite' : 'mysql'
  const emit = spawnSync(
    'node',
    ['dist/cli.js', 'emit', join(corpus, name, 'schema.sql'), '--dialect', dialect, '--target', 'typescript', '--take', '--out', dir],
    {
      encoding: 'utf8',
    },
  )
  const files = readdirSync(dir, { recursive: true }).filter((f) => f.endsWith('.ts'))
  const tsc = spawnSync('node_modules/.bin/tsc', [...strict, ...target, join(dir, 'index.ts')], { encoding: 'utf8' })
  // Comments may speak of anything.
  const code = (f) => readFileSync(join(dir, f), 'utf8').replace(/\/\*[\s\S]*?\*\/|\/\/.*|'(?:[^'\\]|\\.)*'/g, '')
  const loose = files.filter((f) => /\b(any|unknown)\b/.test(code(f)))
  const ok = emit.status === 0 && tsc.status === 0 && loose.length === 0
  if (!ok) failed += 1
  console.log(`${ok ? 'ok    ' : 'FAILED'} ${name}: ${files.length} files${loose.length > 0 ? `; any or unknown in ${loose.join(', ')}` : ''}`)
  if (emit.status !== 0) console.log(emit.stderr)
  if (tsc.status !== 0) console.log(tsc.stdout.split('\n').slice(0, 8).join('\n'))
}
console.log(`${schemas.length - failed} of ${schemas.length} schemas compile`)
process.exitCode = failed > 0 ? 1 : 0
