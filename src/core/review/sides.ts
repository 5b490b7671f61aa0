// Both tables of a relationship side by side, and what deleting at one end does at the other.
import { type Catalog, type Relation, relationText, uniqueRules } from '../catalog/index.ts'
import { deletionOf, type EntityId, type EntityModel, type Relationship, rowLinks } from '../model/index.ts'
import { article, splitWords } from '../names/index.ts'

export interface SideColumn {
  readonly name: string
  readonly type: string
  readonly nullable: boolean
  /** What the column is in its table, shortest first: key, unique, refers, or nothing. */
  readonly marks: readonly ('key' | 'unique' | 'refers')[]
  /** The column of the other table that it is paired with. */
  readonly paired: string | null
}

export interface Side {
  readonly entity: string
  readonly table: string
  readonly columns: readonly SideColumn[]
}

function sideOf(relation: Relation, entity: string, own: readonly string[], other: readonly string[]): Side {
  const unique = new Set(uniqueRules(relation).flatMap((u) => (u.columns.length === 1 ? u.columns : [])))
  const refers = new Set(relation.foreignKeys.flatMap((k) => k.columns))
  const columns = relation.columns.map((c): SideColumn => {
    const at = own.indexOf(c.name)
    const key = relation.primaryKey?.columns.includes(c.name) === true
    return {
      name: c.name,
      type: c.type,
      nullable: c.nullable,
      marks: [...(key ? (['key'] as const) : unique.has(c.name) ? (['unique'] as const) : []), ...(refers.has(c.name) ? (['refers'] as const) : [])],
      paired: at < 0 ? null : (other[at] ?? null),
    }
  })
  // What the two are paired by comes first, then the key, then all else in its order.
  const weight = (c: SideColumn) => (c.paired !== null ? 0 : c.marks.includes('key') ? 1 : 2)
  return { entity, table: relationText(relation), columns: columns.toSorted((a, b) => weight(a) - weight(b)) }
}

/** The referencing table first; of a many-to-many the two entities, which their join table pairs with nothing directly. Null where one is not there. */
export function sidesOf(r: Relationship, catalog: Catalog, model: EntityModel): readonly [Side, Side] | null {
  const relationOf = (id: string) => catalog.relations.find((x) => relationText(x) === id)
  const nameOf = (id: string) => model.entities.find((e) => e.id === id)?.name ?? id
  const [from, to] = [relationOf(r.from.entity), relationOf(r.to.entity)]
  if (!from || !to) return null
  const [a, b] = r.through ? [[], []] : [r.from.columns, r.to.columns]
  return [sideOf(from, nameOf(r.from.entity), a, b), sideOf(to, nameOf(r.to.entity), b, a)]
}

/**
 * What happens to the rows at the referencing end when the row they refer to is deleted, what is proposed for the classes, and where the two
 * contradict each other. Empty for a many-to-many: its join rows go with either end.
 */
export function cascadeOf(r: Relationship, catalog: Catalog, model: EntityModel): readonly string[] {
  if (r.through) return []
  const nameOf = (id: string) => splitWords(model.entities.find((e) => e.id === id)?.name ?? id).join(' ')
  const parent = nameOf(r.to.entity)
  const children = r.to.leadsTo === 'any number' ? `its ${splitWords(r.to.property).join(' ')}` : `its ${splitWords(r.to.property).join(' ')}, if any,`
  const deleting = `Deleting ${article(parent)} ${parent}`
  const child = catalog.relations.find((x) => relationText(x) === r.from.entity)
  const key = child?.primaryKey?.columns ?? []
  const part = r.from.leadsTo === 'exactly one' && key.length > r.from.columns.length && r.from.columns.every((c) => key.includes(c))
  const refused = r.onDelete === 'restrict' || r.onDelete === 'no action'
  const said: string[] = []
  if (r.onDelete === 'cascade') said.push(`${deleting} deletes ${children} in the database. Proposed for the classes: the same, left to the database.`)
  else if (r.onDelete === 'set null')
    said.push(`${deleting} leaves ${children} without one: the database empties ${r.from.columns.join(', ')}. Proposed for the classes: the same.`)
  else if (r.onDelete === 'set default')
    said.push(`${deleting} gives ${children} the default of ${r.from.columns.join(', ')}. Proposed for the classes: the same.`)
  else if (refused)
    said.push(
      `${deleting} is refused by the database while there are any of ${children.replace(/,$/, '')}. Proposed for the classes: ${part ? 'they are deleted first' : 'they stay, and the deletion is refused'}.`,
    )
  else
    said.push(
      `${deleting} leaves ${children} pointing nowhere: nothing in the database knows of it. Proposed for the classes: ${part ? 'they are deleted first' : 'they stay'}.`,
    )
  if (refused && part)
    said.push(
      `These contradict each other: the key of ${nameOf(r.from.entity)} holds that of ${parent}, as of a part, yet the database refuses. Deleting through the classes would delete rows that the database protects.`,
    )
  if (r.onDelete === 'set null' && r.from.leadsTo === 'exactly one')
    said.push('These contradict each other: the columns are to be emptied, and do not accept null.')
  if (r.onDelete === 'cascade') {
    const links = rowLinks(catalog, model)
    const held = deletionOf(r.from.entity as EntityId, links).filter((s) => s.effect === 'blocks')
    const by = [...new Set(held.map((s) => s.link.child as string))].sort()
    if (by.length > 0)
      said.push(
        `It stops where rows of ${by.slice(0, 3).join(', ')}${by.length > 3 ? ` and ${by.length - 3} more` : ''} refer to what would go: then the database refuses it all.`,
      )
  }
  return said
}
