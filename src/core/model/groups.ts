// Columns that stand together in many tables: which groups are said, and which entities have them alike.
import { compareText } from '../catalog/index.ts'
import type { ColumnGroup, Entity, Property } from './entityModel.ts'
import type { Facets } from './facets.ts'

export interface SaidGroup {
  readonly columns: readonly string[]
  readonly name: string
}

const prefix = 'columns:'

/** Larger groups first, then in order of their columns. */
export function groupsSaid(facets: Facets): readonly SaidGroup[] {
  return [...facets.subjects('columns.group')]
    .flatMap((subject) => {
      const value = facets.get('columns.group', subject)
      return value ? [{ ...value, columns: subject.slice(prefix.length).split(',') }] : []
    })
    .sort((a, b) => b.columns.length - a.columns.length || compareText(a.columns.join(), b.columns.join()))
}

/** As its members see a property: all that its type in the code follows from. */
const shape = (p: Property) =>
  `${p.name}\n${p.type}\n${p.nullable} ${p.written === 'never'} ${p.target}${p.values || p.flag ? JSON.stringify([p.values, p.flag]) : ''}`

/** The entities that have a group's columns under the same names and types, the most that agree; fewer than two make no group. */
export function groupsOf(said: readonly SaidGroup[], entities: readonly Entity[], claim: (wanted: string) => string): readonly ColumnGroup[] {
  return said.flatMap((g) => {
    const alike = new Map<string, Entity[]>()
    for (const e of entities) {
      const own = g.columns.map((c) => e.properties.find((p) => p.column === c))
      if (e.readOnly || own.some((p) => p === undefined)) continue
      const key = own.map((p) => shape(p as Property)).join('\n')
      alike.set(key, [...(alike.get(key) ?? []), e])
    }
    const most = [...alike.values()].sort((a, b) => b.length - a.length || compareText(a[0]?.id ?? '', b[0]?.id ?? ''))[0]
    if (!most || most.length < 2) return []
    return [{ typeName: claim(g.name), columns: g.columns, entities: most.map((e) => e.id) }]
  })
}
