import { describe, expect, it } from 'vitest'
import { catalogOf, column, key, reference, table } from '../../../../tests/support/catalogs.ts'
import type { Catalog } from '../../catalog/index.ts'
import { review } from '../../review/index.ts'
import { emitTypeScript } from './index.ts'
import { docComment, quoteText } from './text.ts'

const files = (c: Catalog) => {
  const r = review(c, 'ab'.repeat(32) as never, [])
  return Object.fromEntries(
    emitTypeScript(r.model, r.revision)
      .filter((f) => f.own === null)
      .map((f) => [f.path.replace('base/', ''), f.text]),
  )
}

describe('emitted TypeScript', () => {
  it('gives both ends, storage and exact types', () => {
    const c = catalogOf(
      table('bay', ['id', column('area', { type: 'numeric(8,2)', nullable: true })], ['id'], { comment: 'A place; */ not an end.' }),
      table('crate', [column('id', { type: 'bigint' }), 'bay_id?'], ['id'], { foreignKeys: [reference('f', ['bay_id'], 'bay', ['id'])] }),
    )
    const out = files(c)
    expect(Object.keys(out).sort()).toEqual([
      'Bay.ts',
      'BayInput.ts',
      'BayStore.ts',
      'Crate.ts',
      'CrateInput.ts',
      'CrateStore.ts',
      'db.ts',
      'index.ts',
      'links.ts',
      'schemas.ts',
      'types.ts',
      'values.ts',
      'work.ts',
    ])
    expect(out['Bay.ts']).toContain('* A place; * / not an end.')
    expect(out['Bay.ts']).toContain('area: Decimal | null\n')
    expect(out['Bay.ts']).toContain('get crates(): LooseMany<Crate> | undefined {\n')
    expect(out['Crate.ts']).toContain('id: bigint\n')
    expect(out['Crate.ts']).toContain('set bay(bay: Bay | null) {\n    this.bayId = bay === null ? null : bay.id\n')
    expect(out['Crate.ts']).toContain("static readonly table = { schema: 's', name: 'crate' } as const")
    expect(out['Crate.ts']).toContain("bayId: 'bay_id',")
    expect(out['types.ts']).toContain('export type Decimal = string')
  })

  it('keeps its own files apart from entities of the same name', () => {
    expect(Object.keys(files(catalogOf(table('index', ['id'], ['id']), table('types', ['id'], ['id'], {})))).sort()).toEqual([
      'IndexEntity.ts',
      'IndexInput.ts',
      'IndexStore.ts',
      'Type.ts',
      'TypeInput.ts',
      'TypeStore.ts',
      'db.ts',
      'index.ts',
      'schemas.ts',
      'values.ts',
      'work.ts',
    ])
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
    expect(out['T.ts']).toContain('c: (Place | null)[]\n')
  })

  it('the same model gives the same bytes', () => {
    const c = catalogOf(table('bay', ['id'], ['id']))
    expect(files(c)).toEqual(files(c))
  })

  it('texts and comments cannot break out', () => {
    expect(quoteText("a'b\\c\nd")).toBe("'a\\'b\\\\c\\nd'")
    expect(docComment(['one */ two', 'three'], '')).toBe('/**\n * one * / two\n * three\n */\n')
  })

  it('says the key, the unique rules, what columns stand together, and who counts changes', () => {
    const made = [column('created_at', { type: 'timestamp with time zone' }), column('created_by', { type: 'character varying(9)', nullable: true })]
    const out = files(
      catalogOf(
        table('bay', ['hall', 'no', ...made, column('version', { type: 'integer', default: { written: '1', canonical: '1' } })], ['hall', 'no'], {
          uniques: [key('one label', ['no', 'created_at'])],
        }),
        table('crate', ['id', ...made], ['id']),
        table('lane', ['id', ...made], ['id']),
        table('loose', ['word'], []),
      ),
    )
    expect(out['Bay.ts']).toContain("export type BayKey = Pick<BayBase, 'hall' | 'no'>")
    expect(out['Bay.ts']).toContain("    'one label': ['no', 'createdAt'],\n")
    expect(out['Bay.ts']).toContain('export class BayBase implements Created {')
    expect(out['Bay.ts']).toContain('Counts its changes. */\n  version: number')
    expect(out['Bay.ts']).toContain('Whoever makes a new one gives its key.')
    expect(out['types.ts']).toContain('What 3 entities have alike: created_at, created_by.')
    expect(out['types.ts']).toContain('export interface Created {\n  createdAt: Instant\n  createdBy: string | null\n}')
    expect(out['BayInput.ts']).not.toMatch(/createdAt|version/)
    expect(out['LooseInput.ts']).toBeUndefined()
    expect(out['Loose.ts']).toContain('Read-only: it has no primary key')
  })

  it('names nothing twice, and no variable by a word that cannot be one', () => {
    const out = files(
      catalogOf(
        table('bay', ['id', 'load_crates'], ['id']),
        table('crate', ['id', 'class_id', 'bay_id'], ['id'], {
          foreignKeys: [reference('a', ['class_id'], 'class', ['id']), reference('b', ['bay_id'], 'bay', ['id'])],
        }),
        table('class', ['id'], ['id']),
        table('crate_key', ['id'], ['id']),
        table('crate_input', ['id'], ['id']),
      ),
    )
    expect(out['Crate.ts']).toContain('set class(classValue: Class) {\n    this.classId = classValue.id\n')
    expect(out['Crate.ts']).toContain('export type CrateRowKey = ')
    expect(out['Bay.ts']).toContain('loadCrates2(members: Iterable<Crate>): void {')
    expect(Object.keys(out).filter((f) => /^CrateInput/.test(f))).toEqual(['CrateInput.ts', 'CrateInputInput.ts', 'CrateInputStore.ts'])
    expect(out['CrateRowInput.ts']).toContain('export type CrateRowInput = ')
  })

  it('of engines whose rows are not read by their text there are no values', () => {
    const out = files({ ...catalogOf(table('bay', ['id'], ['id'])), dialect: 'sqlite' })
    expect(Object.keys(out)).not.toContain('values.ts')
    expect(out['Bay.ts']).not.toContain('fromRow')
  })
})
