// ALTER INDEX on the draft.
import { at, type Draft, type DraftRelation, dropIndexName, keysOf, lookup, partitionsOf, putIndexName, shown } from './draft.ts'
import { indexOf } from './makeOther.ts'
import type { StatementOf } from './statement.ts'

export function alterIndexAsTable(d: Draft, s: StatementOf<'alter table'>): void {
  const schemas = s.table.schema === null ? [...d.searchPath, d.semantics.defaultSchema] : [s.table.schema]
  const schema = schemas.find((x) => d.tableOfIndex.has(at(x, s.table.name)))
  const r = schema === undefined ? undefined : d.relations.get(d.tableOfIndex.get(at(schema, s.table.name)) ?? '')
  if (!r) {
    if (!s.ifExists) d.complain({ code: 'unknown-object', what: 'index', name: shown(s.table) })
    return
  }
  for (const a of s.actions) {
    const index = r.indexes.find((x) => x.name === s.table.name)
    if (a.kind === 'rename') renameIndex(d, r, s.table.name, a.to.name)
    else if (a.kind === 'options' && index) index.options = changedOptions(index.options, a.set, a.reset)
  }
}

export function renameIndex(d: Draft, r: DraftRelation, from: string, to: string): void {
  const own = [...r.indexes, ...keysOf(r)].find((x) => x.name === from)
  if (!own) return d.complain({ code: 'unknown-object', what: 'index', name: from })
  dropIndexName(d, r, from)
  own.name = to
  putIndexName(d, r, to)
  for (const p of partitionsOf(d, r)) for (const x of [...p.indexes, ...keysOf(p)]) if (x.attachedTo === from) x.attachedTo = to
  if (r.replicaIdentity.kind === 'index' && r.replicaIdentity.index === from) r.replicaIdentity = { kind: 'index', index: to }
}

export const changedOptions = (have: readonly string[], set: readonly string[], reset: readonly string[]): string[] => {
  const nameOf = (o: string) => o.split('=')[0] as string
  const gone = new Set([...set, ...reset].map(nameOf))
  return [...have.filter((o) => !gone.has(nameOf(o))), ...set].sort()
}

export function alterIndex(d: Draft, s: StatementOf<'alter index'>): void {
  if (s.action.kind === 'statistics') {
    const index = indexOf(d, s.name)
    if (index)
      index.statistics = [
        ...index.statistics.filter((x) => x.position !== (s.action as { position: number }).position),
        { position: s.action.position, target: s.action.target },
      ]
    return
  }
  const child = s.action.index
  const schemas = child.schema === null ? [...d.searchPath, d.semantics.defaultSchema] : [child.schema]
  for (const schema of schemas) {
    const r = d.relations.get(d.tableOfIndex.get(at(schema, child.name)) ?? '')
    const own = r ? [...r.indexes, ...keysOf(r)].find((x) => x.name === child.name) : undefined
    if (!r || !own) continue
    own.attachedTo = s.name.name
    const parent = indexOf(d, s.name)
    const whole = r.partitionOf ? lookup(d, d.relations, r.partitionOf.parent) : undefined
    const attached = (p: DraftRelation) => [...p.indexes, ...keysOf(p)].some((x) => x.attachedTo === s.name.name)
    if (parent && whole) parent.valid = partitionsOf(d, whole).every(attached)
    return
  }
  d.complain({ code: 'unknown-object', what: 'index', name: shown(child) })
}
