import { describe, expect, it } from 'vitest'
import { catalogOf, column, reference, table } from '../../../tests/support/catalogs.ts'
import { decodeEntry, type EntryBody } from '../model/index.ts'
import { askingFor, detailOf } from './detail.ts'
import { docketItems } from './docket.ts'
import { entryText } from './entryText.ts'
import { reportHtml, reportMarkdown, reportOf } from './report.ts'
import { review } from './review.ts'
import { sheetOf } from './sheet.ts'

const catalog = catalogOf(
  table('bay', ['id', column('code', { type: 'text' })], ['id']),
  table('crate', ['id', 'bay_id', column('note', { type: 'text', nullable: true })], ['id'], { foreignKeys: [reference('f', ['bay_id'], 'bay', ['id'])] }),
  table('lane', ['id', column('bay', { nullable: true })], ['id']),
)
const entry = (seq: number, body: EntryBody) => decodeEntry({ ...body, seq, at: `2026-01-0${seq}T10:00:00.000Z`, by: 'Ada <a@b>' })
const plain = review(catalog, 'x' as never, [])
const lane = detailOf('reference:s.lane(bay)', catalog, plain, [])
const crate = detailOf('reference:s.crate(bay_id)', catalog, plain, [])
if (!lane || !crate?.reject) throw new Error('no detail')
const entries = [
  entry(1, askingFor(lane, 'Odile', 'Is *bay* a bay?')),
  entry(2, crate.reject),
  entry(3, { kind: 'note', subject: crate.subject, text: 'see <the> office' }),
]
const r = review(catalog, 'x' as never, entries)
const items = docketItems(r, new Map([['s.crate', { area: 'Crates & bays', rank: 0, rows: null }]]))
const report = reportOf('Review of a_b', '2026-02-01T12:00:00.000Z', r, items, ['Crates & bays'], entries)

describe('a review as a document', () => {
  it('says what is open, asked and ruled, area by area, each finding once', () => {
    const lines = report.areas.flatMap((a) => [...a.open, ...a.asked, ...a.ruled, ...a.certain])
    expect(lines).toHaveLength(items.filter((i) => i.status !== 'folded' && i.partOf === null).length)
    expect(report.counts.asked).toBe(1)
    expect(report.areas.map((a) => a.area)).toEqual(['Crates & bays', 'Standing alone'])
    expect(report.areas[0]?.ruled[0]?.history.map((h) => h.what)).toEqual(['rejected reference:s.crate(bay_id)', 'noted on s.crate(bay_id): see <the> office'])
  })
  it('as Markdown nothing that somebody wrote becomes markup', () => {
    const text = reportMarkdown(report)
    expect(text).toContain('# Review of a\\_b\n')
    expect(text).toContain('  - asked of Odile: Is \\*bay\\* a bay?')
    expect(text).toContain('noted on s.crate(bay\\_id): see \\<the\\> office')
  })
  it('as HTML it is one page that refers to nothing, with what somebody wrote escaped', () => {
    const html = reportHtml(report)
    expect(html).toContain('Ada &lt;a@b&gt;')
    expect(html).toContain('<h2>Crates &amp; bays</h2>')
    expect(html).not.toMatch(/<(link|script|img)|src=|href=/)
  })
  it('an amendment says what it made of it', () => {
    const other = lane.choices.find((c) => !c.taken)?.entry as EntryBody
    expect(entryText(entry(4, other))).toMatch(/^(amended|accepted) reference:s\.lane\(bay\)( to (a reference to s\.bay\(id\)|no reference))?$/)
  })
})

describe('the sheet of an entity', () => {
  const sheet = sheetOf('s.crate', catalog, catalog, plain)
  it('has each column in the database, the model and the code, and what would change with it', () => {
    expect(sheet?.columns.map((c) => [c.name, c.property?.value, c.required, c.marks])).toEqual([
      ['id', 'id', true, ['key']],
      ['bay_id', 'bayId', true, ['refers']],
      ['note', 'note', false, []],
    ])
    expect(sheet?.columns[2]?.target).toBe('string | null')
    expect(sheet?.columns[1]?.uses).toEqual(['foreign key f', 'relationship Crate.bay'])
  })
  it('has both sides of its relationships, how its rows are found, and its file', () => {
    expect(sheet?.ends).toEqual([expect.objectContaining({ property: 'bay', other: 'Bay', back: 'crates', holds: true })])
    expect(sheet?.finders.map((f) => f.says)).toEqual(['one crate by id', 'any number of crate rows by bayId'])
    expect(sheet?.file?.path).toBe('base/Crate.ts')
    expect(sheetOf('s.bay', catalog, catalog, plain)?.neededBy).toEqual(['s.crate'])
    expect(sheetOf('s.gone', catalog, catalog, plain)).toBeNull()
  })
  it('has columns that are left out, without a property', () => {
    const without = {
      ...catalog,
      relations: catalog.relations.map((x) => (x.name === 'crate' ? { ...x, columns: x.columns.filter((c) => c.name !== 'note') } : x)),
    }
    const left = sheetOf('s.crate', without, catalog, review(without, 'x' as never, []))
    expect(left?.columns.find((c) => c.name === 'note')?.property).toBeNull()
  })
})
