// The notation of every schema there is: written, laid out again, read against its review and read as a source of its own, it says the same.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { type Catalog, canonicalText, hashText } from '../../src/core/catalog/index.ts'
import { readScript } from '../../src/core/ddl/index.ts'
import { parseDialect, semanticsOf } from '../../src/core/dialect/guess.ts'
import { infer } from '../../src/core/infer/index.ts'
import type { EntityModel, LedgerEntry } from '../../src/core/model/index.ts'
import { formatNotation, notationProblemLine, notationSource, readNotation } from '../../src/core/notation/index.ts'
import { notationBase, notationText, reviewBase, reviewWith } from '../../src/core/review/index.ts'
import { randomCatalog } from '../support/random.ts'
import { randomLedger } from '../support/rulings.ts'

const read = (text: string, dialect: string): Catalog => {
  const choice = parseDialect(dialect)
  if (!choice) throw new Error(dialect)
  return readScript([{ name: 'a.sql', text }], semanticsOf(choice)).catalog
}
const folder = '../shared/corpus'
const schemas: readonly { readonly name: string; readonly catalog: () => Catalog }[] = [
  ...readdirSync(folder)
    .filter((d) => existsSync(`${folder}/${d}/normalized.sql`))
    .map((name) => ({
      name,
      catalog: () => read(readFileSync(`${folder}/${name}/normalized.sql`, 'utf8'), readFileSync(`${folder}/${name}/dialect`, 'utf8').trim()),
    })),
  ...['postgresql', 'mariadb', 'sqlite'].map((d) => ({
    name: `a script of everything, ${d}`,
    catalog: () => read(readFileSync(`tests/scripts/torture.${d}.sql`, 'utf8'), d),
  })),
  { name: 'the demo', catalog: () => read(readFileSync('demo/schema.sql', 'utf8'), 'postgresql') },
  ...Array.from({ length: 20 }, (_, i) => ({ name: `a random schema, seed ${i + 1}`, catalog: () => randomCatalog(i + 1) })),
]

const reviewed = (catalog: Catalog, entries: readonly LedgerEntry[]) => {
  const base = reviewBase(catalog, entries)
  return { base, r: reviewWith(base, hashText(canonicalText(catalog)), entries) }
}

/** What depends on evidence and not on the model: how sure inference is, and what it tells beside it. */
const apart = (m: EntityModel) => ({
  ...m,
  relationships: m.relationships.map((r) => ({ ...r, confidence: 0 })),
  joinHalves: m.joinHalves.map((h) => ({ ...h, confidence: 0 })),
  diagnostics: m.diagnostics.filter((d) => d.code === 'claimed-always' || d.code === 'claimed-one'),
})

/** The demo and random schemas with rulings of all kinds, some of them taken back. */
const ruled = Array.from({ length: 24 }, (_, i) => ({
  name: i % 2 === 0 ? `the demo, ruled on, seed ${i}` : `a random schema, ruled on, seed ${i}`,
  catalog: () => (i % 2 === 0 ? read(readFileSync('demo/schema.sql', 'utf8'), 'postgresql') : randomCatalog(i)),
  seed: i,
}))

describe.each<(typeof schemas)[number] & { readonly seed?: number }>([...schemas, ...ruled])('the notation of $name', ({ catalog: make, seed }) => {
  const catalog = make()
  const entries = seed === undefined ? [] : randomLedger(infer(catalog).findings, seed)
  const { base, r } = reviewed(catalog, entries)
  const text = notationText(base, r)
  const files = [{ file: 'model.pelvok', text }]
  const told = (problems: Parameters<typeof notationProblemLine>[0][]) => problems.map((p) => notationProblemLine(p, new Map([['model.pelvok', text]])))

  it('is read against its review without a change', () => {
    const reading = readNotation(files, notationBase(base, r, entries))
    expect(told([...reading.problems])).toEqual([])
    expect(reading.changes).toEqual([])
  })

  it('is laid out as it is written', () => {
    const laid = formatNotation(files[0] as (typeof files)[0])
    expect(laid.ok ? laid.text : laid.problems).toBe(text)
  })

  it('is a source of the same model', () => {
    const source = notationSource(files)
    if (!source.ok) throw new Error(told([...source.problems]).join('\n'))
    const again = reviewed(source.catalog, source.entries)
    // What an index goes on with beyond plain columns is not said, so it is not there.
    const plain = (t: string) => t.replace(/, revision '(.*)'/, '').replaceAll(', ...)', ')')
    expect(plain(notationText(again.base, again.r))).toBe(plain(text))
    expect(apart(again.r.model)).toEqual(apart(r.model))
  })

  it('in kinds of values is read without a change too', () => {
    const neutral = [{ file: 'model.pelvok', text: notationText(base, r, { neutral: true }) }]
    const reading = readNotation(neutral, notationBase(base, r, entries))
    expect(reading.problems.map((p) => notationProblemLine(p, new Map([['model.pelvok', neutral[0]?.text ?? '']])))).toEqual([])
    expect(reading.changes).toEqual([])
  })
})
