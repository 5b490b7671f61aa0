// A catalog printed as a script and read back is the same catalog, over seeded random catalogs and the demo's.
import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { type Catalog, compareCatalogs, decodeCatalog } from '../../src/core/catalog/index.ts'
import { baselinePlan, upScript } from '../../src/core/change/index.ts'
import { allowedDifference, readScript } from '../../src/core/ddl/index.ts'
import { postgresScript } from '../../src/core/dialect/postgres/script.ts'
import { randomCatalog } from '../support/random.ts'

function printedAndRead(c: Catalog) {
  const result = baselinePlan(c)
  if (!result.ok) throw new Error('no order of creation')
  return readScript([{ name: 'printed.sql', text: upScript(result.plan, null) }], postgresScript)
}

function differences(a: Catalog, b: Catalog) {
  const views = new Set(b.relations.filter((r) => r.kind.includes('view')).map((r) => `relation ${r.schema}.${r.name}`))
  return compareCatalogs(a, b).filter((d) => allowedDifference(d, (o) => views.has(o)) === null)
}

describe('printing a catalog and reading it back is the identity', () => {
  it.each(Array.from({ length: 40 }, (_, i) => i + 1))('random catalog, seed %i', (seed) => {
    const c = randomCatalog(seed)
    const r = printedAndRead(c)
    expect(r.diagnostics).toEqual([])
    expect(r.understood).toBe(r.structural)
    // A fresh database has it whether a catalog says so or not.
    const schemas = r.catalog.schemas.filter((s) => s.name !== 'public')
    expect(compareCatalogs({ ...r.catalog, schemas }, c)).toEqual([])
  })

  it('the demo', () => {
    const c = decodeCatalog(JSON.parse(readFileSync('tests/golden/coop/input.json', 'utf8')))
    const r = printedAndRead(c)
    expect(r.diagnostics).toEqual([])
    expect(differences(r.catalog, c)).toEqual([])
  })
})
