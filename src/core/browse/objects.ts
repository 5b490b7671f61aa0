// Everything a snapshot has, as lines of one list.
import { type Catalog, compareParts, type Relation, relationText } from '../catalog/index.ts'

/** Kinds as people filter by them. */
export const objectGroups = ['tables', 'views', 'routines', 'types', 'sequences', 'others'] as const
export type ObjectGroup = (typeof objectGroups)[number]

export interface ObjectRow {
  /** Tells it apart within a snapshot, and stands in the address of its page. */
  readonly id: string
  readonly group: ObjectGroup
  readonly kind: string
  readonly schema: string
  readonly name: string
  /** `7 columns`, `(integer, text)`. */
  readonly says: string
  readonly comment: string | null
}

const plural = (n: number, word: string) => `${n} ${word}${n === 1 ? '' : 's'}`
const isView = (r: Relation) => r.kind === 'view' || r.kind === 'materialized view'
const at = (kind: string, o: { readonly schema: string; readonly name: string }) => `${kind} ${relationText(o)}`

/** In order of schema, then name, whatever the kind; objects of the whole database first. O(objects log objects). */
export function objectRows(c: Catalog): readonly ObjectRow[] {
  const row = (
    group: ObjectGroup,
    kind: string,
    o: { readonly schema: string; readonly name: string; readonly comment: string | null },
    says: string,
    id = at(kind, o),
  ): ObjectRow => ({
    id,
    group,
    kind,
    schema: o.schema,
    name: o.name,
    says,
    comment: o.comment,
  })
  const rows = [
    ...c.relations.map((r) => row(isView(r) ? 'views' : 'tables', r.kind, r, plural(r.columns.length, 'column'), relationText(r))),
    ...c.routines.map((r) => row('routines', r.kind, r, `(${r.argumentTypes})`, `routine ${relationText(r)}(${r.argumentTypes})`)),
    ...c.enums.map((t) => row('types', 'enumerated type', t, plural(t.labels.length, 'label'))),
    ...c.domains.map((t) => row('types', 'domain', t, `over ${t.type}`)),
    ...c.composites.map((t) => row('types', 'composite type', t, plural(t.attributes.length, 'attribute'))),
    ...c.ranges.map((t) => row('types', 'range type', t, `over ${t.subtype}`)),
    ...c.sequences.map((s) => row('sequences', 'sequence', s, s.options.type)),
    ...c.objects.map((o) => row('others', o.kind, o, '')),
    ...c.extensions.map((e) =>
      row('others', 'extension', { schema: '', name: e.name, comment: e.comment }, `version ${e.version || 'not said'}, in ${e.schema}`),
    ),
    ...c.schemas.map((s) => row('others', 'schema', { schema: '', name: s.name, comment: s.comment }, '')),
    ...c.unmodelled.map((u) => row('others', u.kind, { schema: '', name: u.identity, comment: null }, 'not modelled')),
  ]
  return rows.sort((a, b) => compareParts([a.schema, a.name, a.id], [b.schema, b.name, b.id]))
}

/** Does a row match what is typed: every word of it in the name, the schema, the kind or the comment? */
export function matchesObject(row: ObjectRow, search: string): boolean {
  const text = `${row.schema}.${row.name} ${row.kind} ${row.comment ?? ''}`.toLowerCase()
  return search
    .toLowerCase()
    .split(/\s+/)
    .every((w) => text.includes(w))
}
