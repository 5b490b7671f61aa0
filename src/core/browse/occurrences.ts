// Where else does this column name occur, with which types, in which keys? The question asked most in legacy work.
import { type Catalog, compareParts, type Relation, relationText } from '../catalog/index.ts'

export interface Occurrence {
  /** Address text of the relation. */
  readonly relation: string
  readonly kind: Relation['kind']
  readonly column: string
  readonly type: string
  readonly nullable: boolean
  readonly default: string | null
  /** `primary key`, `part 2 of primary key`, `unique`, `refers to field.bay (id)`, `index crate_by_bay`. */
  readonly keys: readonly string[]
  readonly comment: string | null
  /** How it differs from what most of the others have; empty where it does not. */
  readonly mismatches: readonly string[]
}

export interface Occurrences {
  readonly name: string
  readonly list: readonly Occurrence[]
  /** Types with how often they occur, the most frequent first. */
  readonly types: readonly (readonly [string, number])[]
  /** Other column names that are the same but for case and signs: `bayId`, `BAY_ID`. */
  readonly alike: readonly string[]
}

/** What two spellings of a name have in common. */
export const plainName = (name: string): string => name.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '')

function keysOf(r: Relation, column: string): readonly string[] {
  const place = (columns: readonly string[], word: string) => {
    const i = columns.indexOf(column)
    return i < 0 ? [] : [columns.length === 1 ? word : `part ${i + 1} of ${word} (${columns.join(', ')})`]
  }
  return [
    ...(r.primaryKey ? place(r.primaryKey.columns, 'primary key') : []),
    ...r.uniques.flatMap((u) => place(u.columns, 'unique')),
    ...r.foreignKeys.flatMap((k) => {
      const i = k.columns.indexOf(column)
      return i < 0 ? [] : [`refers to ${relationText({ schema: k.target.schema, name: k.target.table })} (${k.target.columns[i]})`]
    }),
    ...r.indexes.filter((x) => x.columns[0]?.column === column).map((x) => `index ${x.name}`),
  ]
}

/** Tallies values, the most frequent first; ties in order of the text. */
function tally(values: readonly string[]): readonly (readonly [string, number])[] {
  const n = new Map<string, number>()
  for (const v of values) n.set(v, (n.get(v) ?? 0) + 1)
  return [...n].sort((a, b) => b[1] - a[1] || compareParts([a[0]], [b[0]]))
}

/** Where most agree, the rest differs; where no answer has more than the others, nobody does. */
function usual(values: readonly string[]): string | null {
  const [first, second] = tally(values)
  return first && (!second || first[1] > second[1]) ? first[0] : null
}

/** Every column of this name, case and signs aside where `exact` finds none; partitions are left to their parents. O(columns). */
export function occurrencesOf(c: Catalog, name: string): Occurrences {
  const relations = c.relations.filter((r) => r.kind !== 'partition')
  const plain = plainName(name)
  const all = relations.flatMap((r) => r.columns.filter((x) => plainName(x.name) === plain).map((column) => ({ r, column })))
  const exact = all.filter((x) => x.column.name === name)
  const found = exact.length > 0 ? exact : all
  const stored = found.filter((x) => x.r.kind !== 'view' && x.r.kind !== 'materialized view')
  const type = usual((stored.length > 0 ? stored : found).map((x) => x.column.type))
  const target = usual(stored.flatMap((x) => targetsOf(x.r, x.column.name)))
  const referring = target === null ? 0 : stored.filter((x) => targetsOf(x.r, x.column.name).includes(target)).length
  /** Half of them or more refer there: one that refers nowhere is worth a look. The column referred to, and views, refer nowhere by nature. */
  const lacks = (r: Relation) =>
    target !== null && referring * 2 >= stored.length && relationText(r) !== target && r.kind !== 'view' && r.kind !== 'materialized view'
  const list = found.map(({ r, column }): Occurrence => {
    const own = targetsOf(r, column.name)
    return {
      relation: relationText(r),
      kind: r.kind,
      column: column.name,
      type: column.type,
      nullable: column.nullable,
      default: column.default?.written ?? null,
      keys: keysOf(r, column.name),
      comment: column.comment,
      mismatches: [
        ...(type !== null && column.type !== type ? [`its type is ${column.type}, most are ${type}`] : []),
        ...(own.length === 0 && lacks(r) ? [`it refers to nothing, most refer to ${target}`] : []),
        ...(target !== null && own.length > 0 && !own.includes(target) ? [`it refers to ${own.join(', ')}, most refer to ${target}`] : []),
      ],
    }
  })
  return {
    name,
    list: list.sort((a, b) => compareParts([a.relation, a.column], [b.relation, b.column])),
    types: tally(found.map((x) => x.column.type)),
    alike: [...new Set(all.map((x) => x.column.name))].filter((n) => n !== name && exact.length > 0).sort(),
  }
}

const targetsOf = (r: Relation, column: string): readonly string[] =>
  r.foreignKeys.filter((k) => k.columns.includes(column)).map((k) => relationText({ schema: k.target.schema, name: k.target.table }))

/** Column names with how many relations have them, the most frequent first; for a palette. */
export function columnNames(c: Catalog): readonly (readonly [string, number])[] {
  return tally(c.relations.filter((r) => r.kind !== 'partition').flatMap((r) => r.columns.map((x) => x.name)))
}
