// Keys: tables without one, and keys whose values somebody outside the database gives.
import { identityRules, type Relation } from '../../catalog/index.ts'
import type { Alternative, Finding } from '../../model/index.ts'
import type { Context } from '../context.ts'
import { fact, isInteger, isTable, onColumns, onTable, structureFinding } from './common.ts'

/** A row of a table without a primary key cannot be named: its class is only read. */
export function noKeys({ relations }: Context): readonly Finding[] {
  return relations
    .filter((r) => isTable(r) && r.primaryKey === null && r.columns.length > 0)
    .map((r) => {
      const candidates = identityRules(r)
      const likely = candidates.map((u) => fact('candidate', `${u.kind} ${u.name} (${u.columns.join(', ')}) could be the key: unique, and never null`, 0.4))
      const finding = structureFinding('no key', onTable(r), 1, [
        fact('no primary key', 'no primary key: a row cannot be named, and its class is only read'),
        ...likely,
      ])
      if (candidates.length === 0) return finding
      return { ...finding, alternatives: [finding.alternatives[0], ...candidates.map((u) => byRule(r, u))] }
    })
}

/** In the model alone a rule may stand for the key: rows can be named and written, and the schema stays as it is. */
const byRule = (r: Relation, u: ReturnType<typeof identityRules>[number]): Alternative => ({
  key: `by ${u.columns.join(', ')}`,
  confidence: 0,
  edits: [{ facet: 'entity.identity', subject: onTable(r), value: [...u.columns] }],
  evidence: [fact('candidate', `${u.kind} ${u.name} lets no two rows have the same ${u.columns.join(', ')}`, 0.4)],
})

const isGenerated = (r: Relation, column: string) => {
  const c = r.columns.find((x) => x.name === column)
  return c !== undefined && (c.identity !== null || c.generated !== null || c.default !== null)
}

/** A key that neither the database nor a reference gives: whoever inserts must know it. */
export function assignedKeys({ relations, references }: Context): readonly Finding[] {
  const referring = new Map<Relation, Set<string>>()
  for (const f of references) referring.set(f.child, new Set([...(referring.get(f.child) ?? []), ...f.columns]))
  return relations.flatMap((r) => {
    const key = r.primaryKey?.columns ?? []
    const [only] = key
    // An integer key of SQLite is the row's own number ("CREATE TABLE", ROWIDs and the INTEGER PRIMARY KEY).
    if (!isTable(r) || key.length !== 1 || only === undefined || isGenerated(r, only) || referring.get(r)?.has(only)) return []
    const column = r.columns.find((c) => c.name === only)
    if (!column || /^integer$/i.test(column.type)) return []
    const says = isInteger(column.type)
      ? `${only} has no default and no identity: whoever inserts must give the next number, and two may give the same`
      : `${only} is a ${column.type}: its values come from outside, and a changed one must change everywhere`
    return [structureFinding('assigned key', onColumns(r, [only]), 0.95, [fact('nobody gives it', says)])]
  })
}
