import { describe, expect, it } from 'vitest'
import { catalogOf, column, reference, table } from '../../../tests/support/catalogs.ts'
import { decodeEntry, describeModelDiagnostic, type EntryBody, type LedgerEntry, sentenceText } from '../model/index.ts'
import { type Claim, claimEntry, detailOf, docketItems, editOfName, entryText, platesOf, progressBy, review, thresholdEntry, thresholdView } from './index.ts'

const stamp = column('created_at', { default: { written: 'now()', canonical: 'now()' } })
const catalog = catalogOf(
  table('bay', ['id'], ['id']),
  table('crate', ['id', 'bay_id'], ['id'], { foreignKeys: [reference('f', ['bay_id'], 'bay', ['id'])] }),
  table('keeper', ['id'], ['id']),
  table('helper', ['bay_id', 'keeper_id', stamp], ['bay_id', 'keeper_id'], {
    foreignKeys: [reference('a', ['bay_id'], 'bay', ['id']), reference('k', ['keeper_id'], 'keeper', ['id'])],
  }),
)
const guessing = catalogOf(
  ...catalog.relations,
  table('user', ['id', column('label', { type: 'text' })], ['id']),
  table('box', ['id', column('made_by', { nullable: true })], ['id']),
  table('line', ['id', column('made_by', { nullable: true })], ['id']),
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
  it('the riskiest waits first: a join table before a reference, and the more rows the riskier', () => {
    const r = review(guessing, 'x' as never, [])
    const waiting = docketItems(r, new Map([['s.line', { area: 'Lines', rank: 2, rows: 1_000_000 }]])).filter((i) => i.status === 'open')
    expect(waiting[0]?.kind).toBe('join-table')
    const references = waiting.filter((i) => i.kind === 'reference').map((i) => i.subject)
    expect(references.indexOf('s.line(made_by)')).toBeLessThan(references.indexOf('s.box(made_by)'))
    expect(docketItems(r).filter((i) => i.status === 'open' && i.kind === 'reference')[0]?.subject).not.toBe('s.line(made_by)')
  })

  it('what each threshold would leave waiting is told, and what was ruled on waits at none', () => {
    const waitsAt = (entries: readonly LedgerEntry[]) => {
      const v = thresholdView(review(guessing, 'x' as never, entries), entries)
      return { ...v, choices: new Map(v.choices.map((c) => [c.value, c.waits])) }
    }
    const plain = waitsAt([])
    const open = (entries: readonly LedgerEntry[]) => docketItems(review(guessing, 'x' as never, entries)).filter((i) => i.status === 'open')
    expect(plain).toMatchObject({ value: 0.9, by: null })
    expect(plain.choices.get(0.9)).toBe(open([]).length)
    const sure = entriesOf(thresholdEntry(0.5))
    expect(waitsAt(sure)).toMatchObject({ value: 0.5, by: 'Ada' })
    expect(open(sure).length).toBe(waitsAt(sure).choices.get(0.5))
    expect(open(sure).length).toBeLessThan(open([]).length)
    expect(sure.map(entryText)).toEqual(['said that what is 0.5 sure or surer needs no ruling'])
    const [first] = open([])
    const ruled = entriesOf({ kind: 'rule', finding: first?.id ?? '', verdict: 'accept', edits: [], fingerprint: '', note: null })
    expect(waitsAt(ruled).choices.get(1)).toBe((plain.choices.get(1) ?? 0) - 1)
  })

  it('how far each area is, is counted in the order of the map', () => {
    const r = review(guessing, 'x' as never, [])
    const places = new Map([
      ['s.line', { area: 'Lines', rank: 1, rows: null }],
      ['s.box', { area: 'Boxes', rank: 1, rows: null }],
    ])
    const items = docketItems(r, places)
    const progress = progressBy(items, 'area', ['Boxes', 'Lines', 'Empty'])
    expect(progress.map((p) => p.text)).toEqual(['Boxes', 'Lines', 'Standing alone'])
    expect(progress[0]).toEqual({ text: 'Boxes', open: 1, asked: 0, settled: 1 })
    expect(progress.reduce((n, p) => n + p.open + p.asked + p.settled, 0)).toBe(items.filter((i) => i.status !== 'folded' && i.partOf === null).length)
  })

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
    expect(d.relationship).toMatchObject({
      owner: 'Crate holds the column bay_id',
      from: { code: 'get bay(): Bay | undefined' },
      to: { code: 'get crates(): Many<Crate> | undefined' },
    })
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
      ['shortcut', false],
    ])
    const many = at(d.id, d.choices[1]?.entry as EntryBody)
    expect(many.relationship?.kind).toBe('many-to-many')
    expect(many.relationship?.owner).toContain('unmapped: created_at')
    const again = at(d.id, d.choices[1]?.entry as EntryBody, many.choices[0]?.entry as EntryBody)
    expect(again.choices[0]?.taken).toBe(true)
  })

  it('a join table with columns of its own can be an entity with a many-to-many beside it', () => {
    const d = at('join-table:s.helper')
    const take = d.choices.find((c) => c.key === 'shortcut')?.entry as EntryBody
    const both = at(d.id, take)
    expect(both.choices.map((c) => c.taken)).toEqual([false, false, true])
    expect(both.relationship?.kind).toBe('many-to-many')
    const { model } = review(catalog, 'x' as never, entriesOf(take))
    expect(model.entities.map((e) => e.id)).toContain('s.helper')
    expect(model.relationships.filter((r) => r.from.entity === 's.helper')).toHaveLength(2)
    expect(model.relationships.find((r) => r.id === d.id)?.through).toMatchObject({ shortcut: true, payload: ['created_at'] })
    expect(model.joinHalves).toEqual([])
    expect(at(d.id, take, both.choices[1]?.entry as EntryBody).relationship?.owner).toContain('unmapped: created_at')
  })

  it('that there is at most one can be said, is flagged, and taken back', () => {
    const d = at('reference:s.crate(bay_id)')
    expect(d.relationship?.kind).toBe('many-to-one')
    const [one, always] = d.claims
    expect(always).toBeUndefined()
    const said1 = claimEntry(d.subject, one as Claim, 'the office keeps it so')
    const claimed = at(d.id, said1)
    expect(claimed.relationship?.kind).toBe('one-to-one')
    expect(claimed.relationship?.to.name?.value).toBe('crate')
    expect(claimed.history[0]?.what).toBe('said that there is at most one by s.crate(bay_id) (“the office keeps it so”)')
    expect(claimed.relationship?.to.because).toMatch(/somebody says so; no unique rule/)
    const said = review(catalog, 'x' as never, entriesOf(said1)).model.diagnostics.map(describeModelDiagnostic)
    expect(said).toEqual([expect.stringMatching(/s\.crate\(bay_id\) is said to be one-to-one, and no unique rule keeps it so/)])
    expect(at(d.id, said1, claimEntry(d.subject, claimed.claims[0] as Claim, null)).relationship?.kind).toBe('many-to-one')
  })

  it('notes stand beside what they are about, and rule on nothing', () => {
    const d = at('reference:s.crate(bay_id)')
    const noted = at(d.id, { kind: 'note', subject: d.subject, text: 'ask the office' }, { kind: 'note', subject: 's.bay', text: 'something else' })
    expect(noted.notes).toEqual([{ seq: 1, by: 'Ada', at: '2026-01-01T00:00:00.000Z', text: 'ask the office' }])
    expect(noted.status).toBe(d.status)
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
