// Objects that move to another name or schema, with all that names them.
import { moveSequence } from './changeSequence.ts'
import { moveType } from './changeType.ts'
import { at, type Draft, type DraftRelation, dropIndexName, getRelation, keyOf, keysOf, putIndexName, relationKey, shown } from './draft.ts'
import { moveObject } from './makeObject.ts'
import { findRoutine, routineKey } from './routineText.ts'
import type { StatementOf } from './statement.ts'

export function moveRelation(d: Draft, r: DraftRelation, schema: string, name: string): void {
  const oldKey = keyOf(d, r)
  const old = { schema: r.schema, name: r.name }
  const is = (a: { schema: string; name: string }) => relationKey(d, a.schema, a.name) === oldKey
  for (const other of d.relations.values()) {
    for (const f of other.foreignKeys) if (is({ schema: f.target.schema, name: f.target.table })) f.target = { ...f.target, schema, table: name }
    if (other.partitionOf && is(other.partitionOf.parent)) other.partitionOf.parent = { schema, name }
    other.inherits = other.inherits.map((p) => (is(p) ? { schema, name } : p))
  }
  for (const q of d.sequences.values())
    if (q.ownedBy && is({ schema: q.ownedBy.schema, name: q.ownedBy.table })) q.ownedBy = { ...q.ownedBy, schema, table: name }
  for (const x of [...r.indexes, ...keysOf(r)]) dropIndexName(d, r, x.name)
  d.classNames.delete(at(old.schema, old.name))
  d.relations.delete(oldKey)
  for (const c of r.columns) if (c.identity?.sequence && schema !== old.schema) c.identity.sequence = { ...c.identity.sequence, schema }
  r.schema = schema
  r.name = name
  d.children = null
  d.relations.set(keyOf(d, r), r)
  d.classNames.add(at(schema, name))
  for (const x of [...r.indexes, ...keysOf(r)]) putIndexName(d, r, x.name)
}

export function renameOther(d: Draft, s: StatementOf<'rename other'>): void {
  if (s.what === 'schema') return renameSchema(d, s.name.name, s.to)
  if (s.what === 'routine') {
    const found = findRoutine(d, s.name, s.argumentTypes)
    if (!found) return d.complain({ code: 'unknown-object', what: 'routine', name: shown(s.name) })
    d.routines.delete(found.key)
    if (s.schema) found.routine.schema = s.to
    else found.routine.name = s.to
    d.routines.set(routineKey(found.routine), found.routine)
    return
  }
  const r = s.table ? getRelation(d, s.table, 'table') : null
  const list = s.what === 'trigger' ? r?.triggers : r?.rules
  const found = list?.find((t) => t.name === s.name.name)
  if (found) found.name = s.to
  else if (r) d.complain({ code: 'unknown-object', what: s.what, name: s.name.name })
}

function renameSchema(d: Draft, from: string, to: string): void {
  const schema = d.schemas.get(from)
  if (!schema) return d.complain({ code: 'unknown-object', what: 'schema', name: from })
  d.schemas.delete(from)
  d.schemas.set(to, { ...schema, name: to })
  for (const r of [...d.relations.values()]) if (r.schema === from) moveRelation(d, r, to, r.name)
  for (const o of [...d.objects.values()]) if (o.schema === from) moveObject(d, o, to)
  for (const q of [...d.sequences.values()]) if (q.schema === from) moveSequence(d, q, to, q.name)
  for (const t of [...d.enums.values(), ...d.domains.values(), ...d.composites.values(), ...d.ranges.values()])
    if (t.schema === from) moveType(d, t, to, t.name)
}
