// What a change touches, for `npm test -- --changed [COMMIT]`: one line of files that tests are looked for by their imports, and one of
// tests in a browser, whose imports do not show what they use.
import { execFileSync } from 'node:child_process'
import { existsSync, readdirSync } from 'node:fs'

const git = (...args) => execFileSync('git', args, { encoding: 'utf8' }).split('\n').filter(Boolean)
const since = process.argv[2] ?? 'HEAD'
const changed = [...new Set([...git('diff', '--name-only', since), ...git('ls-files', '--others', '--exclude-standard')])].filter((f) => existsSync(f))

/** Which browser tests a folder of the interface shows up in; what is in none of these shows up in all. */
const views = [
  [/^src\/ui\/(accounts)\//, ['signIn', 'people']],
  [/^src\/ui\/(notation)\//, ['notation']],
  [/^src\/ui\/(code)\//, ['code']],
  [/^src\/ui\/(trial)\//, ['trial']],
  [/^src\/ui\/(plan|watch)\//, ['path', 'crossing']],
  [/^src\/ui\/(newProject|source|projects|scope|catalog)\//, ['sources', 'path', 'app']],
  [/^src\/ui\/(review|map|gate|ledger)\//, ['desk', 'crossing', 'manyTables', 'people']],
  [/^src\/cli\//, ['app', 'path']],
]
const ofApp = /^(src\/(app|ui|server|store|workers|engines|core|cli|proxy)|next\.config|scripts\/(build|lib|test)|tests\/support\/)/
const everything = readdirSync('tests/e2e')
  .filter((f) => f.endsWith('.test.ts'))
  .map((f) => f.replace('.test.ts', ''))
const browser = new Set()
for (const f of changed) {
  const own = /^tests\/e2e\/(.*)\.test\.ts$/.exec(f)
  if (own) browser.add(own[1])
  else if (ofApp.test(f) && !/\.test\.ts$/.test(f)) for (const t of views.find(([of]) => of.test(f))?.[1] ?? everything) browser.add(t)
}
const code = changed.filter((f) => /^(src|tests)\/.*\.(tsx?|sql)$/.test(f) && !f.startsWith('tests/e2e/'))
// The command line is run as it is built: tests that do so import none of it.
const built = changed.some((f) => f.startsWith('src/cli/'))
  ? readdirSync('tests/differential')
      .filter((f) => f.endsWith('.test.ts'))
      .map((f) => `tests/differential/${f}`)
  : []
console.log([...code, ...built].join(' '))
console.log(
  [...browser]
    .filter((t) => existsSync(`tests/e2e/${t}.test.ts`))
    .map((t) => `tests/e2e/${t}.test.ts`)
    .join(' '),
)
