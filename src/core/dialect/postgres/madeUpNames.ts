// Names that PostgreSQL makes up for keys, indexes, references, checks and sequences (indexcmds.c, tablecmds.c, pg_constraint.c).
import { at, type Draft, type DraftRelation } from '../../ddl/draft.ts'
import { Scanner } from '../../ddl/scanner.ts'
import type { KeyPart } from '../../ddl/statement.ts'
import { passBrackets } from '../../ddl/text.ts'

/** NAMEDATALEN - 1 */
const longest = 63

/** Length in UTF-8, which is what the server counts. */
const bytes = (text: string): number => {
  let n = 0
  for (const c of text) {
    const p = c.codePointAt(0) as number
    n += p < 0x80 ? 1 : p < 0x800 ? 2 : p < 0x10000 ? 3 : 4
  }
  return n
}

/** The beginning of a text of at most so many bytes, never half a character (mbutils.c, pg_mbcliplen). */
export function clip(text: string, limit: number): string {
  let out = ''
  let n = 0
  for (const c of text) {
    n += bytes(c)
    if (n > limit) break
    out += c
  }
  return out
}

/** `name1_name2_label` within 63 bytes: the longer of the two names gives way (indexcmds.c, makeObjectName). */
export function makeObjectName(name1: string, name2: string | null, label: string): string {
  const overhead = label.length + 1 + (name2 === null ? 0 : 1)
  let n1 = bytes(name1)
  let n2 = name2 === null ? 0 : bytes(name2)
  while (n1 + n2 > longest - overhead) {
    if (n1 > n2) n1 -= 1
    else n2 -= 1
  }
  return [clip(name1, n1), ...(name2 === null ? [] : [clip(name2, n2)]), label].join('_')
}

/** Numbered until it is free (indexcmds.c, ChooseRelationName). */
function firstFree(name1: string, name2: string | null, label: string, taken: (name: string) => boolean): string {
  for (let n = 0; ; n += 1) {
    const name = makeObjectName(name1, name2, n === 0 ? label : `${label}${n}`)
    if (!taken(name)) return name
  }
}

/** Columns joined by `_`, as far as 64 bytes go (indexcmds.c, ChooseIndexNameAddition). */
function joined(columns: readonly string[]): string {
  let out = ''
  for (const c of columns) {
    out += out === '' ? c : `_${c}`
    if (bytes(out) >= 64) break
  }
  return clip(out, 63)
}

const relationTaken = (d: Draft, schema: string, alsoConstraints: boolean) => (name: string) =>
  d.classNames.has(at(schema, name)) || (alsoConstraints && d.constraintNames.has(at(schema, name)))

export function keyName(d: Draft, r: DraftRelation, kind: 'primary key' | 'unique', columns: readonly string[]): string {
  const taken = relationTaken(d, r.schema, true)
  return kind === 'primary key' ? firstFree(r.name, null, 'pkey', taken) : firstFree(r.name, joined(columns), 'key', taken)
}

/** Names of index columns, each once: an expression gives the name its column would have, `expr` where it has none (ChooseIndexColumnNames). */
function indexColumns(d: Draft, parts: readonly KeyPart[], include: readonly string[]): readonly string[] {
  const names: string[] = []
  for (const p of [...parts.map((x) => x.column ?? expressionName(d, x.expression ?? '')), ...include]) {
    let name = p
    for (let n = 1; names.includes(name); n += 1) name = `${clip(p, longest - String(n).length)}${n}`
    names.push(name)
  }
  return names
}

/** `lower(x)` is called lower, a cast by its type, anything else expr (parse_target.c, FigureIndexColname). */
function expressionName(d: Draft, text: string): string {
  const s = new Scanner(text, d.semantics.lexis)
  while (s.isMark('(')) s.next()
  if (s.kind !== 'word' && s.kind !== 'name') return 'expr'
  if (s.is('CASE')) return 'case'
  if (s.is('COALESCE') || s.is('GREATEST') || s.is('LEAST') || s.is('NULLIF')) return s.raw.toLowerCase()
  let name = s.name()
  while (s.acceptMark('.')) name = s.name()
  if (s.isMark('(')) passBrackets(s)
  while (s.isMark(')')) s.next()
  return s.atEnd || s.isMark(':') ? name : 'expr'
}

export function indexName(d: Draft, r: DraftRelation, parts: readonly KeyPart[], include: readonly string[], label: 'idx' | 'excl'): string {
  return firstFree(r.name, joined(indexColumns(d, parts, include)), label, relationTaken(d, r.schema, label === 'excl'))
}

/** `table_a_b_stat`, an expression counted as expr (statscmds.c, ChooseExtendedStatisticName). */
export function statisticsName(d: Draft, r: DraftRelation, columns: readonly (string | null)[]): string {
  const taken = new Set([...d.objects.values()].filter((o) => o.kind === 'statistics object' && o.schema === r.schema).map((o) => o.name))
  return firstFree(r.name, joined(columns.map((c) => c ?? 'expr')), 'stat', (name) => taken.has(d.semantics.quote(name)))
}

export function referenceName(d: Draft, r: DraftRelation, columns: readonly string[]): string {
  return firstFree(r.name, joined(columns), 'fkey', (name) => d.constraintNames.has(at(r.schema, name)))
}

/** With the column's name where the check mentions one column only (heap.c, AddRelationNewConstraints). */
export function checkName(d: Draft, r: DraftRelation, column: string | null): string {
  return firstFree(r.name, column, 'check', (name) => d.constraintNames.has(at(r.schema, name)))
}

export function sequenceName(d: Draft, r: DraftRelation, column: string): string {
  return firstFree(r.name, column, 'seq', relationTaken(d, r.schema, false))
}
