// What the columns of a view refer to: the tables whose keys it gives, and what their own columns refer to.
import { type Catalog, columnsText, type Relation, relationText, uniqueRules } from '../catalog/index.ts'
import { isView, type Origin, viewLineages } from '../views/index.ts'

/** A reference of a table, whatever speaks for it. */
interface TableReference {
  readonly child: Relation
  readonly parent: Relation
  readonly columns: readonly string[]
  readonly targetColumns: readonly string[]
  readonly confidence: number
}

export interface LineageReference extends TableReference {
  readonly subject: string
  readonly declared: readonly []
  readonly says: string
}

/** References of tables less sure than this are not passed on to views: they are asked about once, at the table. */
const passedOnFrom = 0.9

/** In order of view, the keys of its own tables first. O(columns of views × references of their tables). */
export function viewReferences(
  catalog: Catalog,
  relations: readonly Relation[],
  byText: ReadonlyMap<string, Relation>,
  ofTables: readonly TableReference[],
): readonly LineageReference[] {
  const lineages = viewLineages(catalog)
  const byChild = new Map<Relation, TableReference[]>()
  for (const r of ofTables) if (r.confidence >= passedOnFrom) byChild.set(r.child, [...(byChild.get(r.child) ?? []), r])
  return relations.filter(isView).flatMap((view) => {
    const columns = lineages.get(relationText(view))?.columns ?? new Map<string, Origin>()
    const places = new Map<string, { readonly relation: Relation; readonly given: Map<string, string> }>()
    for (const [name, o] of columns) {
      const place = places.get(`${o.place} ${relationText(o.relation)}`) ?? { relation: o.relation, given: new Map<string, string>() }
      if (!place.given.has(o.column)) place.given.set(o.column, name)
      places.set(`${o.place} ${relationText(o.relation)}`, place)
    }
    const found: LineageReference[] = []
    const add = (parent: Relation, own: readonly string[], targetColumns: readonly string[], confidence: number, says: string) => {
      if (!byText.has(relationText(parent)) || own.length === 0) return
      if (found.some((f) => f.parent === parent && f.columns.length === own.length && f.columns.every((c) => own.includes(c)))) return
      const text = columnsText(view, own.toSorted())
      const subject = found.some((f) => f.subject === text) ? `${text}>${columnsText(parent, targetColumns)}` : text
      found.push({ subject, child: view, parent, columns: own, targetColumns, declared: [], confidence, says })
    }
    const given = (place: { readonly given: ReadonlyMap<string, string> }, list: readonly string[]) => {
      const own = list.flatMap((c) => place.given.get(c) ?? [])
      return own.length === list.length ? own : []
    }
    for (const place of places.values()) {
      const [key] = uniqueRules(place.relation)
      if (key && given(place, key.columns).length > 0)
        add(place.relation, given(place, key.columns), key.columns, 1, `the view gives ${key.columns.join(', ')} of ${shown(place.relation)} as it is`)
    }
    for (const place of places.values())
      for (const r of byChild.get(place.relation) ?? [])
        add(
          r.parent,
          given(place, r.columns),
          r.targetColumns,
          r.confidence,
          `the view gives ${r.columns.join(', ')} of ${shown(place.relation)} as it is, which refers to ${shown(r.parent)}`,
        )
    return found
  })
}

const shown = (r: Relation) => (r.schema === '' ? r.name : `${r.schema}.${r.name}`)
