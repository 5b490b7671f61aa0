// A one-to-one that only a person claims: everybody who relies on it is told that nothing guards it.
import { describe, expect, it } from 'vitest'
import { catalogOf, reference, table } from '../../../tests/support/catalogs.ts'
import { emitTypeScript } from '../emit/typescript/index.ts'
import { decodeEntry, describeModelDiagnostic, printedRelationships, sentencesOf, sentenceText } from '../model/index.ts'
import type { RowEvidence } from '../rows/index.ts'
import { claimQuestions } from './claims.ts'
import { detailOf } from './detail.ts'
import { looksOf } from './looks.ts'
import { notationText, readNotationOf } from './notation.ts'
import { reviewBase, reviewWith } from './review.ts'

const catalog = catalogOf(
  table('bay', ['id'], ['id']),
  table('lid', ['id', 'bay_id'], ['id'], { foreignKeys: [reference('lid_bay', ['bay_id'], 'bay', ['id'])] }),
)
const id = 'reference:s.lid(bay_id)'
const entries = [
  decodeEntry({ seq: 1, at: 'x', by: 'Ada', kind: 'edit', note: null, edit: { facet: 'reference.atMostOne', subject: 's.lid(bay_id)', value: true } }),
]
const made = (rows: RowEvidence | null = null) => {
  const base = reviewBase(catalog, entries, null, rows)
  return { base, r: reviewWith(base, 'x' as never, entries) }
}
const counted = (most: number): RowEvidence => {
  const [question] = claimQuestions(catalog, entries)
  const inclusion = {
    child: question?.child,
    parent: question?.parents[0],
    sampled: false,
    rows: 9,
    nulls: 0,
    values: 9,
    orphans: 0,
    missing: 0,
    parents: 9,
    parentRows: 9,
    least: 1,
    median: 1,
    most,
    query: '',
  }
  return { format: 'pelvok.rows/1', source: '', at: '', inclusions: [inclusion as never], kinds: [], partners: [], joins: [], statements: null, unread: [] }
}

describe('a one-to-one that only a person claims', () => {
  const { base, r } = made()
  const x = r.model.relationships.find((o) => o.id === id)
  const said = x ? sentencesOf(x, r.model).map(sentenceText) : []

  it('says in its sentence, in the code, the notation and the list that nothing guards it', () => {
    expect(said).toEqual(['Each lid has exactly one bay.', 'A bay has at most one lid: somebody says so, and nothing in the database guards it.'])
    const code = emitTypeScript(r.model, r.revision).find((f) => f.path === 'base/Bay.ts')?.text
    expect(code).toContain('nothing in the database guards it')
    const text = notationText(base, r)
    expect(text).toMatch(/lid +at most one Lid by its \(bay_id\), unguarded$/m)
    expect(printedRelationships(r.model, r.findings, r.statuses, 0)).toMatchObject([{ kind: 'one-to-one', to: { unguarded: true } }])
  })

  it('the word in the notation is read again, and changes nothing by itself', () => {
    const reading = readNotationOf({ whole: catalog, hash: 'x' as never, entries, known: null, now: null }, [{ file: 'a', text: notationText(base, r) }])
    expect([reading.problems, reading.changes]).toEqual([[], []])
  })

  it('offers the rule that would guard it, and to look for rows against it', () => {
    const detail = detailOf(id, catalog, r, entries)
    expect(detail?.schema.map((s) => [s.label, s.is])).toContainEqual(['Guard it by a unique rule', 'planned'])
    expect(looksOf(id, catalog, r.model)[0]).toMatchObject({
      key: 'over',
      label: 'Bay with more than one Lid',
      sql: expect.stringContaining('having count(c.bay_id) > 1'),
    })
    expect(detail?.relationship?.to.because).toBe('somebody says so; no unique rule on bay_id')
  })

  it.each([
    [3, 'up to 3 rows share a partner', '; counted: up to 3 rows share one partner'],
    [1, 'of 9 rows no two share a partner', '; counted: of 9 rows no two share one partner'],
  ])('rows are counted against it: %i', (most, told, because) => {
    const { r: now } = made(counted(most))
    expect(now.model.diagnostics.map(describeModelDiagnostic)).toEqual([expect.stringContaining(told)])
    expect(detailOf(id, catalog, now, entries)?.relationship?.to.because).toContain(because)
  })

  it('nothing is counted that nobody claims', () => expect(claimQuestions(catalog, [])).toEqual([]))
})
