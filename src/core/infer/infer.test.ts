import { describe, expect, it } from 'vitest'
import { catalogOf, column, index, key, reference, table } from '../../../tests/support/catalogs.ts'
import type { Catalog, Relation } from '../catalog/index.ts'
import { derive, type Finding } from '../model/index.ts'
import type { RowEvidence } from '../rows/index.ts'
import { infer, rowQuestions } from './index.ts'

const crate = table('crate', ['id', 'bay_id'], ['id'], { foreignKeys: [reference('crate_bay', ['bay_id'], 'bay', ['id'], { onDelete: 'cascade' })] })
const bay = table('bay', ['id'], ['id'])
const find = (c: Catalog, id: string): Finding => infer(c).findings.find((f) => f.id === id) as Finding
const kinds = (f: Finding, at = 0) => f.alternatives[at]?.evidence.map((e) => e.kind)
const model = (...relations: readonly Relation[]) => {
  const c = catalogOf(...relations)
  return derive(c, infer(c).findings, [])
}

describe('references', () => {
  it('a foreign key is a certain finding about its columns, with what stands beside it', () => {
    const f = find(catalogOf(crate, bay), 'reference:s.crate(bay_id)')
    expect(f.alternatives).toHaveLength(1)
    expect(f.alternatives[0].confidence).toBe(1)
    expect(kinds(f)).toEqual(['declared constraint', 'required column', 'no index'])
    expect(f.alternatives[0].evidence[0]?.says).toBe('foreign key crate_bay: (bay_id) references s.bay (id), on delete cascade')
  })

  it('the id does not depend on the order of the columns of a key', () => {
    const lot = table('lot', ['b', 'n'], ['b', 'n'])
    const line = (columns: string[], target: string[]) => table('line', ['id', 'lb', 'ln'], ['id'], { foreignKeys: [reference('f', columns, 'lot', target)] })
    const ids = (r: Relation) => infer(catalogOf(lot, r)).findings.map((f) => f.id)
    expect(ids(line(['lb', 'ln'], ['b', 'n']))).toEqual(ids(line(['ln', 'lb'], ['n', 'b'])))
  })

  it('says why the other end may be absent', () => {
    const m = model(bay, table('crate', ['id', 'bay_id?'], ['id'], { foreignKeys: crate.foreignKeys }))
    expect(m.relationships[0]?.from).toMatchObject({ leadsTo: 'at most one', because: 'bay_id accepts null' })
  })

  it.each([
    ['a unique constraint', { uniques: [key('u', ['bay_id'])] }],
    ['a unique index', { indexes: [index('u', ['bay_id'], { unique: true })] }],
  ])('%s makes it one-to-one', (_, more) => {
    const m = model(bay, { ...crate, ...more })
    expect(m.relationships[0]).toMatchObject({ kind: 'one-to-one', to: { leadsTo: 'at most one', property: 'crate' } })
  })

  it('a shared primary key makes it one-to-one', () => {
    const detail = table('bay_detail', ['bay_id'], ['bay_id'], { foreignKeys: [reference('f', ['bay_id'], 'bay', ['id'])] })
    expect(model(bay, detail).relationships[0]).toMatchObject({ kind: 'one-to-one', from: { property: 'bay' }, to: { property: 'detail' } })
  })

  it('a key declared twice is one relationship', () => {
    const twice = { ...crate, foreignKeys: [...crate.foreignKeys, reference('again', ['bay_id'], 'bay', ['id'])] }
    expect(model(bay, twice).relationships).toHaveLength(1)
    expect(kinds(find(catalogOf(bay, twice), 'reference:s.crate(bay_id)'))).toContain('declared twice')
  })

  it('the same columns may refer to two tables', () => {
    const other = table('site', ['id'], ['id'])
    const both = { ...crate, foreignKeys: [...crate.foreignKeys, reference('site', ['bay_id'], 'site', ['id'])] }
    expect(model(bay, other, both).relationships.map((r) => r.id)).toEqual(['reference:s.crate(bay_id)', 'reference:s.crate(bay_id)>s.site(id)'])
  })

  it('two keys to one table have distinct names at both ends', () => {
    const keeper = table('keeper', ['no'], ['no'])
    const visit = table('visit', ['id', 'keeper_no', 'second_keeper_no?'], ['id'], {
      foreignKeys: [reference('a', ['keeper_no'], 'keeper', ['no']), reference('b', ['second_keeper_no'], 'keeper', ['no'])],
    })
    expect(model(keeper, visit).relationships.map((r) => [r.from.property, r.to.property])).toEqual([
      ['keeper', 'visits'],
      ['secondKeeper', 'visitsAsSecondKeeper'],
    ])
  })

  it('a column called like what it refers to makes room for the relationship', () => {
    const strain = table('strain', ['code'], ['code'])
    const token = table('token', ['id', 'strain'], ['id'], { foreignKeys: [reference('f', ['strain'], 'strain', ['code'])] })
    const m = model(strain, token)
    expect(m.relationships[0]?.from.property).toBe('strain')
    expect(m.entities.find((e) => e.name === 'Token')?.properties.map((p) => p.name)).toEqual(['id', 'strainCode'])
  })

  it.each([
    ['not validated', { validated: false }, 'declared'],
    ['not enforced', { enforced: false }, 'declared'],
    ['neither', {}, 'enforced'],
  ] as const)('%s: the state is "%s"', (_, more, state) => {
    const m = model(bay, { ...crate, foreignKeys: [reference('f', ['bay_id'], 'bay', ['id'], more)] })
    expect(m.relationships[0]?.state).toBe(state)
  })

  it('a key to a table that was not surveyed is told, not invented', () => {
    const m = model(crate)
    expect(m.relationships).toEqual([])
    expect(m.diagnostics).toEqual([{ code: 'outside', relation: 's.crate', constraint: 'crate_bay', target: 's.bay' }])
  })

  it('partitions are part of their parent', () => {
    const part = { ...crate, name: 'crate_1', kind: 'partition' as const, partitionOf: { parent: { schema: 's', name: 'crate' }, bound: 'DEFAULT' } }
    expect(model(bay, crate, part).entities.map((e) => e.name)).toEqual(['Bay', 'Crate'])
  })
})

describe('join tables', () => {
  const site = table('site', ['id'], ['id'])
  const keys = [reference('a', ['bay_id'], 'bay', ['id']), reference('b', ['site_id'], 'site', ['id'])]
  const pair = ['bay_id', 'site_id']
  const join = (columns: Parameters<typeof table>[1], primary: readonly string[], more: Partial<Relation> = {}) =>
    table('bay_site', columns, primary, { foreignKeys: keys, ...more })
  const proposal = (r: Relation, ...others: readonly Relation[]) => {
    const f = infer(catalogOf(bay, site, r, ...others)).findings.find((x) => x.kind === 'join-table')
    return f ? [f.alternatives[0].key, f.alternatives[0].confidence] : null
  }

  it.each([
    ['the pair as its key', join(pair, pair), ['many-to-many', 1]],
    ['the pair as its key, the other way round', join(pair, pair.toReversed()), ['many-to-many', 1]],
    [
      'a generated key and a unique pair',
      join(
        [
          column('id', {
            identity: {
              generation: 'always',
              sequence: { schema: 's', name: 'q' },
              options: { type: 'integer', start: '1', increment: '1', minimum: '1', maximum: '9', cache: '1', cycle: false },
              comment: null,
            },
          }),
          ...pair,
        ],
        ['id'],
        { uniques: [key('u', pair)] },
      ),
      ['many-to-many', 1],
    ],
    ['no unique rule on the pair', join(pair, []), ['many-to-many', 0.6]],
    ['columns of its own', join([...pair, 'votes'], pair), ['entity', 0.97]],
    ['its place in a list', join([...pair, column('position', { nullable: true })], pair), ['entity', 0.6]],
    [
      'columns that say when a row was written',
      join([...pair, column('created_at', { type: 'timestamp with time zone', default: { written: 'now()', canonical: 'now()' } })], pair),
      ['many-to-many', 0.85],
    ],
    ['a number of its own that nothing counts, beside a unique pair', join(['id', ...pair], ['id'], { uniques: [key('u', pair)] }), ['many-to-many', 1]],
    ['a key that is one of the two', join(pair, ['bay_id']), null],
    ['a rule that makes one of the two unique', join(pair, pair, { uniques: [key('u', ['site_id'])] }), null],
    ['a key that goes beyond the pair', join([...pair, 'on'], [...pair, 'on']), null],
    ['a pair that may be null', join(['bay_id', 'site_id?'], [], { uniques: [key('u', pair)] }), null],
  ] as const)('with %s', (_, relation, expected) => expect(proposal(relation)).toEqual(expected))

  it('is an entity where another table refers to it', () => {
    const visit = table('visit', ['id', 'x', 'y'], ['id'], { foreignKeys: [reference('v', ['x', 'y'], 'bay_site', pair)] })
    expect(proposal(join(pair, pair), visit)).toEqual(['entity', 1])
  })

  it('three references make an entity without a question', () => {
    const third = { ...join([...pair, 'crate_id'], [...pair, 'crate_id']), foreignKeys: [...keys, reference('c', ['crate_id'], 'crate', ['id'])] }
    expect(proposal(third, crate)).toEqual(['entity', 1])
    const f = find(catalogOf(bay, site, third, crate), 'join-table:s.bay_site')
    expect(f.alternatives).toHaveLength(1)
    expect(f.alternatives[0].evidence[0]?.says).toBe('its key relates 3 tables at once: s.bay by bay_id; s.site by site_id; s.crate by crate_id')
  })

  it('a reference beside the two that identify a row does not stop it', () => {
    const porter = table('porter', ['id'], ['id'])
    const third = { ...join([...pair, 'porter_id?'], pair), foreignKeys: [...keys, reference('c', ['porter_id'], 'porter', ['id'])] }
    const f = find(catalogOf(bay, site, third, porter), 'join-table:s.bay_site')
    expect(f.alternatives.map((a) => a.key)).toEqual(['entity', 'many-to-many', 'shortcut'])
    expect(f.alternatives[0].evidence.map((e) => e.kind)).toContain('third reference')
  })

  it('without a rule on the pair the rows tell whether partners come twice', () => {
    const free = { ...join(pair, []), primaryKey: null }
    const counted = (rows: number, pairs: number, repeated: number): RowEvidence => ({
      format: 'pelvok.rows/1',
      source: '',
      at: '',
      inclusions: [],
      kinds: [],
      partners: [{ table: { schema: 's', table: 'bay_site', columns: pair }, rows, pairs, repeated, most: 3, query: 'q' }],
      joins: [],
      statements: null,
      unread: [],
    })
    const found = (rows: RowEvidence | null) => {
      const f = infer(catalogOf(bay, site, free), rows).findings.find((x) => x.id === 'join-table:s.bay_site')
      return [f?.alternatives[0].key, f?.alternatives[0].confidence, f?.alternatives[0].evidence.find((e) => e.kind === 'no unique rule')?.says]
    }
    expect(rowQuestions(catalogOf(bay, site, free)).partners).toEqual([{ schema: 's', table: 'bay_site', columns: pair }])
    expect(found(null)).toEqual(['many-to-many', 0.6, 'no unique rule on the pair: the same partners may come twice'])
    expect(found(counted(0, 0, 0))[1]).toBe(0.6)
    expect(found(counted(9, 9, 0))).toEqual(['many-to-many', 0.8, expect.stringContaining('in its 9 rows none do')])
    expect(found(counted(9, 6, 2))).toEqual(['entity', 0.7, expect.stringContaining('of 6 pairs in 9 rows 2 come more than once, up to 3 times')])
  })

  it('of references that nothing declares is no surer than they are', () => {
    const bare = { ...join(pair, pair), foreignKeys: [] }
    const f = find(catalogOf(bay, site, bare), 'join-table:s.bay_site')
    expect(f.alternatives[0].key).toBe('many-to-many')
    expect(f.alternatives[0].confidence).toBeLessThan(0.95)
  })

  it('becomes a many-to-many with a property at both ends and no class', () => {
    const m = model(bay, site, join(pair, pair))
    expect(m.entities.map((e) => e.name)).toEqual(['Bay', 'Site'])
    expect(m.relationships).toMatchObject([
      {
        kind: 'many-to-many',
        from: { entity: 's.bay', property: 'sites' },
        to: { entity: 's.site', property: 'bays' },
        through: { fromColumns: ['bay_id'], toColumns: ['site_id'] },
      },
    ])
    expect(m.joinHalves.map((h) => h.id)).toEqual(['reference:s.bay_site(bay_id)', 'reference:s.bay_site(site_id)'])
  })

  it('of one table with itself has two directed names', () => {
    const swap = table('swap', ['giver_id', 'taker_id'], ['giver_id', 'taker_id'], {
      foreignKeys: [reference('g', ['giver_id'], 'crate', ['id']), reference('t', ['taker_id'], 'crate', ['id'])],
    })
    expect(model(bay, crate, swap).relationships.find((r) => r.kind === 'many-to-many')).toMatchObject({
      from: { property: 'takers' },
      to: { property: 'givers' },
    })
  })
})

describe('entities', () => {
  it('views and tables without a key are read-only', () => {
    const view = { ...table('overview', ['id'], []), kind: 'view' as const }
    expect(model(table('log', ['at'], []), view, bay).entities.map((e) => [e.name, e.readOnly])).toEqual([
      ['Bay', false],
      ['Log', true],
      ['Overview', true],
    ])
  })
  it('names of two schemas keep apart', () => {
    const second = { ...table('crate', ['id'], ['id']), schema: 'z' }
    const names = (...relations: readonly Relation[]) => model(...relations).entities.map((e) => e.name)
    expect(names(table('crate', ['id'], ['id']), second)).toEqual(['SCrate', 'ZCrate'])
    // Who refers to one of them means that one; the schema that everybody has tells nothing; a view says that it is one.
    const refers = table('tag', ['crate_id'], [], { foreignKeys: [reference('of', ['crate_id'], 'crate', ['id'])] })
    expect(names(table('crate', ['id'], ['id']), second, refers)).toEqual(['Crate', 'Tag', 'ZCrate'])
    expect(names({ ...table('crate', ['id'], ['id']), schema: 'public' }, second)).toEqual(['Crate', 'ZCrate'])
    expect(names(table('crates', ['id'], ['id']), { ...table('v_crate', ['id'], []), kind: 'view' })).toEqual(['Crate', 'CrateView'])
    expect(names(table('crate', ['id'], ['id']), table('crates', ['id'], ['id']))).toEqual(['Crate', 'Crates'])
  })

  it('in front of others a table that is called in the plural is one of its rows', () => {
    expect(
      model(table('orders', ['id'], ['id']), table('orders_items', ['id'], ['id']), table('news_items', ['id'], ['id'])).entities.map((e) => e.name),
    ).toEqual(['NewsItem', 'Order', 'OrderItem'])
  })
})

describe('names that only the schema’s own words take apart', () => {
  const named = (...relations: readonly Relation[]) => {
    const m = model(...relations)
    return {
      classes: m.entities.map((e) => e.name),
      properties: m.entities.flatMap((e) => e.properties.map((p) => p.name)),
      ends: m.relationships.map((r) => `${r.from.property}/${r.to.property}`),
    }
  }
  it('columns and tables without gaps', () => {
    const note = table('baynote', ['id', 'bayid', 'notetext', 'bay_note', 'crate_note'], ['id'])
    expect(named(bay, note)).toMatchObject({ classes: ['Bay', 'BayNote'] })
    expect(named(bay, note).properties).toContain('bayId')
  })
  it('what all columns of a table begin with is no role', () => {
    const porter = table('porter', ['id'], ['id'])
    const shift = table('shift', ['shift_id', 'shift_day', 'shift_porter', 'shift_parent'], ['shift_id'], {
      foreignKeys: [reference('a', ['shift_porter'], 'porter', ['id']), reference('b', ['shift_parent'], 'shift', ['shift_id'])],
    })
    expect(named(porter, shift).ends).toEqual(['parent/children', 'porter/shifts'])
  })
  it('nor are the letters that stand for the table referred to', () => {
    const store = table('store', ['st_id', 'st_name', 'st_town'], ['st_id'])
    const till = table('till', ['id', 'st_id'], ['id'], { foreignKeys: [reference('f', ['st_id'], 'store', ['st_id'])] })
    expect(named(store, till).ends).toEqual(['store/tills'])
  })
})
