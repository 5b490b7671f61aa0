// Choices on the scope page that are not in the ledger yet.
import type { ScopeRow } from '../../core/scope/index.ts'

/** By subject, schemas among them; what is said of an object counts more than what is said of its schema. */
export type ScopeDraft = ReadonlyMap<string, 'in' | 'out'>

const schemaOf = (row: ScopeRow) => `schema:${row.schema}`

export const takesPart = (row: ScopeRow, draft: ScopeDraft): boolean => {
  const said = draft.get(row.id) ?? draft.get(schemaOf(row))
  return said === undefined ? row.takesPart : said === 'in'
}

/** Each of the rows set to a value; what would change nothing is not kept. */
export function choose(draft: ScopeDraft, rows: readonly ScopeRow[], value: (row: ScopeRow) => 'in' | 'out'): ScopeDraft {
  const next = new Map(draft)
  for (const row of rows) {
    next.delete(row.id)
    if (takesPart(row, next) !== (value(row) === 'in')) next.set(row.id, value(row))
  }
  return next
}

/** A whole schema, also for what will be in it one day; replaces what was chosen of its objects. */
export function chooseSchema(draft: ScopeDraft, rows: readonly ScopeRow[], schema: string, value: 'in' | 'out'): ScopeDraft {
  const next = new Map(draft)
  for (const row of rows) if (row.schema === schema) next.delete(row.id)
  next.set(`schema:${schema}`, value)
  return next
}

/** The edits of one ledger entry, schemas first: they replace what the ledger says of their objects. */
export const editsOfDraft = (draft: ScopeDraft): { facet: 'scope'; subject: string; value: 'in' | 'out' }[] =>
  [...draft]
    .map(([subject, value]) => ({ facet: 'scope' as const, subject, value }))
    .sort((a, b) => Number(b.subject.startsWith('schema:')) - Number(a.subject.startsWith('schema:')))
