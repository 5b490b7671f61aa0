// pg_depend, told by name: which other objects must exist before an object can be created (manual 5.14 and 54.18).
import type { Dependency } from '../../core/catalog/index.ts'
import type { Fetched, Oid } from './rows.ts'

/** What can be needed, by `catalog oid`. */
function targetsOf(f: Fetched): ReadonlyMap<string, Dependency> {
  const targets = new Map<string, Dependency>()
  const put = (catalog: string, oid: Oid, d: Dependency) => targets.set(`${catalog} ${oid}`, d)
  for (const r of f.relations)
    put('pg_class', r.oid, r.kind === 'c' ? { kind: 'type', schema: r.schema, name: r.name } : { kind: 'relation', schema: r.schema, name: r.name })
  for (const s of f.sequences) if (s.ownerKind !== 'i') put('pg_class', s.oid, { kind: 'sequence', schema: s.schema, name: s.name })
  for (const t of [...f.enums, ...f.domains, ...f.ranges]) put('pg_type', t.oid, { kind: 'type', schema: t.schema, name: t.name })
  for (const p of f.routines) put('pg_proc', p.oid, { kind: 'routine', schema: p.schema, name: `${p.name}(${p.argumentTypes})` })
  for (const r of f.relations) {
    const relation = targets.get(`pg_class ${r.oid}`)
    if (relation && r.rowType !== null) put('pg_type', r.rowType, relation)
  }
  for (const o of f.objects) put(o.catalog, o.oid, { kind: o.kind, schema: o.schema, name: o.name })
  // A multirange is made along with its range; it is no object that needs anything itself.
  for (const r of f.ranges) if (r.multirange !== 0) put('pg_type', r.multirange, targets.get(`pg_type ${r.oid}`) as Dependency)
  return targets
}

/** A function from an object to what it needs, each thing once. References of foreign keys, triggers and rules do not count: they are made last. */
export function dependencyFinder(f: Fetched): (catalog: string, oid: Oid) => readonly Dependency[] {
  const targets = targetsOf(f)
  const owners = new Map<string, string>()
  for (const r of f.rules) if (r.definition === null) owners.set(`pg_rewrite ${r.oid}`, `pg_class ${r.relation}`)
  for (const d of f.defaults) owners.set(`pg_attrdef ${d.oid}`, `pg_class ${d.relation}`)
  for (const c of f.constraints)
    if (c.kind === 'c') owners.set(`pg_constraint ${c.oid}`, c.rest?.domain ? `pg_type ${c.rest.domain}` : `pg_class ${c.relation}`)
  for (const key of targets.keys()) if (!owners.has(key)) owners.set(key, key)

  const found = new Map<string, Map<string, Dependency>>()
  for (const row of f.dependencies) {
    const owner = owners.get(`${row.catalog} ${row.oid}`)
    const target: Dependency | undefined =
      row.extension !== null ? { kind: 'extension', schema: '', name: row.extension } : targets.get(`${row.targetCatalog} ${row.target}`)
    if (owner === undefined || target === undefined || targets.get(owner) === target) continue
    const list = found.get(owner) ?? new Map<string, Dependency>()
    list.set(`${target.kind} ${target.schema} ${target.name}`, target)
    found.set(owner, list)
  }
  return (catalog, oid) => [...(found.get(`${catalog} ${oid}`)?.values() ?? [])]
}
