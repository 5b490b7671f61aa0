// Where changes are put while a notation is gone over, and what cannot be one.
import { type Relation, relationText } from '../catalog/index.ts'
import type { SchemaEdit } from '../change/schemaEdit.ts'
import type { Edit } from '../model/index.ts'
import type { ChangeIs, NotationChange } from './changes.ts'
import type { Place } from './syntax.ts'
import type { NotationBase, World } from './world.ts'

export class Differ {
  readonly changes: NotationChange[] = []

  constructor(
    readonly w: World,
    readonly base: NotationBase,
    /** The notation is all there is: what it does not state is not so. */
    readonly whole: boolean,
  ) {}

  add(at: Place, of: string, before: string | null, after: string | null, is: ChangeIs): void {
    this.changes.push({ at, of, before, after, is })
  }
  edit(at: Place, of: string, before: unknown, edit: Edit): void {
    this.add(at, of, shown(before), shown(edit.value), { kind: 'edit', edit })
  }
  schema(at: Place, of: string, before: string | null, after: string | null, edit: SchemaEdit): void {
    if (this.base.planned.some((e) => same(e, edit))) return
    if (this.base.catalog.dialect === 'postgresql') this.add(at, of, before, after, { kind: 'schema', edit })
    else
      this.w.complain({
        code: 'not-here',
        at,
        what: `${of} is ${after ?? 'without it'} here, and ${before ?? 'not so'} in the database`,
        instead: 'changes of the database are planned for PostgreSQL only',
      })
  }
  /** As it is in the database, with what is left out of the scope. */
  unscoped(id: string): Relation | undefined {
    this.all ??= new Map(this.base.whole.relations.map((r) => [relationText(r), r]))
    return this.all.get(id)
  }
  private all: ReadonlyMap<string, Relation> | null = null

  refuse(at: Place, what: string, instead: string): void {
    this.w.complain({ code: 'not-here', at, what, instead })
  }
  facet = <F extends Edit['facet']>(facet: F, subject: string) => this.base.facets.get(facet, subject)
}

/** The value of a facet for people. */
function shown(value: unknown): string | null {
  if (value === null || value === undefined) return null
  if (typeof value === 'string') return value
  if (Array.isArray(value)) return value.join(', ')
  const v = value as Readonly<Record<string, unknown>>
  if (typeof v['yes'] === 'string') return `${v['yes']} is yes, ${String(v['no'])} is no`
  if (typeof v['name'] === 'string') return v['name']
  if (Array.isArray(v['targets'])) return `rows of ${v['targets'].map((t: { readonly table: string }) => t.table).join(', ') || 'tables that are not said'}`
  return JSON.stringify(value)
}
export const same = (a: unknown, b: unknown) => JSON.stringify(a ?? null) === JSON.stringify(b ?? null)
