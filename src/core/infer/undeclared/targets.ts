// What columns can refer to: keys of tables, and the kinds of values they hold.
import { type Catalog, type Column, type Relation, relationText, uniqueRules } from '../../catalog/index.ts'
import type { Neutral } from '../../dialect/neutral.ts'
import { neutralType } from '../../dialect/neutralTypes.ts'

/** A key of a table that rows elsewhere can name. */
export interface TargetKey {
  readonly relation: Relation
  /** Address text of the relation. */
  readonly table: string
  readonly primary: boolean
  /** A unique column that the database counts up, beside a primary key that it does not: rows elsewhere name it as well as that. */
  readonly standIn: boolean
  readonly columns: readonly Column[]
}

/** Is it what rows elsewhere usually name? */
export const isMain = (k: TargetKey): boolean => k.primary || k.standIn

/** Does the database count its values up? */
export const countsUp = (c: Column): boolean => c.identity !== null || /^nextval\(/i.test(c.default?.canonical ?? c.default?.written ?? '')

export interface ValueKind {
  readonly family: 'integer' | 'number' | 'text' | 'uuid' | 'bytes' | 'date' | 'boolean' | 'any' | 'other'
  /** The type as the engine spells it, domains resolved. */
  readonly type: string
  /** The length a text is declared with; null for none. */
  readonly length: number | null
}

const families: Readonly<Record<Neutral['kind'], ValueKind['family']>> = {
  integer: 'integer',
  bigint: 'integer',
  decimal: 'number',
  float: 'number',
  text: 'text',
  boolean: 'boolean',
  date: 'date',
  time: 'date',
  'local datetime': 'date',
  instant: 'date',
  interval: 'date',
  bytes: 'bytes',
  uuid: 'uuid',
  json: 'other',
  named: 'other',
  list: 'other',
  other: 'other',
}

/** A test for columns of this catalog; a domain counts as the type it is over. Remembers each spelling. */
export function valueKinds(catalog: Catalog): (c: Column) => ValueKind {
  const domains = new Map(catalog.domains.map((d) => [`${d.schema} ${d.name}`, d.type]))
  const enums = new Set(catalog.enums.map((d) => `${d.schema} ${d.name}`))
  const known = new Map<string, ValueKind>()
  const read = (type: string, depth: number): ValueKind => {
    // SQLite: a column without a type takes anything.
    if (type === '') return { family: 'any', type, length: null }
    const neutral = neutralType(catalog.dialect, type, (t) => domains.has(`${t.schema} ${t.name}`) || enums.has(`${t.schema} ${t.name}`))
    if (neutral.kind === 'named') {
      const under = domains.get(`${neutral.schema} ${neutral.name}`)
      return under !== undefined && depth < 8 ? read(under, depth + 1) : { family: 'other', type, length: null }
    }
    if (neutral.kind === 'other' && /^(numeric|decimal|number)\b/i.test(type)) return { family: 'number', type, length: null }
    const length = /\((\d+)\)/.exec(type)
    const family = neutral.kind === 'decimal' && /\(\d+(,\s*0)?\)/.test(type) ? 'integer' : families[neutral.kind]
    return { family, type, length: length && family === 'text' ? Number(length[1]) : null }
  }
  return (c) => {
    let kind = known.get(c.type)
    if (kind === undefined) {
      kind = read(c.type, 0)
      known.set(c.type, kind)
    }
    return kind
  }
}

/** Keys of tables, the primary key first, each set of columns once. Views have none; neither have keys that hold a column of no comparable kind. */
export function targetKeys(relations: readonly Relation[]): readonly TargetKey[] {
  return relations.flatMap((relation) => {
    if (relation.kind === 'view' || relation.kind === 'materialized view') return []
    const table = relationText(relation)
    const byName = new Map(relation.columns.map((c) => [c.name, c]))
    const seen = new Set<string>()
    const natural = relation.primaryKey?.columns.every((n) => !byName.has(n) || !countsUp(byName.get(n) as Column)) ?? false
    return uniqueRules(relation).flatMap((u): TargetKey[] => {
      const text = u.columns.toSorted().join(' ')
      const columns = u.columns.flatMap((n) => byName.get(n) ?? [])
      if (seen.has(text) || columns.length === 0 || columns.length !== u.columns.length) return []
      seen.add(text)
      const primary = u.kind === 'primary key'
      return [{ relation, table, primary, standIn: !primary && natural && columns.length === 1 && columns.every(countsUp), columns }]
    })
  })
}
