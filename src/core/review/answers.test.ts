// Which answer is offered: the likeliest while nobody has ruled, then the one in force; and which stand beside it.
import { describe, expect, it } from 'vitest'
import { catalogOf, table } from '../../../tests/support/catalogs.ts'
import { randomCatalog } from '../../../tests/support/random.ts'
import { canonicalText, hashText } from '../catalog/index.ts'
import { decodeEntry, type EntryBody, type Finding, noReference } from '../model/index.ts'
import { detailOf } from './detail.ts'
import { docketItems } from './docket.ts'
import { namingProblem } from './rename.ts'
import { reviewBase, reviewBaseWith, reviewWith } from './review.ts'

const hash = hashText('answers')

const catalog = catalogOf(table('bay', ['id'], ['id']), table('rack', ['id'], ['id']), table('crate', ['id', 'rack_no'], ['id']))
const subject = 's.crate(rack_no)'
const to = (name: string, confidence: number): Finding['alternatives'][number] => ({
  key: `s.${name}(id)`,
  confidence,
  evidence: [],
  edits: [{ facet: 'reference.target', subject, value: { schema: 's', table: name, columns: ['rack_no'], targetColumns: ['id'], constraint: null } }],
})
const none = (confidence: number): Finding['alternatives'][number] => ({
  key: noReference,
  confidence,
  evidence: [],
  edits: [{ facet: 'reference.target', subject, value: null }],
})
const seen = (alternatives: Finding['alternatives'], ...bodies: readonly EntryBody[]) => {
  const finding = { id: `reference:${subject}`, kind: 'reference', subject, alternatives } as Finding
  const entries = bodies.map((b, i) => decodeEntry({ ...b, seq: i + 1, at: 'x', by: 'Ada' }))
  const r = reviewWith(reviewBaseWith(catalog, entries, null, [finding]), hashText(canonicalText(catalog)), entries)
  const detail = detailOf(finding.id, catalog, r, entries)
  if (!detail) throw new Error('there is no such finding')
  return {
    detail,
    says:
      docketItems(r)[0]
        ?.says.flatMap((s) => s.map((run) => run.text))
        .join('') ?? '',
  }
}

describe('the answer that is offered', () => {
  it('is never one that scores below another: a table that is likelier than none, and not sure enough to be taken', () => {
    const { detail, says } = seen([none(0.22), to('rack', 0.48), to('bay', 0.3)])
    expect([detail.offered, detail.other?.label]).toEqual(['a reference to s.rack(id)', 'a reference to s.bay(id)'])
    expect(detail.accept).toMatchObject({ verdict: 'amend', edits: [{ facet: 'reference.target', value: { table: 'rack' } }] })
    // Rejecting it is saying that there is none.
    expect(detail.reject).toMatchObject({ verdict: 'reject', edits: [{ facet: 'reference.target', value: null }] })
    expect(detail.choices.find((c) => c.taken)?.key).toBe(noReference)
    expect(says).toBe('s.crate(rack_no) may refer to s.rack(id), which is not sure enough to be taken.')
  })

  it('is none where that is likelier, with the table beside it', () => {
    const { detail, says } = seen([none(0.6), to('rack', 0.4)])
    expect([detail.offered, detail.other?.label, detail.reject]).toEqual(['no reference', 'a reference to s.rack(id)', null])
    expect(says).toBe('s.crate(rack_no) is probably no reference. It could refer to s.rack(id).')
  })

  it('is the one in force once somebody has ruled', () => {
    const { detail } = seen([none(0.22), to('rack', 0.48)], {
      kind: 'rule',
      finding: `reference:${subject}` as never,
      verdict: 'reject',
      edits: [{ facet: 'reference.target', subject, value: null }],
      fingerprint: '',
      note: null,
    })
    expect(detail.offered).toBe('no reference')
  })

  it('has nothing beside it that hardly anything speaks for', () => {
    expect(seen([none(0.6), to('rack', 0.4), to('bay', 0.004)]).detail.choices.map((c) => c.key)).toEqual([noReference, 's.rack(id)'])
  })
})

describe.each([1, 2, 3, 4, 5, 6, 7, 8])('every answer of every finding, seed %i', (seed) => {
  it('can be given: the names that go with it are free', () => {
    const random = randomCatalog(seed)
    const base = reviewBase(random, [])
    const r = reviewWith(base, hash, [])
    const problems = base.findings.flatMap((f) => {
      const detail = detailOf(f.id, random, r, [])
      return [...(detail?.choices.map((c) => c.entry) ?? []), ...(detail ? [detail.accept] : [])].flatMap((e) => namingProblem(base, hash, [], [e]) ?? [])
    })
    expect(problems).toEqual([])
  })
})

it('a column that becomes a reference to its own table keeps its name; the end takes the next that is free', () => {
  const own = catalogOf(table('bay', ['id', 'made_by'], ['id']))
  const made = 's.bay(made_by)'
  const target = { schema: 's', table: 'bay', columns: ['made_by'], targetColumns: ['id'], constraint: null }
  const finding = {
    id: `reference:${made}`,
    kind: 'reference',
    subject: made,
    alternatives: [
      { key: noReference, confidence: 0.2, evidence: [], edits: [{ facet: 'reference.target', subject: made, value: null }] },
      {
        key: 's.bay(id)',
        confidence: 0.45,
        evidence: [],
        edits: [
          { facet: 'reference.target', subject: made, value: target },
          { facet: 'reference.ownName', subject: made, value: 'madeBy' },
          { facet: 'reference.inverseName', subject: made, value: 'madeBy' },
        ],
      },
    ],
  } as unknown as Finding
  const base = reviewBaseWith(own, [], null, [finding])
  const { accept } = detailOf(finding.id, own, reviewWith(base, hash, []), []) ?? {}
  expect(accept?.kind === 'rule' && accept.edits.slice(1).map((e) => e.value)).toEqual(['madeBy2', 'madeBy3'])
})
