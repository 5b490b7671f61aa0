// The baseline's order over seeded random catalogs: nothing is made before what it needs, knots included.
import { describe, expect, it } from 'vitest'
import { baselinePlan } from '../../src/core/change/index.ts'
import { quoteAddress, quoteIdent } from '../../src/core/dialect/postgres/index.ts'
import { randomCatalog } from '../support/random.ts'

describe.each(Array.from({ length: 30 }, (_, i) => i + 1))('random catalog, seed %i', (seed) => {
  const catalog = randomCatalog(seed)
  const result = baselinePlan(catalog)
  const plan = result.ok ? result.plan : null
  const at = new Map(plan?.steps.map((s) => [s.object, s.number]))

  it('every table comes before its references, and so does every target', () => {
    expect(plan).not.toBeNull()
    for (const r of catalog.relations) {
      const made = at.get(`table ${quoteAddress(r)}`) as number
      expect(made).toBeGreaterThan(at.get(`schema ${quoteIdent(r.schema)}`) as number)
      for (const f of r.foreignKeys) {
        const declared = at.get(`foreign key ${quoteIdent(f.name)} of ${quoteAddress(r)}`) as number
        expect(declared).toBeGreaterThan(made)
        expect(declared).toBeGreaterThan(at.get(`table ${quoteAddress({ schema: f.target.schema, name: f.target.table })}`) as number)
      }
    }
  })

  it('every object is made once, and every step that makes one has a way back', () => {
    expect(at.size).toBe(plan?.steps.length)
    expect(plan?.steps.filter((s) => s.down.length === 0)).toEqual([])
  })
})
