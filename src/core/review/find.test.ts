import { describe, expect, it } from 'vitest'
import { catalogOf, column, reference, table } from '../../../tests/support/catalogs.ts'
import { decodeEntry, type EntryBody } from '../model/index.ts'
import { findIn } from './find.ts'
import { review } from './review.ts'

const catalog = catalogOf(
  table('bay', ['id', column('open_since', { type: 'date' })], ['id']),
  table('crate', ['id', 'bay_id'], ['id'], { foreignKeys: [reference('crate_bay', ['bay_id'], 'bay', ['id'])] }),
)
const bodies: readonly EntryBody[] = [
  { kind: 'note', subject: 's.bay', text: 'the north side floods' },
  { kind: 'pin', name: 'Crates by bay', path: { entity: 's.bay', conditions: [], steps: [] } },
  { kind: 'edit', edit: { facet: 'entity.name', subject: 's.bay', value: 'Berth' }, note: null },
]
const entries = bodies.map((b, i) => decodeEntry({ ...b, seq: i + 1, at: 'x', by: 'Ada' }))
const r = review(catalog, 'x' as never, entries)
const steps = [{ number: 2, object: 'table s.bay', says: 'is made' }] as never
const found = (text: string, list = entries) => findIn(text, r, list, [{ number: 1, steps }], ['The harbour']).map((f) => [f.what, f.name])

describe('text looked for across the stages', () => {
  it.each<readonly [string, readonly (readonly [string, string])[]]>([
    [
      'berth',
      [
        ['class', 'Berth'],
        ['property', 'Crate.bay'],
      ].slice(0, 1) as never,
    ],
    ['floods north', [['ledger 1', 'noted on s.bay: the north side floods']]],
    ['openSince', [['property', 'Berth.openSince']]],
    ['one berth exactly', [['finding', 'Each crate has exactly one bay, a berth. A berth has any number of crates.']]],
    ['harbour', [['environment', 'The harbour']]],
    ['is made', [['plan 0001, step 2', 'table s.bay is made']]],
    ['nothing of it', []],
    ['', []],
  ])('%s', (text, expected) => {
    const all = found(text)
    for (const e of expected) expect(all).toContainEqual(e)
    if (expected.length === 0) expect(all).toEqual([])
  })

  it('a class leads to its file, a trial to its path, an entry to its place', () => {
    const of = (text: string) => findIn(text, r, entries, [], [])
    expect(of('berth').find((f) => f.what === 'file')).toMatchObject({ stage: 'code', name: expect.stringMatching(/berth\.ts$/i) })
    expect(of('crates by').find((f) => f.what === 'trial')).toMatchObject({
      stage: 'trial',
      query: { path: JSON.stringify({ entity: 's.bay', conditions: [], steps: [] }) },
    })
    expect(of('floods')[0]).toMatchObject({ stage: 'ledger', place: 'entry-1' })
  })

  it('a trial that was taken back is found in the ledger alone', () => {
    const all = found('crates by bay', [...entries, decodeEntry({ seq: 4, at: 'x', by: 'Ada', kind: 'revert', reverts: 2 })])
    expect(all.map(([what]) => what)).not.toContain('trial')
    expect(all.map(([what]) => what)).toContain('ledger 2')
  })

  it('no more than a few of a kind', () => {
    const many = Array.from({ length: 30 }, (_, i) => decodeEntry({ kind: 'note', subject: 's.bay', text: 'the same words', seq: i + 1, at: 'x', by: 'Ada' }))
    expect(found('same words', many)).toHaveLength(6)
  })
})
