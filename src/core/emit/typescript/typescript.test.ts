import { describe, expect, it } from 'vitest'
import { catalogOf, column, reference, table } from '../../../../tests/support/catalogs.ts'
import type { Catalog } from '../../catalog/index.ts'
import { review } from '../../review/index.ts'
import { emitTypeScript } from './index.ts'
import { docComment, quoteText } from './text.ts'

const files = (c: Catalog) => {
  const r = review(c, 'ab'.repeat(32) as never, [])
  return Object.fromEntries(emitTypeScript(r.model, r.revision).map((f) => [f.path, f.text]))
}

describe('emitted TypeScript', () => {
  it('gives both ends, storage and exact types', () => {
    const c = catalogOf(
      table('bay', ['id', column('area', { type: 'numeric(8,2)', nullable: true })], ['id'], { comment: 'A place; */ not an end.' }),
      table('crate', [column('id', { type: 'bigint' }), 'bay_id?'], ['id'], { foreignKeys: [reference('f', ['bay_id'], 'bay', ['id'])] }),
    )
    const out = files(c)
    expect(Object.keys(out)).toEqual(['Bay.ts', 'Crate.ts', 'index.ts', 'types.ts'])
    expect(out['Bay.ts']).toContain('* A place; * / not an end.')
    expect(out['Bay.ts']).toContain('area: Decimal | null\n')
    expect(out['Bay.ts']).toContain('crates?: Crate[]\n')
    expect(out['Crate.ts']).toContain('id: bigint\n')
    expect(out['Crate.ts']).toContain('bay?: Bay | null\n')
    expect(out['Crate.ts']).toContain("static readonly table = { schema: 's', name: 'crate' } as const")
    expect(out['Crate.ts']).toContain("bayId: 'bay_id',")
    expect(out['types.ts']).toContain('export type Decimal = string')
  })

  it('keeps its own files apart from entities of the same name', () => {
    expect(Object.keys(files(catalogOf(table('index', ['id'], ['id']), table('types', ['id'], ['id'], {}))))).toEqual(['IndexEntity.ts', 'Type.ts', 'index.ts'])
  })

  it('declares no alias that an entity or type is called', () => {
    const out = files(catalogOf(table('decimal', [column('v', { type: 'numeric' })], ['v'])))
    expect(out['types.ts']).toContain('export type DecimalValue = string')
    expect(out['Decimal.ts']).toContain('v: DecimalValue\n')
  })

  it('writes enumerated types, domains and composites under their own names', () => {
    const c: Catalog = {
      ...catalogOf(table('t', [column('a', { type: 's.mood' }), column('b', { type: 's.amount' }), column('c', { type: 's.place[]' })], ['a'])),
      enums: [{ schema: 's', name: 'mood', labels: ["it's", 'ok'], comment: null }],
      domains: [{ schema: 's', name: 'amount', type: 'bigint', nullable: true, default: null, collation: null, checks: [], comment: null, dependsOn: [] }],
      composites: [
        { schema: 's', name: 'place', attributes: [{ name: 'the x', type: 'integer', collation: null, comment: null }], comment: null, dependsOn: [] },
      ],
    }
    const out = files(c)
    expect(out['types.ts']).toContain("export type Mood = 'it\\'s' | 'ok'\n")
    expect(out['types.ts']).toContain('export type Amount = bigint\n')
    expect(out['types.ts']).toContain("  'the x': number | null\n")
    expect(out['T.ts']).toContain('c: Place[]\n')
  })

  it('the same model gives the same bytes', () => {
    const c = catalogOf(table('bay', ['id'], ['id']))
    expect(files(c)).toEqual(files(c))
  })

  it('texts and comments cannot break out', () => {
    expect(quoteText("a'b\\c\nd")).toBe("'a\\'b\\\\c\\nd'")
    expect(docComment(['one */ two', 'three'], '')).toBe('/**\n * one * / two\n * three\n */\n')
  })
})
