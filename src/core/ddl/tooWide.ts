import type { Complaint, Draft } from './types.ts'

/** More columns than the engine takes. */
export const tooWide = (d: Draft, what: string, name: string): Complaint => ({
  code: 'refused-by-server',
  what,
  name,
  because: `it has more than ${d.semantics.mostColumns} columns`,
})
