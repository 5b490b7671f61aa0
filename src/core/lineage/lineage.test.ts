import { describe, expect, it } from 'vitest'
import { catalogOf, column, reference, table } from '../../../tests/support/catalogs.ts'
import { infer } from '../infer/index.ts'
import { activeEntries, checkRevert, type EntryBody, type LedgerEntry, type LedgerSeq, ruling } from '../model/index.ts'
import { docketItems, review } from '../review/index.ts'
import { changesBetween, lostSubjects, renameQuestion } from './index.ts'

const bay = table('bay', ['id', 'label?'], ['id'])
const crate = table('crate', ['id', 'bay_id', 'weight'], ['id'], { foreignKeys: [reference('crate_bay', ['bay_id'], 'bay', ['id'])] })
const was = catalogOf(bay, crate)
const ledger = (...bodies: readonly EntryBody[]): readonly LedgerEntry[] => bodies.map((b, i) => ({ ...b, seq: (i + 1) as LedgerSeq, at: '', by: 'Ada' }))
const ofBay = infer(was).findings.find((f) => f.subject === 's.crate(bay_id)')
const accept = () => {
  if (!ofBay) throw new Error('no finding')
  return ruling(ofBay, 'accept', ofBay.alternatives[0].edits, null)
}
const called = (subject: string, facet: 'entity.name' | 'property.name', value: string): EntryBody => ({
  kind: 'edit',
  edit: { facet, subject, value },
  note: null,
})
const hash = 'a'.repeat(64) as never

describe('what changed between two snapshots', () => {
  it('is told by object: gone, changed with before and after, new', () => {
    const is = catalogOf(table('crate', ['id', column('bay_id', { nullable: true }), 'weight'], ['id']), table('lane', ['id'], ['id']))
    expect(changesBetween(was, is)).toEqual([
      { object: 'relation s.bay', what: 'gone', fields: [] },
      {
        object: 'relation s.crate',
        what: 'changed',
        fields: [
          { field: 'columns[bay_id].nullable', was: 'false', is: 'true' },
          { field: 'foreignKeys[crate_bay]', was: expect.stringMatching(/^name: crate_bay, columns: \(bay_id\), target: \(schema: s, table: bay/), is: null },
        ],
      },
      { object: 'relation s.lane', what: 'new', fields: [] },
    ])
  })
  it('is nothing between equal ones', () => expect(changesBetween(was, was)).toEqual([]))
})

const lane = { ...bay, name: 'lane' }
const box = { ...crate, name: 'box', foreignKeys: [reference('box_lane', ['bay_id'], 'lane', ['id'])] }

describe('a subject that is gone', () => {
  it('is found by what the ledger says of it, columns of a lost table as the table', () => {
    const entries = ledger(
      called('s.crate', 'entity.name', 'Box'),
      called('s.crate(weight)', 'property.name', 'kilos'),
      called('s.bay(gone)', 'property.name', 'x'),
    )
    expect(lostSubjects(catalogOf(bay), entries)).toEqual([
      { subject: 's.bay(gone)', entries: [3] },
      { subject: 's.crate', entries: [1, 2] },
    ])
    expect(lostSubjects(was, entries.slice(0, 2))).toEqual([])
  })

  it('may be what a ruling says is referred to', () => expect(lostSubjects(catalogOf(crate), ledger(accept()))).toEqual([{ subject: 's.bay', entries: [1] }]))

  it('is asked about: new tables alike, best first, with what speaks for them; never one that was there before', () => {
    const is = catalogOf(bay, { ...crate, name: 'crate_unit' }, table('note', ['text', 'at'], []))
    const q = renameQuestion({ subject: 's.crate', entries: [1] }, was, is)
    expect(q?.candidates.map((c) => c.subject)).toEqual(['s.crate_unit'])
    expect(q?.candidates[0]?.because).toEqual(['3 of its 3 columns have the names of the former 3', 'their names share a word', 'the same primary key: id'])
    expect(renameQuestion({ subject: 's.crate', entries: [1] }, was, catalogOf(bay))?.candidates).toEqual([])
    expect(renameQuestion({ subject: 's.never', entries: [1] }, was, is)).toBeNull()
  })

  it('may be a column: by type, place and what it refers to', () => {
    const renamed = table('crate', ['id', 'bay_ref', 'weight'], ['id'], { foreignKeys: [reference('crate_bay', ['bay_ref'], 'bay', ['id'])] })
    const q = renameQuestion({ subject: 's.crate(bay_id)', entries: [1] }, was, catalogOf(bay, renamed))
    expect(q?.candidates).toMatchObject([
      {
        subject: 's.crate(bay_ref)',
        because: ['the same type: integer', 'at the same place in the table', 'it refers to the same table', 'their names share a word'],
      },
    ])
  })
})

describe('a rebind', () => {
  const rebind = (from: string, to: string | null): EntryBody => ({ kind: 'rebind', from, to, note: null })

  it('carries every ruling over to the new name: of the table, its columns, and what refers to it', () => {
    const is = catalogOf(lane, box)
    const entries = ledger(
      accept(),
      called('s.crate', 'entity.name', 'Container'),
      called('s.crate(weight)', 'property.name', 'kilos'),
      called('s.bay', 'entity.name', 'Place'),
      rebind('s.crate', 's.box'),
      rebind('s.bay', 's.lane'),
    )
    const r = review(is, hash, entries)
    expect(r.model.entities.map((e) => e.name).sort()).toEqual(['Container', 'Place'])
    expect(r.model.entities.find((e) => e.name === 'Container')?.properties.map((p) => p.name)).toContain('kilos')
    expect(r.statuses.get('reference:s.box(bay_id)')).toBe('accepted')
    expect(r.model.relationships[0]).toMatchObject({ from: { entity: 's.box' }, to: { entity: 's.lane' } })
    expect(lostSubjects(is, entries)).toEqual([])
    expect(r.model.diagnostics).toEqual([])
    // The yes was given to the name, so what was seen under the old one is no change.
    expect([...r.changed]).toEqual([])
  })

  it('carries rulings on structure over, on a table and on columns; those on types stay', () => {
    const rule = (finding: string): EntryBody => ({ kind: 'rule', finding, verdict: 'reject', edits: [], fingerprint: 'x', note: null })
    const given = [
      'structure:lookup table:s.crate',
      'structure:flag:s.crate(weight)',
      'structure:duplicate index:s.crate(bay_id)/crate_idx',
      'structure:type:s.crate',
      'structure:repeated columns:columns:a,b',
    ]
    const entries = ledger(...given.map(rule), rebind('s.crate', 's.box'), rebind('s.box(weight)', 's.box(kilos)'))
    expect(activeEntries(entries).flatMap((e) => (e.kind === 'rule' ? [e.finding] : []))).toEqual([
      'structure:lookup table:s.box',
      'structure:flag:s.box(kilos)',
      'structure:duplicate index:s.box(bay_id)/crate_idx',
      'structure:type:s.crate',
      'structure:repeated columns:columns:a,b',
    ])
    expect(lostSubjects(catalogOf(bay), ledger(rule('structure:flag:s.gone(weight)'), rule('structure:type:int4'))).length).toBe(1)
  })

  it('of a column keeps keys and references in order', () => {
    const renamed = table('crate', ['id', 'bay_ref', 'weight'], ['id'], { foreignKeys: [reference('crate_bay', ['bay_ref'], 'bay', ['id'])] })
    const r = review(catalogOf(bay, renamed), hash, ledger(accept(), rebind('s.crate(bay_id)', 's.crate(bay_ref)')))
    expect(r.statuses.get('reference:s.crate(bay_ref)')).toBe('accepted')
    expect(r.model.relationships[0]).toMatchObject({ from: { columns: ['bay_ref'] }, state: 'enforced' })
  })

  it('to nothing ends what was said, and asks no more', () => {
    const entries = ledger(called('s.crate', 'entity.name', 'Box'), rebind('s.crate', null))
    expect(lostSubjects(catalogOf(bay), entries)).toEqual([])
    expect(activeEntries(entries).map((e) => e.kind)).toEqual(['rebind'])
    expect(checkRevert(entries, 2)).toEqual({ ok: true })
  })

  it('is refused to be taken back where a later ruling builds on the new name', () => {
    const entries = ledger(called('s.crate', 'entity.name', 'Box'), rebind('s.crate', 's.box'), called('s.box(id)', 'property.name', 'no'))
    expect(checkRevert(entries, 2)).toMatchObject({ ok: false, reason: 'built on', by: { seq: 3 } })
    expect(checkRevert(entries.slice(0, 2), 2)).toEqual({ ok: true })
  })
})

describe('a ruling on what answers otherwise now', () => {
  it('is marked as changed since and comes first; the same answer is not', () => {
    const entries = ledger(accept())
    expect([...review(was, hash, entries).changed]).toEqual([])
    const loose = catalogOf(bay, { ...crate, columns: crate.columns.map((c) => (c.name === 'bay_id' ? { ...c, nullable: true } : c)) })
    const r = review(loose, hash, entries)
    expect([...r.changed]).toEqual(['reference:s.crate(bay_id)'])
    expect(docketItems(r)[0]).toMatchObject({ id: 'reference:s.crate(bay_id)', status: 'accepted', changed: true })
  })
})
