// What must hold of the script reader for any text: never throws, looks at each character a bounded number of times, and a
// change of one statement reaches no further than what it names. Each check is seeded and throws with what it was given.
import { type Catalog, compareCatalogs } from '../../src/core/catalog/index.ts'
import { readScript, type ScriptResult, type Semantics } from '../../src/core/ddl/index.ts'
import { StatementReader } from '../../src/core/ddl/reader.ts'
import { Scanner } from '../../src/core/ddl/scanner.ts'
import { generator } from './random.ts'

export interface Subject {
  readonly name: string
  readonly text: string
  readonly semantics: Semantics
}

const read = (s: Subject, text: string): ScriptResult => readScript([{ name: s.name, text }], s.semantics)

/** Statements with their places, as the reader cuts them. */
export function statementsOf(s: Subject): readonly { readonly kind: string; readonly from: number; readonly to: number }[] {
  const found: { kind: string; from: number; to: number }[] = []
  const reader = new StatementReader(s.name, s.semantics.lexis, {
    statement: (statement, place) => found.push({ kind: statement.kind, from: place.from, to: place.to }),
    unreadable: () => {},
  })
  reader.feed(s.text, true)
  return found
}

const rubbish = [
  "'",
  '"',
  '`',
  '$$',
  '$x$',
  '/*',
  '*/',
  '--',
  '(',
  ')',
  ';',
  ',',
  '\\',
  '\u0000',
  'é',
  '[',
  ']',
  'CREATE',
  'TABLE',
  'BEGIN',
  'END',
  '\n',
  '.',
  '::',
  '@',
  '{{',
  'DELIMITER //\n',
]

/** A text damaged in a few places. */
export function damaged(text: string, seed: number): string {
  const g = generator(seed)
  let out = text
  for (let n = 1 + g.below(6); n > 0; n -= 1) {
    const at = g.below(out.length)
    const length = g.below(40)
    const what = g.below(4)
    if (what === 0) out = out.slice(0, at) + out.slice(at + length)
    else if (what === 1) out = out.slice(0, at) + out.slice(at, at + length) + out.slice(at)
    else if (what === 2) out = out.slice(0, at) + g.pick(rubbish) + out.slice(at)
    else out = out.slice(0, at)
    if (out === '') return ';'
  }
  return out
}

/** Reads it, and counts the steps of the scanner per character. Throws where either goes wrong. */
export function survives(s: Subject, seed: number): void {
  const text = damaged(s.text, seed)
  const next = Scanner.prototype.next
  let steps = 0
  Scanner.prototype.next = function counted(this: Scanner) {
    steps += 1
    next.call(this)
  }
  try {
    read(s, text)
  } catch (error) {
    throw new Error(`${s.name}, seed ${seed}: ${String(error)}`)
  } finally {
    Scanner.prototype.next = next
  }
  if (steps > 40 * text.length + 1000) throw new Error(`${s.name}, seed ${seed}: ${steps} steps for ${text.length} characters`)
}

const words = (text: string): ReadonlySet<string> => new Set(text.toLowerCase().match(/[\p{L}\p{N}_$]+/gu) ?? [])

/** Objects that differ, and whether each is named by the statement, or mentions something that is. */
function unexplained(was: Catalog, is: Catalog, statement: string): readonly string[] {
  const named = words(statement)
  const listed = (c: Catalog) => [...c.relations, ...c.sequences, ...c.routines, ...c.domains, ...c.composites, ...c.ranges, ...c.objects]
  const all = [...listed(was), ...listed(is)]
  const textOf = (object: string) =>
    all
      .filter((o) => decodeURIComponent(object).includes(o.name))
      .map((o) => JSON.stringify(o))
      .join(' ')
  return compareCatalogs(was, is)
    .map((d) => d.object)
    .filter((object, i, list) => list.indexOf(object) === i)
    .filter((object) => ![...words(`${object} ${textOf(object)}`)].some((w) => named.has(w)))
}

/** Without one statement, only what it names or what depends on that is another. */
export function removalIsLocal(s: Subject, seed: number): void {
  const list = statementsOf(s)
  const k = list[generator(seed).below(list.length)]
  if (!k) return
  const without = read(s, s.text.slice(0, k.from) + s.text.slice(k.to))
  const far = unexplained(read(s, s.text).catalog, without.catalog, s.text.slice(k.from, k.to))
  if (far.length > 0) throw new Error(`${s.name}, seed ${seed}: without the statement at ${k.from} these differ too: ${far.join(', ')}`)
}

/** A second CREATE of the same thing adds one complaint and changes nothing. */
export function repetitionIsTold(s: Subject, seed: number): void {
  const list = statementsOf(s).filter((x) => /^create (table|enum|composite|domain|sequence)$/.test(x.kind))
  const k = list[generator(seed).below(Math.max(1, list.length))]
  if (!k) return
  const statement = s.text.slice(k.from, k.to)
  if (/if\s+not\s+exists|\btemp(orary)?\b/i.test(statement)) return
  const whole = read(s, s.text)
  const twice = read(s, `${s.text.slice(0, k.to)};\n${statement}${s.text.slice(k.to)}`)
  const added = twice.diagnostics.length - whole.diagnostics.length
  const differences = compareCatalogs(whole.catalog, twice.catalog)
  if (added !== 1 || differences.length > 0)
    throw new Error(`${s.name}, seed ${seed}: twice the statement at ${k.from} adds ${added} complaints and ${differences.length} differences`)
}

/** Comments between tokens say nothing; what is kept as written text is left out of the comparison. */
export function commentsAreNothing(s: Subject, seed: number): void {
  const g = generator(seed)
  const scanner = new Scanner(s.text, s.semantics.lexis)
  const places: number[] = []
  for (; scanner.kind !== 'end'; scanner.next()) if (scanner.from > scanner.before && !/[$\\]/.test(s.text[scanner.from] ?? '')) places.push(scanner.from)
  const at = places.filter((p) => !insideData(s, p))[g.below(places.length)]
  if (at === undefined) return
  const comment = g.pick([' /* ; \' " $$ */ ', " -- ; ' CREATE TABLE x (y int);\n", ' /* a\nb */ '])
  const changed = read(s, s.text.slice(0, at) + comment + s.text.slice(at))
  const differences = compareCatalogs(read(s, s.text).catalog, changed.catalog).filter((d) => !/definition/.test(d.field))
  if (differences.length > 0) throw new Error(`${s.name}, seed ${seed}: a comment at ${at} changes ${differences[0]?.object} ${differences[0]?.field}`)
}

/** Rows of COPY and lines for the client program are no tokens. */
function insideData(s: Subject, at: number): boolean {
  const line = s.text.slice(s.text.lastIndexOf('\n', at - 1) + 1, at)
  if (/^\s*(\\|delimiter)/i.test(line)) return true
  const copy = s.text.lastIndexOf('FROM stdin', at)
  return copy >= 0 && s.text.indexOf('\n\\.', copy) > at
}
