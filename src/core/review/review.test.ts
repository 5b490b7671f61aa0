import { describe, expect, it } from 'vitest'
import { catalogOf, column, reference, table } from '../../../tests/support/catalogs.ts'
import { decodeEntry, type EntryBody, type LedgerEntry, sentenceText } from '../model/index.ts'
import { detailOf, docketItems, editOfName, platesOf, review } from './index.ts'

const stamp = column('created_at', { default: { written: 'now()', canonical: 'now()' } })
const catalog = catalogOf(
  table('bay', ['id'], ['id']),
  table('crate', ['id', 'bay_id'], ['id'], { foreignKeys: [reference('f', ['bay_id'], 'bay', ['id'])] }),
  table('keeper', ['id'], ['id']),
  table('helper', ['bay_id', 'keeper_id', stamp], ['bay_id', 'keeper_id'], {
    foreignKeys: [reference('a', ['bay_id'], 'bay', ['id']), reference('k', ['keeper_id'], 'keeper', ['id'])],
  }),
)
const entriesOf = (...bodies: readonly EntryBody[]): readonly LedgerEntry[] =>
  bodies.map((b, i) => decodeEntry({ ...b, seq: i + 1, at: '2026-01-01T00:00:00.000Z', by: 'Ada' }))
const at = (id: string, ...bodies: readonly EntryBody[]) => {
  const entries = entriesOf(...bodies)
  const detail = detailOf(id, catalog, review(catalog, 'x' as never, entries), entries)
  if (!detail) throw new Error(id)
  return detail
}

describe('docket', () => {
  it('what waits comes first', () => {
    const items = docketItems(review(catalog, 'x' as never, []))
    expect(items[0]).toMatchObject({ id: 'join-table:s.helper', status: 'open' })
    expect(items.filter((i) => i.status === 'open')).toHaveLength(1)
    expect(items.find((i) => i.kind === 'reference')?.says.map(sentenceText)).toContain('A bay has any number of crates.')
  })
})

describe('evidence pane', () => {
  it('offers to accept, reject and rename both ends, and says who holds the column', () => {
    const d = at('reference:s.crate(bay_id)')
    expect(d.relationship).toMatchObject({ owner: 'Crate holds the column bay_id', from: { code: 'bay?: Bay' }, to: { code: 'crates?: Crate[]' } })
    expect(d.reject?.kind).toBe('rule')
    const renamed = at(d.id, editOfName(d.relationship?.to.name as never, 'boxes'))
    expect(renamed.relationship?.to.name?.value).toBe('boxes')
    expect(renamed.status).toBe('amended')
    expect(renamed.history.map((h) => h.seq)).toEqual([1])
  })

  it('accepting keeps a name that was edited', () => {
    const d = at('reference:s.crate(bay_id)')
    const edit = editOfName(d.relationship?.to.name as never, 'boxes')
    expect(at(d.id, edit, at(d.id, edit).accept).relationship?.to.name?.value).toBe('boxes')
  })

  it('a join table can be read the other way and back', () => {
    const d = at('join-table:s.helper')
    expect(d.choices.map((c) => [c.key, c.taken])).toEqual([
      ['entity', true],
      ['many-to-many', false],
    ])
    const many = at(d.id, d.choices[1]?.entry as EntryBody)
    expect(many.relationship?.kind).toBe('many-to-many')
    expect(many.relationship?.owner).toContain('unmapped: created_at')
    const again = at(d.id, d.choices[1]?.entry as EntryBody, many.choices[0]?.entry as EntryBody)
    expect(again.choices[0]?.taken).toBe(true)
  })

  it('a rejected reference can be accepted again', () => {
    const d = at('reference:s.crate(bay_id)')
    const rejected = at(d.id, d.reject as EntryBody)
    expect(rejected.relationship).toBeNull()
    expect(rejected.says).toBe('s.crate(bay_id) is not read as a reference.')
    expect(at(d.id, d.reject as EntryBody, rejected.accept).relationship).not.toBeNull()
  })

  it('a class lists its columns and relationships', () => {
    const d = at('entity:s.crate')
    expect(d.columns.map((c) => c.property?.value)).toEqual(['id', 'bayId'])
    expect(d.related).toEqual([{ id: 'reference:s.crate(bay_id)', text: 'bay: exactly one Bay' }])
    expect(d.reject).toBeNull()
  })

  it('lights up the plates at both ends', () => {
    const r = review(catalog, 'x' as never, [])
    const drawn = new Set(['s.crate', 's.bay'])
    expect(platesOf('reference:s.crate(bay_id)', r.model, drawn)).toEqual(['s.crate', 's.bay'])
    expect(platesOf('entity:s.crate', r.model, drawn)).toEqual(['s.crate'])
    expect(platesOf('entity:s.crate', r.model, new Set(['s.bay'])), 'drawn as a bead').toEqual(['s.bay'])
  })
})
