// A view that comes in portions is the view: whatever came before, and in however many parts.
import { describe, expect, it } from 'vitest'
import { randomCatalog } from '../../../tests/support/random.ts'
import { randomLedger } from '../../../tests/support/rulings.ts'
import { hashText } from '../catalog/index.ts'
import type { LedgerEntry } from '../model/index.ts'
import { firstPortion, inParts, isSmall, portionOf, type ReviewBase, recognized, reviewBase, reviewWith, type Seen, seenOf, viewAfter } from './index.ts'

const statistics = { at: '', relations: [], sequences: [] }
const hash = hashText('portions')
const looking = { who: 'Mara', last: null, dayFrom: '2026-01-01' }
const seen = (base: ReviewBase, entries: readonly LedgerEntry[]): Seen => seenOf(base, reviewWith(base, hash, entries), hash, entries, statistics, looking)
const shown = ({ facts, scene, docket }: Seen) => ({ ...facts, scene, docket, complete: true, rows: null })

describe.each([1, 2, 3, 4, 5, 6, 7, 8])('a review, seed %i', (seed) => {
  const base = reviewBase(randomCatalog(seed), [])
  const entries = randomLedger(base.findings, seed * 3)

  it('is followed ruling by ruling', () => {
    let before: Seen | null = null
    let view: ReturnType<typeof viewAfter> | null = null
    for (let n = 0; n <= entries.length; n += 1) {
      const now = seen(base, entries.slice(0, n))
      const portion = portionOf(before, now)
      view = viewAfter(view, JSON.parse(JSON.stringify(portion)))
      expect(view).toEqual(shown(now))
      before = now
    }
    // Nothing new, nothing told.
    const again = portionOf(before, seen(base, entries))
    expect([again.facts, again.docket?.gone, again.docket?.come]).toEqual([{}, [], []])
  })

  it('a ruling tells the rows it changes, and no others', () => {
    const [was, is] = [seen(base, entries.slice(0, 4)), seen(base, entries.slice(0, 5))]
    const texts = new Set(was.docket.map((i) => JSON.stringify(i)))
    const others = is.docket.filter((i) => !texts.has(JSON.stringify(i)))
    const come = portionOf(was, is).docket?.come.map(([, item]) => item) ?? []
    for (const item of others) expect(come).toContain(item)
    expect(come.length).toBeLessThanOrEqual(others.length + 3)
  })

  it('comes in parts, those that wait first', () => {
    const now = seen(base, entries)
    const [first, ...rest] = inParts(portionOf(null, now), now)
    let view = viewAfter(null, first as NonNullable<typeof first>)
    expect(view.docket.filter((i) => i.status === 'open' || i.changed)).toHaveLength(view.counts.waiting)
    for (const portion of rest) view = viewAfter(view, portion)
    expect(view).toEqual(shown(now))
  })

  it('what the server kept as text is known again: only the rest is told', () => {
    const now = seen(base, entries)
    const first = JSON.parse(JSON.stringify(firstPortion(now)))
    const view = viewAfter(null, first)
    const told = recognized({ facts: first.facts, scene: view.scene, docket: view.docket }, now)
    const change = portionOf(told, now)
    expect(isSmall(change)).toBe(true)
    expect(change.facts).toEqual({})
    expect(
      Object.values(change.scene?.lists ?? {})
        .flat()
        .filter((x) => typeof x !== 'number'),
    ).toEqual([])
    expect(change.docket?.gone).toEqual([])
    expect(viewAfter(view, change)).toEqual(shown(now))
  })
})

it('thousands of rows come a few hundred at a time', () => {
  const base = reviewBase(randomCatalog(1), [])
  const now = seen(base, [])
  const many = {
    ...now,
    docket: Array.from({ length: 2000 }, (_, i) => ({
      ...(now.docket[0] as (typeof now.docket)[number]),
      id: `entity:${i}` as never,
      status: 'certain' as const,
    })),
  }
  const parts = inParts(portionOf(null, many), many)
  expect(parts.every(isSmall)).toBe(true)
  expect(parts.map((p) => p.docket?.complete)).toEqual([...parts.slice(1).map(() => false), true])
})
