// Equalities between columns in the text of views and routines: what people join by, they mean to refer by. The text is not parsed as
// any one dialect's SQL, only read for names that are tables, the names they go by, and `a.x = b.y` or USING (x).
import { type Catalog, type Relation, relationText } from '../../catalog/index.ts'

/** A column of one table set equal to one of another, in the given number of texts. */
export interface JoinedPair {
  readonly left: { readonly table: string; readonly column: string }
  readonly right: { readonly table: string; readonly column: string }
  /** Which row of conditions of which text, joined by AND: pairs of one row may make up a key together. */
  readonly run?: string
}

/** Strings and comments go as one piece each, so that nothing in them is read. */
const pieces = /'(?:[^']|'')*'|--[^\n]*|\/\*[\s\S]*?(?:\*\/|$)|"(?:[^"]|"")+"|`[^`]+`|\[[A-Za-z_][\w $]*\]|[A-Za-z_\u0080-\uffff][\w$\u0080-\uffff]*|[.=,;]/g
const casts = /::\s*"?\w+"?(?: varying| precision| with(?:out)? time zone)?(?:\(\d+(?:,\s*\d+)?\))?(?:\[\])?/g
/** Words that stand behind a table and are not its other name. */
const notNames = new Set(
  'on where join left right inner outer full cross natural using group order having union intersect except limit set select from as and or when then begin end loop values returning for offset window into'.split(
    ' ',
  ),
)
const isName = (t: string | undefined): t is string => t !== undefined && /^["`[A-Za-z_\u0080-\uffff]/.test(t)
const plain = (t: string) => (/^["`[]/.test(t) ? t.slice(1, -1).replaceAll('""', '"') : t).toLowerCase()

/** Tables by lower-case name, with and without their schema; a bare name that several schemas have leads to the first. */
function tablesByName(relations: readonly Relation[]): ReadonlyMap<string, Relation> {
  const found = new Map<string, Relation>()
  for (const r of relations) {
    const name = r.name.toLowerCase()
    if (!found.has(name)) found.set(name, r)
    found.set(`${r.schema.toLowerCase()}.${name}`, r)
  }
  return found
}

/** All pairs that views and routines of a catalog join by, each once per text. O(length of the texts). */
export function joinedPairs(catalog: Catalog, relations: readonly Relation[]): readonly JoinedPair[] {
  const texts = [...catalog.relations.flatMap((r) => (r.definition ? [r.definition.written] : [])), ...catalog.routines.map((r) => r.definition.written)]
  return pairsInTexts(texts, relations)
}

/** The same for statements from elsewhere: of an application, of a server's statistics. */
export function pairsInTexts(texts: readonly string[], relations: readonly Relation[]): readonly JoinedPair[] {
  const tables = tablesByName(relations)
  return texts.flatMap((text, i) => pairsIn(text, tables).map((p) => ({ ...p, run: `${i} ${p.run}` })))
}

/**
 * Columns of the new row that a trigger looks up in another table, where it raises. The text is the trigger's own or that of the routine
 * it calls (PostgreSQL manual 39.1, RAISE 43.9; SQLite, CREATE TRIGGER, RAISE; MySQL, SIGNAL). O(length of the texts).
 */
export function raisedPairs(catalog: Catalog, relations: readonly Relation[]): readonly JoinedPair[] {
  const tables = tablesByName(relations)
  const routines = new Map(catalog.routines.map((r) => [r.name.toLowerCase(), r.definition.written]))
  let texts = 0
  return relations.flatMap((r) =>
    r.triggers.flatMap((t) => {
      const called = /\bEXECUTE\s+(?:FUNCTION|PROCEDURE)\s+(?:[\w"]+\.)?"?(\w+)"?/i.exec(t.definition.written)?.[1]
      const text = called === undefined ? t.definition.written : (routines.get(called.toLowerCase()) ?? '')
      if (!/\b(raise|signal)\b/i.test(text)) return []
      const own = relationText(r)
      texts += 1
      return pairsIn(text, tables, r).flatMap((p) => ((p.left.table === own) !== (p.right.table === own) ? [{ ...p, run: `${texts} ${p.run}` }] : []))
    }),
  )
}

/** Counts rows of conditions: an equality that follows another one behind AND is of the same row. */
function runs(tokens: readonly string[]): (sign: number, left: boolean, right: boolean) => number {
  let run = 0
  let ended = -1
  return (sign, left, right) => {
    const before = sign - (left ? 4 : 2)
    if (before !== ended || tokens[before]?.toLowerCase() !== 'and') run += 1
    ended = sign + (right ? (tokens[sign + 4] === '.' ? 6 : 4) : 2)
    return run
  }
}

/** `newRow`: the table whose row NEW is. */
function pairsIn(text: string, tables: ReadonlyMap<string, Relation>, newRow: Relation | null = null): readonly JoinedPair[] {
  if (!/=|using/i.test(text)) return []
  const tokens = (text.replace(casts, '').match(pieces) ?? []).filter((t) => !/^(?:'|--|\/\*)/.test(t))
  const named = namesIn(tokens, tables)
  if (named.size === 0) return []
  const known = newRow ? new Map([...named, ['new', new Set([newRow])]]) : named
  const found = new Map<string, JoinedPair>()
  const runOf = runs(tokens)
  const add = (a: Side, b: Side, run: number) => {
    if (a.table !== b.table || a.column !== b.column) found.set(JSON.stringify([a, b, run]), { left: a, right: b, run: `${run}` })
  }
  for (let i = 0; i < tokens.length; i += 1) {
    if (tokens[i] === '=') {
      const left = sideBefore(tokens, i)
      const right = sideAfter(tokens, i)
      const run = runOf(i, left !== null, right !== null)
      const of = (side: readonly [string, string] | null, other: readonly [string, string] | null, bare: string | undefined) =>
        side ? sidesOf(known, side) : other?.[0] === 'new' && isName(bare) ? bareSides(named, plain(bare), newRow) : []
      for (const a of of(left, right, tokens[i - 1])) for (const b of of(right, left, tokens[i + 1])) add(a, b, run)
    }
    if (tokens[i]?.toLowerCase() === 'using') for (const [a, b] of usingPairs(tokens, i, tables)) add(a, b, -i)
  }
  return [...found.values()]
}

/** A column without its table, where one table of the text has it; that of the new row is named as what the trigger is on. */
function bareSides(named: ReadonlyMap<string, ReadonlySet<Relation>>, column: string, newRow: Relation | null): readonly Side[] {
  const all = new Set([...named.values()].flatMap((list) => [...list]))
  const having = [...all].filter((r) => r !== newRow && columnOf(r, column) !== undefined)
  return having.length === 1 ? having.map((r) => ({ table: relationText(r), column: columnOf(r, column) as string })) : []
}

interface Side {
  readonly table: string
  readonly column: string
}

/** By what names the tables of a text go: their own, and the one behind them. A name may stand for several in one text. */
function namesIn(tokens: readonly string[], tables: ReadonlyMap<string, Relation>): ReadonlyMap<string, ReadonlySet<Relation>> {
  const known = new Map<string, Set<Relation>>()
  const put = (name: string, r: Relation) => known.set(name, (known.get(name) ?? new Set()).add(r))
  for (let i = 0; i < tokens.length; i += 1) {
    const at = tableAt(tokens, i, tables)
    if (!at) continue
    put(at.relation.name.toLowerCase(), at.relation)
    const next = tokens[at.end]?.toLowerCase() === 'as' ? tokens[at.end + 1] : tokens[at.end]
    if (isName(next) && !notNames.has(next.toLowerCase())) put(plain(next), at.relation)
    i = at.end - 1
  }
  return known
}

/** The table named at a token that is no part of a longer name. */
function tableAt(tokens: readonly string[], i: number, tables: ReadonlyMap<string, Relation>): { readonly relation: Relation; readonly end: number } | null {
  const first = tokens[i]
  if (!isName(first) || tokens[i - 1] === '.') return null
  const second = tokens[i + 1] === '.' ? tokens[i + 2] : undefined
  const long = isName(second) ? tables.get(`${plain(first)}.${plain(second)}`) : undefined
  if (long) return { relation: long, end: i + 3 }
  const short = second === undefined ? tables.get(plain(first)) : undefined
  return short ? { relation: short, end: i + 1 } : null
}

/** `[name of the table, column]` that ends before, or begins behind, the sign. */
function sideBefore(tokens: readonly string[], i: number): readonly [string, string] | null {
  const [table, dot, column] = [tokens[i - 3], tokens[i - 2], tokens[i - 1]]
  return dot === '.' && isName(table) && isName(column) ? [plain(table), plain(column)] : null
}
function sideAfter(tokens: readonly string[], i: number): readonly [string, string] | null {
  const long = tokens[i + 4] === '.' ? 2 : 0
  const [table, dot, column] = [tokens[i + 1 + long], tokens[i + 2 + long], tokens[i + 3 + long]]
  return dot === '.' && isName(table) && isName(column) ? [plain(table), plain(column)] : null
}

const columnOf = (r: Relation, name: string) => r.columns.find((c) => c.name.toLowerCase() === name)?.name

function sidesOf(known: ReadonlyMap<string, ReadonlySet<Relation>>, [table, column]: readonly [string, string]): readonly Side[] {
  return [...(known.get(table) ?? [])].flatMap((r) => {
    const name = columnOf(r, column)
    return name === undefined ? [] : [{ table: relationText(r), column: name }]
  })
}

/** JOIN b USING (x): x of b and x of the nearest table before that has it. */
function usingPairs(tokens: readonly string[], i: number, tables: ReadonlyMap<string, Relation>): readonly (readonly [Side, Side])[] {
  const before: Relation[] = []
  for (let j = i - 1; j >= 0 && before.length < 8; j -= 1) {
    const at = tableAt(tokens, j, tables)
    if (at) before.push(at.relation)
    if (tokens[j] === ';') break
  }
  const [joined, ...others] = before
  if (!joined) return []
  const pairs: (readonly [Side, Side])[] = []
  for (let j = i + 1; isName(tokens[j]); j += tokens[j + 1] === ',' ? 2 : tokens.length) {
    const name = plain(tokens[j] as string)
    const own = columnOf(joined, name)
    const other = others.find((r) => r !== joined && columnOf(r, name) !== undefined)
    if (own !== undefined && other)
      pairs.push([
        { table: relationText(joined), column: own },
        { table: relationText(other), column: columnOf(other, name) as string },
      ])
  }
  return pairs
}
