import { describe, expect, it } from 'vitest'
import { catalogOf, table } from '../../../tests/support/catalogs.ts'
import { canonicalText, hashText } from '../catalog/index.ts'
import { decodeEntry, type EntryBody } from '../model/index.ts'
import { detailOf } from './detail.ts'
import { docketItems } from './docket.ts'
import { reviewBase, reviewWith } from './review.ts'

const catalog = catalogOf(table('bay', ['id'], ['id']), table('crate', ['id', 'rack_no'], ['id']))
const subject = 's.crate(rack_no)'
const refers = (value: { table: string } | null): EntryBody => ({
  kind: 'edit',
  edit: {
    facet: 'reference.target',
    subject,
    value: value && { schema: 's', table: value.table, columns: ['rack_no'], targetColumns: ['id'], constraint: null },
  },
  note: null,
})
const reviewed = (...bodies: readonly EntryBody[]) => {
  const entries = bodies.map((b, i) => decodeEntry({ ...b, seq: i + 1, at: 'x', by: 'Ada' }))
  const base = reviewBase(catalog, entries)
  return { r: reviewWith(base, hashText(canonicalText(catalog)), entries), base, entries }
}
const id = `reference:${subject}`

describe('a reference that nothing asked about', () => {
  it('is none of the findings by itself', () => expect(reviewed().r.findings.some((f) => f.id === id)).toBe(false))

  it('is one once somebody said it: in the docket, with both sentences and a no', () => {
    const { r, base, entries } = reviewed(refers({ table: 'bay' }))
    expect(docketItems(r).map((i) => i.id)).toContain(id)
    expect(r.statuses.get(id)).toBe('amended')
    expect(docketItems(r).find((i) => i.id === id)?.ruled).toBe('as a reference to s.bay(id)')
    const detail = detailOf(id, base.catalog, r, entries)
    expect(detail?.relationship?.from.entity).toBe('Crate')
    expect(detail?.choices.map((c) => [c.key, c.taken])).toEqual([
      ['s.bay(id)', true],
      ['none', false],
    ])
    expect(detail?.reject).not.toBeNull()
  })

  it('stays one when it is taken away, and goes with its entry', () => {
    const away = reviewed(refers({ table: 'bay' }), refers(null))
    expect(away.r.model.relationships).toEqual([])
    expect(detailOf(id, away.base.catalog, away.r, away.entries)?.choices.find((c) => c.taken)?.key).toBe('none')
    expect(reviewed(refers({ table: 'bay' }), { kind: 'revert', reverts: 1 }).r.findings.some((f) => f.id === id)).toBe(false)
  })

  it('to what is not there is none', () => expect(reviewed(refers({ table: 'gone' })).r.findings.some((f) => f.id === id)).toBe(false))
})
