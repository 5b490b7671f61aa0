// What keeps outputs back, and the one entry that takes proposals as they stand.
import { describe, expect, it } from 'vitest'
import { catalogOf, column, reference, table } from '../../../tests/support/catalogs.ts'
import { infer } from '../infer/index.ts'
import {
  blocking,
  changedSinceRuling,
  decodeEntry,
  derive,
  type EntryBody,
  type Finding,
  findingStatuses,
  type LedgerEntry,
  openQuestions,
  ruledBy,
  ruling,
  severityOf,
  taking,
} from './index.ts'

const catalog = catalogOf(
  table('bay', ['id', 'label'], ['id']),
  table('crate', ['id', 'bay_id?', column('weight', { type: 'numeric(8,2)' })], ['id']),
  table('label', ['id', 'crate_id'], ['id'], { foreignKeys: [reference('f', ['crate_id'], 'crate', ['id'])] }),
)
const { findings } = infer(catalog)
const guess = findings.find((f) => f.id === 'reference:s.crate(bay_id)') as Finding
const ledger = (...bodies: readonly EntryBody[]): readonly LedgerEntry[] => bodies.map((b, i) => decodeEntry({ ...b, seq: i + 1, at: 'x', by: 'Ada' }))
/** As in a project that wants everything ruled on. */
const strict: EntryBody = { kind: 'edit', edit: { facet: 'project.threshold', subject: 'project:', value: 1 }, note: null }
const statuses = (entries: readonly LedgerEntry[], of = findings) => findingStatuses(of, entries)
const blocked = (entries: readonly LedgerEntry[], of = findings) => blocking(of, statuses(entries, of), changedSinceRuling(of, entries))
const ids = (list: readonly Finding[]) => list.map((f) => f.id as string)
const take = (entries: readonly LedgerEntry[]) => taking(blocked(entries), statuses(entries), 'to begin with')

describe('what keeps outputs back', () => {
  it('is what waits, what was asked and what answers otherwise since, where an answer changes what comes out', () => {
    expect(ids(blocked(ledger(strict)))).toContain(guess.id)
    expect(ids(blocked(ledger(strict, ruling(guess, 'accept', [], null))))).not.toContain(guess.id)
    const ask: EntryBody = { ...(ruling(guess, 'ask', [], null) as Extract<EntryBody, { kind: 'rule' }>), asks: { whom: 'Bo', question: 'is it?' } }
    expect(ids(blocked(ledger(strict, ask)))).toContain(guess.id)
    const other = findings.map((f) => (f === guess ? { ...f, alternatives: [{ ...f.alternatives[0], confidence: 0.31 }] as const } : f))
    expect(ids(blocked(ledger(strict, ruling(guess, 'accept', [], null)), other))).toContain(guess.id)
  })

  it('is nothing that only tells: a question about the structure without an answer that sets something', () => {
    const told: Finding = { ...guess, kind: 'structure', alternatives: [{ ...guess.alternatives[0], edits: [] }] }
    expect(severityOf(told)).toBe('tells')
    expect(severityOf({ ...told, alternatives: [guess.alternatives[0]] })).toBe('blocks')
    expect(blocking([told], new Map([[told.id, 'open']]), new Set())).toEqual([])
  })
})

describe('taking proposals as they stand', () => {
  const entries = ledger(strict, ...[take(ledger(strict))])

  it('is one entry that lists them and leaves nothing open', () => {
    expect(entries[1]).toMatchObject({ kind: 'take', note: 'to begin with' })
    expect(blocked(entries)).toEqual([])
    expect(statuses(entries).get(guess.id)).toBe('taken')
    expect(ruledBy(findings, entries).get(guess.id)).toMatchObject({ who: 'Ada', seq: 2 })
    expect(derive(catalog, findings, entries)).toEqual(derive(catalog, findings, ledger(strict)))
  })

  it('stands where the inference answers otherwise later, and is asked about then', () => {
    const [first] = guess.alternatives
    const none = { ...first, key: 'none', edits: [{ facet: 'reference.target' as const, subject: guess.subject, value: null }] }
    const turned = findings.map((f) => (f === guess ? { ...f, alternatives: [none, first] as const } : f))
    const has = (of: readonly Finding[], list: readonly LedgerEntry[]) => derive(catalog, of, list).relationships.some((r) => r.id === guess.id)
    expect([has(findings, entries), has(turned, entries), has(turned, ledger(strict))]).toEqual([true, true, false])
    expect(ids(blocked(entries, turned))).toEqual([guess.id])
  })

  it('gives way to a ruling, is undone like one, and answers what was asked', () => {
    const no = ruling(guess, 'reject', [{ facet: 'reference.target', subject: guess.subject, value: null }], null)
    expect(statuses(ledger(strict, take(ledger(strict)), no)).get(guess.id)).toBe('rejected')
    expect(ids(blocked(ledger(strict, take(ledger(strict)), { kind: 'revert', reverts: 2 })))).toContain(guess.id)
    const ask: EntryBody = { ...(ruling(guess, 'ask', [], null) as Extract<EntryBody, { kind: 'rule' }>), asks: { whom: 'Bo', question: 'is it?' } }
    const asked = ledger(strict, ask)
    expect(openQuestions(asked).has(guess.id)).toBe(true)
    expect(openQuestions(ledger(strict, ask, take(asked))).has(guess.id)).toBe(false)
  })

  it('keeps a ruling whose finding answers otherwise since, and says only that this was seen', () => {
    const no = ruling(guess, 'reject', [{ facet: 'reference.target', subject: guess.subject, value: null }], null)
    const other = findings.map((f) => (f === guess ? { ...f, alternatives: [{ ...f.alternatives[0], confidence: 0.31 }] as const } : f))
    const before = ledger(strict, no)
    const seen = taking(blocked(before, other), statuses(before, other), null)
    const after = ledger(strict, no, seen)
    expect(ids(blocked(after, other))).toEqual([])
    expect(statuses(after, other).get(guess.id)).toBe('rejected')
    expect(derive(catalog, other, after).relationships.some((r) => r.id === guess.id)).toBe(false)
  })

  it('is enforced once the database declares what was taken', () => {
    const key = reference('crate_bay', ['bay_id'], 'bay', ['id'])
    const declared = { ...catalog, relations: catalog.relations.map((r) => (r.name === 'crate' ? { ...r, foreignKeys: [key] } : r)) }
    const of = infer(declared).findings
    const stateWith = (c: typeof catalog, list: readonly Finding[]) => derive(c, list, entries).relationships.find((r) => r.id === guess.id)?.state
    expect([stateWith(catalog, findings), stateWith(declared, of)]).toEqual(['guessed', 'enforced'])
  })

  it('moves along with a table that has another name', () => {
    const renamed = ledger(strict, take(ledger(strict)), { kind: 'rebind', from: 's.crate', to: 's.box', note: null })
    const boxes = infer(
      catalogOf(
        table('bay', ['id', 'label'], ['id']),
        table('box', ['id', 'bay_id?', column('weight', { type: 'numeric(8,2)' })], ['id']),
        table('label', ['id', 'crate_id'], ['id'], { foreignKeys: [reference('f', ['crate_id'], 'box', ['id'])] }),
      ),
    ).findings
    expect(statuses(renamed, boxes).get('reference:s.box(bay_id)')).toBe('taken')
  })
})
