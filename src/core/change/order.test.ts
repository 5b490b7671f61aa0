import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { orderByDependency } from './order.ts'

describe('order by dependency', () => {
  it('moves nothing that need not move', () => {
    expect(orderByDependency(['a', 'b', 'c'], () => [])).toEqual({ ok: true, order: ['a', 'b', 'c'] })
    expect(orderByDependency(['a', 'b', 'c', 'd'], (id) => (id === 'a' ? ['c'] : []))).toEqual({ ok: true, order: ['b', 'c', 'a', 'd'] })
  })
  it('names the members of a cycle and what depends on it', () => {
    const needs: Record<string, string[]> = { a: ['b'], b: ['a'], c: ['a'], d: [] }
    expect(orderByDependency(['a', 'b', 'c', 'd'], (id) => needs[id] ?? [])).toEqual({ ok: false, stuck: ['a', 'b', 'c'] })
  })
  it('puts each after all it needs, seed 7', () => {
    const edges = fc.array(fc.tuple(fc.nat(30), fc.nat(30)), { maxLength: 80 })
    fc.assert(
      fc.property(edges, (list) => {
        const ids = Array.from({ length: 31 }, (_, i) => i)
        const needs = (id: number) => list.filter(([a, b]) => a === id && b < a).map(([, b]) => b)
        const result = orderByDependency(ids, needs)
        expect(result.ok).toBe(true)
        if (!result.ok) return
        const at = new Map(result.order.map((id, i) => [id, i]))
        for (const id of ids) for (const n of needs(id)) expect(at.get(n)).toBeLessThan(at.get(id) as number)
      }),
      { seed: 7 },
    )
  })
})
