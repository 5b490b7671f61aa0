import { describe, expect, it } from 'vitest'
import { catalogOf, column, index, key, reference, table } from '../../../tests/support/catalogs.ts'
import type { Relation } from '../catalog/index.ts'
import type { LedgerEntry, LedgerSeq } from '../model/index.ts'
import { reviewBase, reviewWith } from '../review/index.ts'
import {
  describeLeaveOut,
  foldScope,
  matchesPattern,
  neighbours,
  proposeLeavingOut,
  relationTakesPart,
  scopeByPatterns,
  scopeColumns,
  scopedCatalog,
  scopeProblem,
  scopeRows,
} from './index.ts'

/** One entry per list of `subject in` or `subject out`. */
const ledger = (...entries: readonly (readonly string[])[]): readonly LedgerEntry[] =>
  entries.map((edits, i) => ({
    kind: 'scope',
    seq: (i + 1) as LedgerSeq,
    at: '',
    by: '',
    note: null,
    edits: edits.map((e) => ({ facet: 'scope', subject: e.split(' ')[0] as string, value: e.split(' ')[1] as 'in' | 'out' })),
  }))
const bay = table('bay', ['id', 'label?'], ['id'])
const crate = table('crate', ['id', 'bay_id', column('weight', { default: { written: '1', canonical: '1' } }), 'code'], ['id'], {
  foreignKeys: [reference('crate_bay', ['bay_id'], 'bay', ['id'])],
  uniques: [key('crate_code', ['code'])],
  indexes: [index('crate_weight', ['weight'])],
})

describe('the scope of a ledger', () => {
  const takes = (entries: readonly LedgerEntry[], name: string) => relationTakesPart(foldScope(entries), { schema: 's', name })

  it('takes in what nobody left out', () => expect(takes([], 'bay')).toBe(true))
  it('follows the last word', () => expect([takes(ledger(['s.bay out']), 'bay'), takes(ledger(['s.bay out'], ['s.bay in']), 'bay')]).toEqual([false, true]))
  it('of a schema counts for its tables, and a later word on a table counts more', () => {
    const entries = ledger(['schema:s out'], ['s.bay in'])
    expect([takes(entries, 'bay'), takes(entries, 'crate')]).toEqual([true, false])
  })
  it('of a schema replaces what was said of its tables before', () => expect(takes(ledger(['s.bay in'], ['schema:s out']), 'bay')).toBe(false))
  it('forgets what was taken back', () => {
    const entries: readonly LedgerEntry[] = [...ledger(['s.bay out']), { kind: 'revert', reverts: 1, seq: 2 as LedgerSeq, at: '', by: '' }]
    expect([takes(entries, 'bay'), foldScope(entries).key]).toEqual([true, ''])
  })
  it('has the same key for the same scope, however it came about', () =>
    expect(foldScope(ledger(['s.bay out', 's.crate out'])).key).toBe(foldScope(ledger(['s.crate out'], ['s.bay out'])).key))
})

describe('a catalog without what is left out', () => {
  const whole = catalogOf(bay, crate)
  it('is the same object where nothing is', () => expect(scopedCatalog(whole, foldScope(ledger(['s.bay in'])))).toBe(whole))
  it('loses a column with the rules it is part of, and never a column of the primary key', () => {
    const scoped = scopedCatalog(whole, foldScope(ledger(['s.crate(code) out', 's.crate(weight) out', 's.crate(bay_id) out', 's.crate(id) out'])))
    const r = scoped.relations.find((x) => x.name === 'crate')
    expect(r?.columns.map((c) => c.name)).toEqual(['id'])
    expect([r?.uniques, r?.indexes, r?.foreignKeys]).toEqual([[], [], []])
  })
  it('tells a key that leads to what was left out for what it is, and is quiet about rulings on it', () => {
    const entries = ledger(['s.bay out'])
    const base = reviewBase(whole, entries)
    expect(base.catalog.relations.map((r) => r.name)).toEqual(['crate'])
    const { model } = reviewWith(base, 'a'.repeat(64) as never, [
      ...entries,
      { kind: 'edit', edit: { facet: 'entity.name', subject: 's.bay', value: 'Place' }, note: null, seq: 2 as LedgerSeq, at: '', by: '' },
    ])
    expect(model.entities.map((e) => e.name)).toEqual(['Crate'])
    expect(model.diagnostics).toEqual([{ code: 'left-out', relation: 's.crate', constraint: 'crate_bay', target: 's.bay' }])
  })
  it('infers again only where the scope has changed', () => {
    const base = reviewBase(whole, [])
    const note: LedgerEntry = { kind: 'note', subject: 's.bay', text: 'x', seq: 1 as LedgerSeq, at: '', by: '' }
    expect(reviewBase(whole, [note], base)).toBe(base)
    expect(reviewBase(whole, ledger(['s.bay out']), base)).not.toBe(base)
  })
})

describe('the rows of the page', () => {
  const whole = catalogOf(bay, crate)
  it('tell what takes part, and what of a table is left out', () => {
    const rows = scopeRows(whole, foldScope(ledger(['s.bay out'], ['s.crate(weight) out'])))
    expect(rows.map((r) => [r.id, r.takesPart, r.out])).toEqual([
      ['s.bay', false, []],
      ['s.crate', true, ['weight']],
    ])
  })
  it('mark columns that stay, and those without which inserts fail', () =>
    expect(scopeColumns(whole, foldScope([]), 's.crate').map((c) => [c.name, c.fixed, c.needed])).toEqual([
      ['id', true, true],
      ['bay_id', false, true],
      ['weight', false, false],
      ['code', false, true],
    ]))
  it.each([
    ['s.crate(id)', 's.crate(id) is part of the primary key, and a row without it has no name'],
    ['s.gone', 'there is no s.gone in this snapshot'],
    ['s.crate(code)', null],
    ['schema:s', null],
  ])('%s may be left out: %s', (subject, expected) => expect(scopeProblem(whole, [{ subject, value: 'out' }])).toBe(expected))
})

describe('what is proposed to be left out', () => {
  const like = (name: string, more = {}) => ({ ...crate, name, foreignKeys: [], ...more })
  const told = (...relations: readonly Relation[]) => proposeLeavingOut(catalogOf(...relations)).map((p) => `${p.subject}: ${describeLeaveOut(p.reason)}`)

  it('a copy beside what it copies', () => {
    expect(told(crate, like('crate_copy'), like('crate_2'), like('tmp_crate'))).toEqual([
      's.crate_2: a copy of s.crate: the same columns, a number behind its name',
      's.crate_copy: a copy of s.crate: the same columns, and “copy” in its name',
      's.tmp_crate: a copy of s.crate: the same columns, and “tmp” in its name',
    ])
  })
  it('archives by date, alone or beside the table', () => {
    expect(told(crate, like('crate_2019'), like('crate_20200131'))).toEqual([
      's.crate_2019: an archive of 2019: its columns are those of s.crate',
      's.crate_20200131: an archive of 20200131: its columns are those of s.crate',
    ])
    expect(told(like('load_2019_01'), like('load_2019_02')).length).toBe(2)
  })
  it('backups and temporary tables by their names', () => {
    expect(told(table('price_bak', ['id', 'x'], ['id']), table('tmp_load', ['id'], []), table('old_price_list', ['id'], ['id']))).toEqual([
      's.price_bak: a backup by its name (“bak”), and nothing refers to it',
      's.tmp_load: temporary by its name (“tmp”), and nothing refers to it',
    ])
  })
  it('journals of schema changes by what they keep', () => {
    expect(
      told(
        table('schema_migrations', ['version'], ['version']),
        table('schema_history', ['rank', 'script', 'checksum', 'installed_on'], ['rank']),
        table('bird_migrations', ['id', 'species', 'distance', 'route', 'summer'], ['id']),
      ),
    ).toEqual([
      's.schema_history: a journal of schema changes: it keeps script, checksum, installed_on',
      's.schema_migrations: a journal of schema changes: it keeps a version and little else',
    ])
  })
  it('children without columns of their own', () => {
    const child = { ...like('crate_cold'), columns: crate.columns.map((c) => ({ ...c, inherited: true })), inherits: [{ schema: 's', name: 'crate' }] }
    expect(told(crate, child)).toEqual(['s.crate_cold: a part of s.crate, without columns of its own'])
  })
  it('never what something refers to, nor plain tables', () => {
    expect(told(bay, crate, like('crate_old'), table('x', ['id', 'c'], ['id'], { foreignKeys: [reference('x_c', ['c'], 'crate_old', ['id'])] }))).toEqual([])
    expect(told(bay, crate, table('copy', ['id'], ['id']), table('template_2', ['id', 'a'], ['id']))).toEqual([])
  })
})

describe('patterns and neighbours', () => {
  it.each([
    ['cr*', 'crate', true],
    ['s.CR?te', 'crate', true],
    ['*_20??', 'crate_2019', true],
    ['cr', 'crate', false],
    ['a.b', 'axb', false],
  ])('%s matches %s: %s', (pattern, name, expected) => expect(matchesPattern(pattern, { schema: 's', name })).toBe(expected))

  it('go over keys in both directions and over views, to a distance', () => {
    const line = table('line', ['id', 'crate_id'], ['id'], { foreignKeys: [reference('line_crate', ['crate_id'], 'crate', ['id'])] })
    const view = { ...table('overview', ['id'], []), kind: 'view' as const, dependsOn: [{ kind: 'relation' as const, schema: 's', name: 'bay' }] }
    const c = catalogOf(bay, crate, line, view)
    expect([...neighbours(c, 's.bay', 1)].sort()).toEqual(['s.bay', 's.crate', 's.overview'])
    expect([...neighbours(c, 's.bay', 2)].sort()).toEqual(['s.bay', 's.crate', 's.line', 's.overview'])
  })
})

describe('patterns', () => {
  const lane = table('lane', ['id', 'note'], ['id'])
  const of = (only: readonly string[], without: readonly string[] = []) => {
    const whole = catalogOf(bay, crate, lane)
    const { scope, idle } = scopeByPatterns(whole, { only, without })
    return [...scopedCatalog(whole, scope).relations.map((r) => `${r.name}: ${r.columns.map((c) => c.name).join(' ')}`), ...idle.map((i) => `nothing is ${i}`)]
  }
  it.each([
    [[], [], ['bay: id label', 'crate: id bay_id weight code', 'lane: id note']],
    [['bay', 'S.LA*'], [], ['bay: id label', 'lane: id note']],
    [['crate.code'], [], ['crate: id code']],
    [['s.crate.?ode', 'crate'], ['crate.weight'], ['crate: id bay_id code']],
    [[], ['*.note', 'c*'], ['bay: id label', 'lane: id']],
    [['lanes'], ['x.y'], ['nothing is lanes', 'nothing is x.y']],
    [[], ['bay.id'], ['bay: id label', 'crate: id bay_id weight code', 'lane: id note']],
  ])('only %j without %j', (only, without, expected) => expect(of(only, without)).toEqual(expected))
})
