// Rows of every PostgreSQL schema there is: as CSV they are read back as they were, in whatever order the files come.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { type Catalog, canonicalText, hashText } from '../../src/core/catalog/index.ts'
import { readScript } from '../../src/core/ddl/index.ts'
import { postgresScript } from '../../src/core/dialect/postgres/script.ts'
import { fixtureCsv, fixtureProblemLine, fixtureSql, generateFixtures, namedFixtures, readFixtures } from '../../src/core/fixtures/index.ts'
import { review } from '../../src/core/review/index.ts'
import { randomCatalog } from '../support/random.ts'

const read = (text: string): Catalog => readScript([{ name: 'a.sql', text }], postgresScript).catalog
const folder = '../shared/corpus'
const schemas = [
  ...readdirSync(folder)
    .filter((d) => d.endsWith('-pg') && existsSync(`${folder}/${d}/normalized.sql`))
    .map((name) => ({ name, catalog: () => read(readFileSync(`${folder}/${name}/normalized.sql`, 'utf8')) })),
  { name: 'the demo', catalog: () => read(readFileSync('demo/schema.sql', 'utf8')) },
  ...Array.from({ length: 20 }, (_, i) => ({ name: `a random schema, seed ${i + 1}`, catalog: () => randomCatalog(i + 1) })),
]
const statements = (sql: string) => sql.split('\n').toSorted()

describe.each(schemas)('rows of $name', ({ catalog: make }) => {
  const catalog = make()
  const { model } = review(catalog, hashText(canonicalText(catalog)), [])
  const f = namedFixtures(catalog, model, generateFixtures(catalog, 7, 5))

  it('come back from their files', () => {
    for (const files of [fixtureCsv(f), fixtureCsv(f).toReversed()]) {
      const back = readFixtures(catalog, model, files)
      if (!back.ok) throw new Error(back.problems.slice(0, 10).map(fixtureProblemLine).join('\n'))
      const again = namedFixtures(catalog, model, back.fixtures)
      expect(again.left).toEqual([])
      expect(statements(fixtureSql(again))).toEqual(statements(fixtureSql(f)))
    }
  })

  it('never name a number that the database gives', () => {
    for (const r of f.rows)
      for (const c of f.shapes.get(r.relation)?.relation.columns ?? []) if (c.identity) expect(r.values.has(c.name), `${r.relation} ${c.name}`).toBe(false)
  })
})
