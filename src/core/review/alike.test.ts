import { describe, expect, it } from 'vitest'
import { catalogOf, column, reference, table } from '../../../tests/support/catalogs.ts'
import type { SnapshotHash } from '../catalog/index.ts'
import { batchOf, decodeEntry, type EntryBody, type Finding, findingId, type LedgerEntry, noReference } from '../model/index.ts'
import { alikeTo, bulkOf } from './alike.ts'
import { review, reviewBase, reviewBaseWith, reviewWith } from './review.ts'

const hash = '0'.repeat(64) as SnapshotHash
const stamp = column('created_at', { default: { written: 'now()', canonical: 'now()' } })
const joining = (name: string, a: string, b: string) =>
  table(name, [`${a}_id`, `${b}_id`, stamp], [`${a}_id`, `${b}_id`], {
    foreignKeys: [reference('a', [`${a}_id`], a, ['id']), reference('b', [`${b}_id`], b, ['id'])],
  })
const made = (name: string) => table(name, ['id', column('made_by', { nullable: true })], ['id'])
const catalog = catalogOf(
  table('user', ['id', column('label', { type: 'text' })], ['id']),
  ...['bay', 'crate', 'lane', 'porter'].map(made),
  joining('bay_lane', 'bay', 'lane'),
  joining('bay_porter', 'bay', 'porter'),
  table('ramp', ['id', 'made_for'], ['id']),
)
const base = reviewBase(catalog, [])
const entriesOf = (bodies: readonly EntryBody[], after = 0): readonly LedgerEntry[] =>
  bodies.map((b, i) => decodeEntry({ ...b, seq: after + i + 1, at: 'x', by: 'mara' }))
const at = (entries: readonly LedgerEntry[] = []) => reviewWith(reviewBase(catalog, entries, base), hash, entries)
const finding = (id: string) => at().findings.find((f) => f.id === id) as ReturnType<typeof at>['findings'][number]
const asked = 'reference:s.bay(made_by)'

describe('findings alike', () => {
  it('ask about columns of the same name and the same likeliest table', () => {
    const alike = alikeTo(finding(asked), at())
    expect(alike?.because).toBe('columns called made_by, perhaps references to s.user(id)')
    expect(alike?.members.map((f) => f.subject)).toEqual(['s.bay(made_by)', 's.crate(made_by)', 's.lane(made_by)', 's.porter(made_by)'])
  })
  it('or about join tables for which the same speaks', () => {
    const alike = alikeTo(finding('join-table:s.bay_lane'), at())
    expect(alike?.members.map((f) => f.subject)).toEqual(['s.bay_lane', 's.bay_porter'])
    expect(alike?.because).toMatch(/^join tables with the same for and against: bookkeeping columns only/)
  })
  it('are none where a finding is certain, declared, a class, or ruled on', () => {
    for (const id of ['reference:s.bay_lane(bay_id)', 'entity:s.bay']) expect(alikeTo(finding(id), at())).toBeNull()
    const bulk = bulkOf(asked, base, at(), [], new Set(), 'b')
    const ruled = entriesOf(bulk?.actions[0]?.entries ?? [])
    expect(alikeTo(finding(asked), at(ruled))).toBeNull()
  })
})

describe('one ruling for all', () => {
  const none = new Set<string>()
  it('offers the answers that all have, with what each would change', () => {
    const bulk = bulkOf(asked, base, at(), [], none, 'b')
    for (const label of ['a reference to s.user(id)', 'no reference']) expect(bulk?.actions.map((a) => a.label)).toContain(label)
    for (const a of bulk?.actions ?? []) expect(a.changes.at(-1)).toBe('No schema change.')
  })
  it('gives just those entries, and what it said comes true', () => {
    const before = at()
    const bulk = bulkOf(asked, base, before, [], none, 'b')
    for (const action of bulk?.actions ?? []) {
      const after = at(entriesOf(action.entries))
      const to = after.model.relationships.filter((r) => r.from.columns[0] === 'made_by').length
      expect(to).toBe(action.key === 'none' ? 0 : 4)
      const more = after.model.relationships.length - before.model.relationships.length
      const said = /(\d+) relationships? (more|fewer)/.exec(action.changes[0] ?? '')
      expect(said ? Number(said[1]) * (said[2] === 'more' ? 1 : -1) : 0).toBe(more)
      expect([...after.statuses].filter(([id, s]) => id.endsWith('(made_by)') && s === 'open')).toEqual([])
    }
  })
  it('names the ends of join tables that were not proposed as such', () => {
    const bulk = bulkOf('join-table:s.bay_lane', base, at(), [], none, 'b')
    const after = at(entriesOf(bulk?.actions.find((a) => a.key === 'many-to-many')?.entries ?? []))
    const ends = after.model.relationships.filter((x) => x.kind === 'many-to-many').map((x) => [x.from.property, x.to.property])
    expect(ends).toEqual([
      ['lanes', 'bays'],
      ['porters', 'bays'],
    ])
  })
  it('leaves alone what is left out', () => {
    const bulk = bulkOf(asked, base, at(), [], new Set(['reference:s.crate(made_by)']), 'b')
    expect(bulk?.members.filter((m) => m.left).map((m) => m.subject)).toEqual(['s.crate(made_by)'])
    expect(bulk?.actions[0]?.entries).toHaveLength(3)
    expect(bulkOf(asked, base, at(), [], new Set(bulk?.members.map((m) => m.id)), 'b')?.actions[0]?.entries).toEqual([])
  })
  it('is taken back at once, but for what was taken back before', () => {
    const entries = entriesOf(bulkOf(asked, base, at(), [], none, 'b')?.actions[0]?.entries ?? [])
    expect(batchOf(entries, 4)).toEqual([4, 3, 2, 1])
    const one = [...entries, decodeEntry({ seq: 5, at: 'x', by: 'mara', kind: 'revert', reverts: 2 })]
    expect(batchOf(one, 4)).toEqual([4, 3, 1])
    const alone = entriesOf([{ ...(entries[0] as EntryBody), batch: undefined } as EntryBody], 0)
    expect(batchOf(alone, 1)).toEqual([1])
    const back = [...entries, ...batchOf(entries, 4).map((reverts, i) => decodeEntry({ seq: 5 + i, at: 'x', by: 'mara', kind: 'revert', reverts }))]
    expect(at(back).model).toEqual(review(catalog, hash, []).model)
  })

  it('references of other columns to other tables are alike where the same facts speak for them, each to its own table', () => {
    const pairs = ['bay', 'crate', 'lane'].map((t) => table(t, ['id', 'label'], ['id']))
    const wide = catalogOf(
      ...pairs,
      table('ramp', ['id', column('old_bay', { nullable: true })], ['id']),
      table('dock', ['id', column('old_crate', { nullable: true })], ['id']),
      table('gate', ['id', column('old_lane', { nullable: true })], ['id']),
    )
    const r = reviewWith(reviewBase(wide, []), hash, [])
    const one = r.findings.find((f) => f.id === 'reference:s.ramp(old_bay)')
    if (!one) throw new Error('no finding')
    const alike = alikeTo(one, r)
    expect(alike?.because).toMatch(/^guessed references with the same for and against/)
    expect(alike?.members).toHaveLength(3)
    const bulk = bulkOf(one.id, reviewBase(wide, []), r, [], new Set(), 'b')
    expect(bulk?.members.map((m) => m.subject)).toContain('s.dock(old_crate) to s.crate(id)')
    const each = bulk?.actions.find((a) => a.key === 'likeliest')
    const targets = each?.entries.map((e) => (e.kind === 'rule' && e.edits[0]?.facet === 'reference.target' ? e.edits[0].value?.table : null))
    expect(targets?.toSorted()).toEqual(['bay', 'crate', 'lane'])
    expect(bulk?.actions.map((a) => a.key).toSorted()).toEqual(['likeliest', 'none'])
  })
})

describe('columns of one name', () => {
  const subject = (t: string) => `s.${t}(made_by)`
  const guess = (t: string, target: string, sure: number): Finding => ({
    id: findingId('reference', subject(t)),
    kind: 'reference',
    subject: subject(t),
    alternatives: [
      { key: noReference, confidence: 1 - sure, evidence: [], edits: [{ facet: 'reference.target', subject: subject(t), value: null }] },
      {
        key: `s.${target}(id)`,
        confidence: sure,
        evidence: [{ kind: 'same name', weight: 1, says: t }],
        edits: [
          {
            facet: 'reference.target',
            subject: subject(t),
            value: { schema: 's', table: target, columns: ['made_by'], targetColumns: ['id'], constraint: null },
          },
        ],
      },
    ],
  })
  const findings = [guess('bay', 'user', 0.4), guess('crate', 'ramp', 0.45), guess('lane', 'user', 0.01)]
  const own = reviewBaseWith(catalog, [], null, findings)

  it('are alike whatever they may refer to, and are said to be no references anywhere, also where it is hardly asked', () => {
    const r = reviewWith(own, hash, [])
    const bulk = bulkOf(`reference:${subject('bay')}`, own, r, [], new Set(), 'b')
    expect(bulk?.because).toBe('columns called made_by, perhaps references to several tables')
    expect(bulk?.members.map((m) => m.subject)).toEqual(['s.bay(made_by) to s.user(id)', 's.crate(made_by) to s.ramp(id)'])
    const never = bulk?.actions.find((a) => a.key === 'never')
    expect(never?.label).toBe('no column called made_by is a reference, in 3 tables')
    const entries = entriesOf(never?.entries ?? [])
    const after = reviewWith(own, hash, entries)
    expect([...after.statuses.values()]).toEqual(['accepted', 'accepted', 'accepted'])
    expect(batchOf(entries, 3)).toEqual([3, 2, 1])
  })
})

describe('pairs of columns that tell their table by a word', () => {
  const pair = (name: string, words: readonly string[], of: string) =>
    table(name, ['id', column(`${of}_kind`, { type: 'text' }), column(`${of}_id`)], ['id'], {
      checks: [
        {
          name: 'words',
          expression: { written: `${of}_kind IN (${words.map((w) => `'${w}'`).join(', ')})`, canonical: null },
          validated: true,
          inheritable: true,
          inherited: false,
          comment: null,
        },
      ],
    })
  const pairs = catalogOf(
    ...['bay', 'crate', 'lane'].map((n) => table(n, ['id'], ['id'])),
    pair('remark', ['bay', 'crate'], 'about'),
    pair('picture', ['bay', 'crate', 'lane'], 'owner'),
  )
  const r = reviewWith(reviewBase(pairs, []), hash, [])
  const pairFindings = r.findings.filter((f) => f.kind === 'polymorphic')

  it('are alike where the same speaks for them, however many words they have', () => {
    expect(pairFindings).toHaveLength(2)
    expect(alikeTo(pairFindings[0] as Finding, r)?.because).toBe('pairs of columns with the same for and against, each more likely than none')
  })

  it('are ruled on at once, each with the tables that its own words name', () => {
    const bulk = bulkOf(pairFindings[0]?.id ?? '', reviewBase(pairs, []), r, [], new Set(), 'b')
    const after = reviewWith(reviewBase(pairs, []), hash, entriesOf(bulk?.actions.find((a) => a.key === 'several tables')?.entries ?? []))
    expect([...after.kinds.values()].map((k) => k?.targets.map((t) => t.table)).sort()).toEqual([
      ['bay', 'crate'],
      ['bay', 'crate', 'lane'],
    ])
    expect(pairFindings.map((f) => after.statuses.get(f.id))).toEqual(['accepted', 'accepted'])
  })
})
