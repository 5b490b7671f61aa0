// References written before their table was there, as engines allow that check them late or never.
import { columnName, type Draft, lookup } from './draft.ts'

/** Gives each reference its target's own spelling, and the primary key where no columns are named. Tells of targets that are not there. */
export function resolveReferences(d: Draft): void {
  for (const r of d.relations.values()) {
    for (const f of r.foreignKeys) {
      const target = lookup(d, d.relations, { schema: null, name: f.target.table })
      if (!target) {
        d.complainOf(f, { code: 'missing-target', table: f.target.table, of: r.name, columns: f.columns })
        continue
      }
      const columns = f.target.columns.length > 0 ? f.target.columns.map((c) => columnName(d, target, c)) : [...(target.primaryKey?.columns ?? [])]
      f.target = { schema: target.schema, table: target.name, columns }
    }
  }
}
