import { describe, expect, it } from 'vitest'
import { catalogOf, column, reference, table } from '../../../tests/support/catalogs.ts'
import type { Relation } from '../catalog/index.ts'
import { findingStatuses, printedRelationships } from '../model/index.ts'
import { review } from '../review/index.ts'
import type { KindCount, RowEvidence } from '../rows/index.ts'
import { infer } from './index.ts'

const bay = table('bay', ['id'], ['id'])
const crate = table('crate', ['id'], ['id'])
const check = (written: string) => ({
  name: 'c',
  expression: { written, canonical: null },
  validated: true,
  inheritable: true,
  inherited: false,
  comment: null,
})
const tag = (more: Partial<Relation> = {}, ...columns: string[]) =>
  table('tag', ['id', column('owner_kind', { type: 'text' }), 'owner_id', ...columns], ['id'], more)
const find = (rows: RowEvidence | null, ...relations: readonly Relation[]) =>
  infer(catalogOf(...relations), rows).findings.filter((f) => f.kind === 'polymorphic')
const counted = (kinds: KindCount['kinds']): RowEvidence => ({
  format: 'pelvok.rows/1',
  source: '',
  at: '',
  inclusions: [],
  kinds: [{ schema: 's', table: 'tag', kindColumn: 'owner_kind', idColumn: 'owner_id', kinds, query: 'q' }],
  partners: [],
  joins: [],
  statements: null,
  unread: [],
})
const end = (name: string, columns: string[]) => ({ schema: 's', table: name, columns })
const kind = (value: string, parent: string, missing: number): KindCount['kinds'][number] => ({
  value,
  rows: 20,
  inclusion: {
    child: end('tag', ['owner_id']),
    parent: end(parent, ['id']),
    sampled: false,
    rows: 20,
    nulls: 0,
    values: 10,
    orphans: missing * 2,
    missing,
    parents: 10 - missing,
    parentRows: 12,
    least: 1,
    median: 2,
    most: 3,
    query: 'q',
  },
})

describe('a kind beside an id', () => {
  it('is asked about; without its words nobody can tell', () => {
    const [f] = find(null, bay, crate, tag())
    expect(f?.id).toBe('polymorphic:s.tag(owner_id,owner_kind)')
    expect(f?.alternatives.map((a) => [a.key, a.confidence])).toEqual([
      ['several tables', 0.5],
      ['none', 0.5],
    ])
  })
  it.each(["owner_kind IN ('bay', 'crates')", "(owner_kind)::text = ANY (ARRAY['bay'::text, 'crates'::text])"])('words of the check %s name tables', (text) => {
    const [f] = find(null, bay, crate, tag({ checks: [check(text)] }))
    expect(f?.alternatives[0]).toMatchObject({ key: 'several tables', confidence: 0.85 })
    expect(f?.alternatives[0].edits).toMatchObject([
      {
        value: {
          kindColumn: 'owner_kind',
          idColumn: 'owner_id',
          targets: [
            { value: 'bay', table: 'bay' },
            { value: 'crates', table: 'crate' },
          ],
        },
      },
    ])
  })
  it('is none where the id is the key of the table itself, under the letters that its columns begin with', () => {
    const own = (key: readonly string[]) => find(null, bay, table('event', ['ev_id', column('ev_type', { type: 'text' }), 'ev_time', 'ev_data'], key))
    expect(own([])).toEqual([])
    expect(own(['ev_id'])).toEqual([])
    // Of a longer key it is a part, and may well be of another table.
    expect(own(['ev_id', 'ev_type', 'ev_time']).map((f) => f.subject)).toEqual(['s.event(ev_id,ev_type)'])
  })
  it('words that name no table speak against it', () => {
    const [f] = find(null, bay, crate, tag({ checks: [check("owner_kind IN ('red', 'blue')")] }))
    expect(f?.alternatives[0].key).toBe('none')
  })
  it('rows tell the words, and how many point nowhere', () => {
    const [f] = find(counted([kind('bay', 'bay', 0), kind('crate', 'crate', 0)]), bay, crate, tag())
    expect(f?.alternatives[0]).toMatchObject({ key: 'several tables', confidence: 0.97 })
    expect(f?.alternatives[0].evidence.map((e) => e.says)).toContain('"bay" in 20 rows: 20 are in s.bay, 0 point nowhere')
    const [bad] = find(counted([kind('bay', 'bay', 6)]), bay, crate, tag())
    expect(bad?.alternatives[0].confidence).toBeLessThan(0.9)
  })
  it.each([
    ['a declared reference', tag({ foreignKeys: [reference('f', ['owner_id'], 'bay', ['id'])] })],
    ['an id that names its table', table('tag', ['id', column('bay_type', { type: 'text' }), 'bay_id'], ['id'])],
    ['a kind without an id', table('tag', ['id', column('owner_kind', { type: 'text' })], ['id'])],
  ])('is not seen in %s', (_, t) => {
    expect(find(null, bay, crate, t)).toEqual([])
  })
  it('is said in a sentence, printed word by word, and rejected', () => {
    const c = catalogOf(bay, crate, tag({ checks: [check("owner_kind IN ('bay', 'crate')")] }))
    const r = review(c, 'x' as never, [])
    const list = printedRelationships(r.model, r.findings, findingStatuses(r.findings, []), 0).filter((x) => x.kind === 'polymorphic')
    expect(list.map((x) => [x.id, x.to.table])).toEqual([
      ['polymorphic:s.tag(owner_id,owner_kind)>bay', 'bay'],
      ['polymorphic:s.tag(owner_id,owner_kind)>crate', 'crate'],
    ])
    expect(r.kinds.size).toBe(1)
  })
})
