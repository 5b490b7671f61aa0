// What saving or deleting a row would send, and in which order: shown, never sent.
import type { Catalog } from '../catalog/index.ts'
import { identQuoter, tableQuoter } from '../dialect/quoting.ts'
import { type EntityId, type EntityModel, type RowLink, rowLinks } from '../model/index.ts'

export interface WriteStep {
  readonly says: string
  /** Null where the database does it by itself, or refuses. */
  readonly sql: string | null
}

export interface Writes {
  readonly save: readonly WriteStep[]
  readonly remove: readonly WriteStep[]
}

/** Of an entity that is only read, both are empty. */
export function writesOf(catalog: Catalog, model: EntityModel, id: string): Writes {
  const entity = model.entities.find((e) => e.id === id)
  if (!entity || entity.readOnly || entity.identity.kind === 'none') return { save: [], remove: [] }
  const quote = identQuoter(catalog.dialect)
  const table = tableQuoter(catalog.dialect)
  const param = (n: number) => (catalog.dialect === 'postgresql' ? `$${n}` : '?')
  const key = entity.identity.columns
  const given = entity.properties.filter((p) => p.written !== 'never')
  const made = entity.properties.filter((p) => p.written !== 'always')
  const settable = given.filter((p) => !key.includes(p.column))
  const byKey = (from: number) => key.map((c, i) => `${quote(c)} = ${param(from + i)}`).join(' and ')
  const links = rowLinks(catalog, model)
  const needs = [...new Set(links.filter((l) => l.child === id && l.parent !== id && !l.optional).map((l) => l.parent))]
  const returning = made.length === 0 ? '' : `\nreturning ${made.map((p) => quote(p.column)).join(', ')}`
  const save: WriteStep[] = [
    ...needs.map((parent) => ({ says: `its row of ${parent} must be there already`, sql: null })),
    {
      says: `a new one${made.length > 0 ? `; what has a default may be left out, and ${made.map((p) => p.name).join(', ')} ${made.length === 1 ? 'is' : 'are'} read back` : ''}`,
      sql: `insert into ${table(entity.relation)} (${given.map((p) => quote(p.column)).join(', ')})\nvalues (${given.map((_, i) => param(i + 1)).join(', ')})${returning}`,
    },
    ...(settable.length === 0
      ? []
      : [
          {
            says: 'one that is stored: only the columns that changed',
            sql: `update ${table(entity.relation)} set ${quote(settable[0]?.column ?? '')} = ${param(1)}${settable.length > 1 ? ', …' : ''}\nwhere ${byKey(2)}`,
          },
        ]),
    ...model.relationships.flatMap((r) => {
      const t = r.through
      if (!t || t.shortcut || (r.from.entity !== id && r.to.entity !== id)) return []
      const columns = [...t.fromColumns, ...t.toColumns]
      const end = r.from.entity === id ? r.from : r.to
      return [
        {
          says: `for each of its ${end.property}`,
          sql: `insert into ${table(t.table)} (${columns.map(quote).join(', ')}) values (${columns.map((_, i) => param(i + 1)).join(', ')})`,
        },
      ]
    }),
  ]
  return { save, remove: [...removal(links, id as EntityId), { says: 'then the row itself', sql: `delete from ${table(entity.relation)} where ${byKey(1)}` }] }
}

/** What happens to rows that refer to it, before it may go. */
function removal(links: readonly RowLink[], id: EntityId): readonly WriteStep[] {
  return links
    .filter((l) => l.parent === id)
    .map((l): WriteStep => {
      const of = `rows of ${l.child} (by ${l.columns.join(', ')})`
      switch (l.onDelete) {
        case 'cascade':
          return { says: `the database deletes ${of}`, sql: null }
        case 'set null':
        case 'set default':
          return { says: `the database sets ${l.columns.join(', ')} of ${l.child} to ${l.onDelete === 'set null' ? 'null' : 'their defaults'}`, sql: null }
        case 'restrict':
        case 'no action':
          return { says: `it is refused while there are ${of}`, sql: null }
        case null:
          return { says: `nothing looks at ${of}: they would point nowhere`, sql: null }
        default:
          return unreachable(l.onDelete)
      }
    })
}

function unreachable(action: never): never {
  throw new Error(`a referential action of no known kind: ${String(action)}`)
}
