// The demo's script is the catalog of its server, but for what the server prints in its own way.
import { readFileSync } from 'node:fs'
import { expect, it } from 'vitest'
import { compareCatalogs, decodeCatalog } from '../../src/core/catalog/index.ts'
import { allowedDifference, readScript } from '../../src/core/ddl/index.ts'
import { postgresScript } from '../../src/core/dialect/postgres/script.ts'

it('the demo reads the same from its script', () => {
  const ours = readScript([{ name: 'demo', text: readFileSync('demo/schema.sql', 'utf8') }], postgresScript).catalog
  const server = decodeCatalog(JSON.parse(readFileSync('tests/golden/coop/input.json', 'utf8')))
  const views = new Set(server.relations.filter((r) => r.kind.includes('view')).map((r) => `relation ${r.schema}.${r.name}`))
  expect(compareCatalogs(ours, server).filter((d) => allowedDifference(d, (o) => views.has(o)) === null)).toEqual([])
})
