// Findings that were inferred elsewhere stand for those that would be inferred here, under one key.
import { expect, it } from 'vitest'
import { catalogOf, column, table } from '../../../tests/support/catalogs.ts'
import { decodeEntry, type EntryBody, type Finding, type LedgerEntry } from '../model/index.ts'
import { findingsKey, reviewBase, reviewBaseWith, reviewWith } from './review.ts'

const catalog = catalogOf(table('bay', ['id'], ['id']), table('crate', ['id', column('bay_id', { nullable: true })], ['id']))
const entriesOf = (...bodies: readonly EntryBody[]): readonly LedgerEntry[] =>
  bodies.map((b, i) => decodeEntry({ ...b, seq: i + 1, at: '2026-01-01T00:00:00.000Z', by: 'Ada' }))
const key = (...bodies: readonly EntryBody[]) => findingsKey(reviewBase(catalog, entriesOf(...bodies)), 'x' as never)

it('as JSON they make the same review, and are inferred anew where a rule or the scope is another', () => {
  const base = reviewBase(catalog, [])
  const sent = JSON.parse(JSON.stringify(base.findings)) as readonly Finding[]
  const given = reviewBaseWith(catalog, [], null, sent)
  expect(given.findings).toEqual(base.findings)
  expect(reviewWith(given, 'x' as never, [])).toEqual(reviewWith(base, 'x' as never, []))
  const ruled = entriesOf({ kind: 'naming', rule: { rule: 'word', word: 'bay', as: ['berth'] }, note: null })
  expect(reviewBase(catalog, ruled, given).findings).toEqual(reviewBase(catalog, ruled).findings)
  expect(reviewBase(catalog, ruled, given).findings).not.toEqual(sent)
})

it('the key is another where the findings may be, and no other', () => {
  const rename: EntryBody = { kind: 'edit', edit: { facet: 'entity.name', subject: 's.bay', value: 'Berth' }, note: null }
  const word: EntryBody = { kind: 'naming', rule: { rule: 'word', word: 'bay', as: ['berth'] }, note: null }
  const scope: EntryBody = { kind: 'scope', edits: [{ facet: 'scope', subject: 's.crate', value: 'out' }], note: null }
  expect(key(rename)).toBe(key())
  expect(new Set([key(), key(word), key(scope), findingsKey(reviewBase(catalog, []), 'y' as never)]).size).toBe(4)
})
