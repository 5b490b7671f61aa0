// Naming rules through the whole of a review: what they change, what they leave, and what is said before they are set.
import { describe, expect, it } from 'vitest'
import { catalogOf, reference, table } from '../../../tests/support/catalogs.ts'
import type { Catalog, Relation, SnapshotHash } from '../catalog/index.ts'
import { emitTypeScript } from '../emit/typescript/index.ts'
import { decodeEntry, type LedgerEntry, settling } from '../model/index.ts'
import type { NamingRule } from '../names/index.ts'
import { namingPreview, rulesInForce } from './names.ts'
import { review, reviewBase } from './review.ts'

const hash = '0'.repeat(64) as SnapshotHash
const catalog = catalogOf(
  table('zx_bay', ['id', 'qty', 'qty2'], ['id']),
  table('zx_crate', ['id', 'bayref', 'kst'], ['id'], { foreignKeys: [reference('f', ['bayref'], 'zx_bay', ['id'])] }),
  table('zx_gps', ['id'], ['id']),
  table('zx_lane', ['id', 'is_open'], ['id']),
  table('zx_porter', ['id'], ['id']),
  table('zx_pair', ['bay_id', 'porter_id'], ['bay_id', 'porter_id'], {
    foreignKeys: [reference('a', ['bay_id'], 'zx_bay', ['id']), reference('b', ['porter_id'], 'zx_porter', ['id'])],
  }),
)
const entriesOf = (...bodies: readonly object[]): readonly LedgerEntry[] => bodies.map((b, i) => decodeEntry({ seq: i + 1, at: 'x', by: 'mara', ...b }))
const rules = (...list: readonly NamingRule[]) => entriesOf(...list.map((rule) => ({ kind: 'naming', rule, note: null })))
const modelOf = (entries: readonly LedgerEntry[], c: Catalog = catalog) => review(c, hash, entries).model
const names = (entries: readonly LedgerEntry[], c: Catalog = catalog) => {
  const m = modelOf(entries, c)
  const ends = m.relationships.flatMap((r) => [r.from.property, r.to.property])
  return [...m.entities.flatMap((e) => [e.name, ...e.properties.map((p) => p.name)]), ...ends]
}

describe('a rule', () => {
  it.each<[string, NamingRule, readonly string[], readonly string[]]>([
    ['word', { rule: 'word', word: 'qty', as: ['quantity'] }, ['qty', 'qty2'], ['quantity', 'quantity2']],
    ['word that splits', { rule: 'word', word: 'bayref', as: ['bay', 'ref'] }, ['bayref'], ['bayRef', 'bay']],
    ['word of several', { rule: 'word', word: 'kst', as: ['cost', 'place'] }, ['kst'], ['costPlace']],
    ['plural', { rule: 'plural', one: 'crate', many: 'crateware' }, ['crates'], ['crateware']],
    ['plural that is the same', { rule: 'plural', one: 'crate', many: 'crate' }, ['crates'], ['crate']],
    ['prefix', { rule: 'prefix', schema: 's', prefix: 'zx', drop: false }, ['Bay', 'Crate'], ['ZxBay', 'ZxCrate', 'zxCrates']],
    ['number', { rule: 'number', schema: 's', tables: 'singular' }, ['Gps'], ['Gp']],
    ['case', { rule: 'case', target: 'typescript', of: 'property', as: 'snake_case' }, ['isOpen'], ['is_open']],
  ])('about a %s: %j', (_, rule, gone, there) => {
    const after = names(rules(rule))
    for (const name of gone) expect(after).not.toContain(name)
    for (const name of there) expect(after).toContain(name)
  })

  it('of two about the same thing the later counts, and taken back the earlier does again', () => {
    const word = (as: string) => ({ kind: 'naming', rule: { rule: 'word', word: 'qty', as: [as] }, note: null })
    const both = entriesOf(word('quantity'), word('amount'))
    expect(names(both)).toContain('amount')
    expect(rulesInForce(both).map((r) => r.text)).toEqual(['“qty” is read as “amount”'])
    expect(names(entriesOf(word('quantity'), word('amount'), { kind: 'revert', reverts: 2 }))).toContain('quantity')
  })

  it('about files changes their names only, and the imports with them', () => {
    const m = modelOf(rules({ rule: 'case', target: 'typescript', of: 'file', as: 'kebab-case' }))
    const files = emitTypeScript(m, { snapshot: hash, evidence: null, ledger: 1, inference: 1 })
    const own = files
      .filter((f) => f.own === null && !/-(input|store)\.ts$/.test(f.path))
      .map((f) => f.path.replace('base/', ''))
      .sort()
    expect(own).toEqual(['bay.ts', 'crate.ts', 'db.ts', 'gps.ts', 'index.ts', 'lane.ts', 'links.ts', 'porter.ts', 'schemas.ts', 'values.ts', 'work.ts'])
    expect(files.map((f) => f.path)).toContain('base/crate-input.ts')
    const crate = files.find((f) => f.path === 'base/crate.ts')?.text
    expect(crate).toContain("from '../bay.js'")
    expect(crate).toContain('export class Crate')
  })

  it('is refused where it says nothing whole', () => {
    for (const rule of [
      { rule: 'word', word: 'Qty', as: ['x'] },
      { rule: 'word', word: 'qty', as: [] },
      { rule: 'case', target: 'typescript', of: 'class', as: 'kebab-case' },
    ])
      expect(() => entriesOf({ kind: 'naming', rule, note: null })).toThrow()
  })
})

describe('a name that somebody gave', () => {
  const subject = 's.zx_bay(qty)'
  const given = { kind: 'edit', edit: { facet: 'property.name', subject, value: 'howMany' }, note: null }
  const rule = { kind: 'naming', rule: { rule: 'word', word: 'qty', as: ['quantity'] }, note: null }
  it('stays, before the rule or after it', () => {
    for (const entries of [entriesOf(given, rule), entriesOf(rule, given)]) {
      expect(names(entries)).toContain('howMany')
      expect(names(entries)).toContain('quantity2')
    }
  })
  it('what was only settled follows a later rule, and what a later seal settles stays', () => {
    const settle = settling(review(catalog, hash, []).findings, [])
    const entries = entriesOf(settle as object, rule)
    expect(names(entries)).toContain('quantity')
    expect(names(entriesOf(settle as object))).toContain('qty')
  })
})

describe('what a rule would change', () => {
  const base = reviewBase(catalog, [])
  it('is told before it is set, name by name', () => {
    expect(namingPreview(base, [], { rule: 'word', word: 'qty', as: ['quantity'] })).toEqual([
      { what: 'property', of: 'Bay', before: 'qty', after: 'quantity' },
      { what: 'property', of: 'Bay', before: 'qty2', after: 'quantity2' },
    ])
    expect(namingPreview(base, [], { rule: 'plural', one: 'crate', many: 'crate' })).toEqual([{ what: 'end', of: 'Bay', before: 'crates', after: 'crate' }])
  })
  it('is nothing where the rule says what is so already', () => {
    expect(namingPreview(base, [], { rule: 'prefix', schema: 's', prefix: 'zx', drop: true })).toEqual([])
  })
  it('is just what changes when it is set', () => {
    const rule: NamingRule = { rule: 'case', target: 'typescript', of: 'property', as: 'snake_case' }
    const before = names([])
    const after = names(rules(rule))
    const changed = before.flatMap((n, i) => (n === after[i] ? [] : [`${n} ${after[i]}`]))
    expect(
      namingPreview(base, [], rule)
        .map((c) => `${c.before} ${c.after}`)
        .sort(),
    ).toEqual(changed.sort())
  })
})

describe('the habit of a schema', () => {
  const plain = ['bay', 'crate', 'lane', 'porter', 'ramp'].map((n) => table(n, ['id'], ['id']))
  const classOf = (name: string, ...more: readonly Relation[]) => {
    const found = modelOf([], catalogOf(...plain, table(name, ['id'], ['id']), ...more)).entities.find((e) => e.relation.name === name)
    return found?.name
  }
  it.each([
    ['gps', 'Gps'],
    ['jobs', 'Job'],
    ['tls', 'Tls'],
    ['quotas', 'Quota'],
    ['haus', 'Haus'],
    ['pallets', 'Pallet'],
    ['analyses', 'Analysis'],
    ['entries', 'Entry'],
  ])('of singular tables: %s is a %s', (name, className) => expect(classOf(name)).toBe(className))
  it('a word that stands elsewhere in the singular is a plural', () => {
    expect(classOf('pcs')).toBe('Pcs')
    expect(classOf('pcs', table('desk', ['id', 'pc_id', 'label'], ['id']))).toBe('Pc')
  })
  it('in a schema of plurals everything is one', () => {
    const c = catalogOf(...['bays', 'crates', 'lanes', 'porters', 'pcs'].map((n) => table(n, ['id'], ['id'])))
    expect(modelOf([], c).entities.map((e) => e.name)).toEqual(['Bay', 'Crate', 'Lane', 'Pc', 'Porter'])
  })
})
