// What the emitted code takes for granted of a table, and where the columns lack it: told before anything is written.
import type { EntityModel } from '../../model/index.ts'
import { endsByEntity, isWritable } from './ends.ts'
import { valueTypes } from './valueTypes.ts'

export interface Remark {
  readonly says: string
  /** What it is about, as the code calls it. */
  readonly about: readonly string[]
}

const counted = (n: number, one: string, many: string) => (n === 1 ? `One ${one}` : `${n} ${many}`)

/** In order of how much they take away; those that are about nothing are left out. */
export function conventionRemarks(model: EntityModel): readonly Remark[] {
  const tables = model.entities.filter((e) => !e.kind.includes('view'))
  const written = model.entities.filter((e) => !e.readOnly)
  const names = (list: readonly { readonly name: string }[]) => list.map((e) => e.name)
  const keyless = tables.filter((e) => e.identity.kind === 'none')
  const unversioned = written.filter((e) => !e.properties.some((p) => p.role === 'version'))
  const assigned = written.filter((e) => e.identity.kind === 'primary key' && !e.identity.generated)
  const x = { types: valueTypes(model), entities: new Map(model.entities.map((e) => [e.id as string, e])) }
  const wide = written.filter((e) => e.properties.some((p) => x.types.ofProperty(p).text === 'bigint'))
  const fixed = [...endsByEntity(model)].flatMap(([id, ends]) =>
    ends.flatMap((o) => {
      const e = x.entities.get(id)
      return e && !e.readOnly && o.side === 'from' && !o.relationship.through && !isWritable(o.relationship, x) ? [`${e.name}.${o.end.property}`] : []
    }),
  )
  const renamed = model.diagnostics.flatMap((d) =>
    d.code === 'name-taken' && d.entity !== '' ? [`${x.entities.get(d.entity)?.name ?? d.entity}.${d.got}`] : [],
  )
  return [
    { says: `${counted(keyless.length, 'table has', 'tables have')} no key, so that a row cannot be named: its class is read-only.`, about: names(keyless) },
    {
      says: `${counted(fixed.length, 'reference', 'references')} cannot be given another row: its columns are part of a key, given by the database, or of a type that the other's does not become.`,
      about: fixed,
    },
    {
      says: `${counted(unversioned.length, 'entity has', 'entities have')} no column that counts changes: of two people who write at once the later wins, and the earlier does not hear of it.`,
      about: names(unversioned),
    },
    { says: `${counted(assigned.length, 'entity has', 'entities have')} a key that whoever makes a new one gives.`, about: names(assigned) },
    { says: `${counted(wide.length, 'entity has', 'entities have')} 64-bit integers: JSON.stringify refuses a bigint.`, about: names(wide) },
    { says: `${counted(renamed.length, 'property has', 'properties have')} a number behind its name, as another had the name already.`, about: renamed },
  ].filter((r) => r.about.length > 0)
}
