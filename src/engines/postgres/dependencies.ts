// pg_depend, told by name: which other objects must exist before an object can be created (manual 5.14 and 54.18).
import type { Dependency } from '../../core/catalog/index.ts'
import type { Fetched, Oid } from './rows.ts'

/** A function from an object to what it needs, each thing once. References of foreign keys, triggers and rules do not count: they are made last. */
export function dependencyFinder(f: Fetched): (catalog: string, oid: Oid) => readonly Dependency[] {
  const targets = new Map<string, Dependency>()
  const put = (catalog: string, oid: Oid, d: Dependency) => targets.set(`${catalog} ${oid}`, d)
  for (const r of f.relations)
    put('pg_class', r.oid, r.kind === 'c' ? { kind: 'type', schema: r.schema, name: r.name } : { kind: 'relation', schema: r.schema, name: r.name })
  for (const s of f.sequences) if (s.ownerKind !== 'i') put('pg_class', s.oid, { kind: 'sequence', schema: s.schema, name: s.name })
  for (const t of [...f.enums, ...f.domains]) put('pg_type', t.oid, { kind: 'type', schema: t.schema, name: t.name })
  for (const p of f.routines) put('pg_proc', p.oid, { kind: 'routine', schema: p.schema, name: `${p.name}(${p.argumentTypes})` })
  for (const t of f.rowTypes) {
    const relation = targets.get(`pg_class ${t.relation}`)
    if (relation) put('pg_type', t.type, relation)
  }

  const owners = new Map<string, string>()
  for (const r of f.viewRules) owners.set(`pg_rewrite ${r.oid}`, `pg_class ${r.relation}`)
  for (const d of f.defaults) owners.set(`pg_attrdef ${d.oid}`, `pg_class ${d.relation}`)
  for (const c of f.constraints) if (c.kind === 'c') owners.set(`pg_constraint ${c.oid}`, c.domain === 0 ? `pg_class ${c.relation}` : `pg_type ${c.domain}`)
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
