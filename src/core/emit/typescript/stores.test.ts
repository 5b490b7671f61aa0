import { describe, expect, it } from 'vitest'
import { readScript } from '../../ddl/index.ts'
import { postgresScript } from '../../dialect/postgres/script.ts'
import { infer } from '../../infer/index.ts'
import { decodeEntry, derive, type EntryBody, plainSettings } from '../../model/index.ts'
import { codeOf, emitEntity, emitTypeScript, overriddenIn } from './index.ts'

const revision = { snapshot: '' as never, evidence: null, ledger: 0, inference: 0 }
const yard = `
  CREATE TYPE tint AS ENUM ('red', 'blue');
  CREATE TABLE bay (id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY, label varchar(8) NOT NULL UNIQUE, tint tint, opened_on date, rent numeric(8,2), sealed boolean, spot point);
  CREATE TABLE crate (hall integer, no integer, bay_id integer NOT NULL REFERENCES bay (id), weight bigint, PRIMARY KEY (hall, no));
  CREATE INDEX crate_weight ON crate (weight);
  CREATE TABLE mark (id integer PRIMARY KEY, word text NOT NULL);
  CREATE TABLE bay_mark (bay_id integer REFERENCES bay (id), mark_id integer REFERENCES mark (id), PRIMARY KEY (bay_id, mark_id));
  CREATE TABLE scrap (note text, bay_id integer REFERENCES bay (id));
  CREATE VIEW heavy AS SELECT hall, no FROM crate WHERE weight > 10;`
const catalog = readScript([{ name: 'a.sql', text: yard }], postgresScript).catalog
const { findings } = infer(catalog)
const modelOf = (...bodies: readonly EntryBody[]) =>
  derive(
    catalog,
    findings,
    bodies.map((b, i) => decodeEntry({ seq: i + 1, at: '2026-11-20T10:00:00Z', by: 'Ada', ...b })),
  )
const text = (path: string, ...bodies: readonly EntryBody[]) => codeOf(modelOf(...bodies), revision).file(path)?.text ?? ''
const operations = (id: string, ...bodies: readonly EntryBody[]) => emitEntity(modelOf(...bodies), revision, id)?.operations ?? []
const kept = (name: string, conditions: readonly object[]): EntryBody =>
  ({ kind: 'pin', name, path: { entity: 'public.bay', conditions: conditions.map((c) => ({ via: [], value: '', ...c })), steps: [] } }) as never
const settings = (more: object): EntryBody => ({ kind: 'settings', target: 'typescript', settings: { ...plainSettings, ...more }, note: null })

describe('operations of a store', () => {
  it('are found by the key, unique rules, references and indexes', () => {
    const names = operations('public.crate').map((o) => o.name)
    expect(names).toEqual(expect.arrayContaining(['get', 'list', 'stream', 'allByBayId', 'allByWeight', 'insert', 'update', 'save', 'delete', 'loadBay']))
    expect(operations('public.bay').map((o) => o.name)).toEqual(expect.arrayContaining(['oneByLabel', 'linkMarks', 'unlinkMarks']))
    expect(operations('public.crate').find((o) => o.name === 'get')?.sql).toEqual([
      'SELECT t.hall, t.no, t.bay_id, t.weight FROM public.crate t WHERE t.hall = $1 AND t.no = $2',
    ])
  })

  it('that there are not say why, on the sheet and above the class', () => {
    const why = (id: string) => Object.fromEntries(operations(id).flatMap((o) => (o.impossible === null ? [] : [[o.name, o.impossible]])))
    expect(why('public.scrap')).toEqual({
      get: 'it has no key',
      stream: 'it has no key',
      insert: 'it has no key',
      update: 'it has no key',
      save: 'it has no key',
      delete: 'it has no key',
    })
    expect(why('public.heavy')).toMatchObject({ insert: 'it is a view' })
    expect(text('base/ScrapStore.ts')).toContain('Not there: get, stream, insert, update, save, delete, as it has no key.')
  })

  it('compare what can be compared only, and join what leads to one', () => {
    expect(text('base/BayStore.ts')).toContain("db.Test<Bay, 'id' | 'label' | 'tint' | 'openedOn' | 'rent' | 'sealed'>")
    expect(text('base/CrateStore.ts')).toContain('keyof typeof joins')
    expect(text('base/MarkStore.ts')).not.toContain('joins')
  })

  it('that somebody overrides say so in their comments', () => {
    const own = new Map([
      ['BayStore.ts', 'export class BayStore extends BayStoreBase {\n  override async count(): Promise<number> {\n    if (1) return 0\n  }\n}\n'],
    ])
    const overridden = overriddenIn(own, { 'BayStore.ts': 'store public.bay', 'Bay.ts': 'class public.bay' })
    expect([...overridden].map(([id, names]) => [id, [...names]])).toEqual([['public.bay', ['count']]])
    const file = emitTypeScript(modelOf(), revision, overridden).find((f) => f.path === 'base/BayStore.ts')?.text ?? ''
    expect(file.match(/Overridden by hand in \.\.\/BayStore\.ts\./g)?.length).toBe(1)
  })
})

describe('paths kept in Trial', () => {
  it('have parameters of the types of their properties, with what was typed where it is one', () => {
    const path = kept('Sealed ones', [
      { column: 'sealed', is: 'equal', value: 'true' },
      { column: 'rent', is: 'more', value: '10.50' },
      { column: 'opened_on', is: 'less', value: '2026-01-01' },
      { column: 'tint', is: 'equal', value: 'red' },
      { column: 'label', is: 'contains', value: 'a%' },
      { column: 'id', is: 'other', value: '7' },
      { column: 'spot', is: 'filled' },
    ])
    const file = text('base/BayStore.ts', path)
    expect(file).toContain("async sealedOnes({ sealed = true, rent = '10.50', openedOn = '2026-01-01', tint = 'red', label = 'a%', id = 7, limit = 1000 }")
    expect(file).toContain(
      'WHERE t.sealed = $1 AND t.rent > $2 AND t.opened_on < $3 AND t.tint = $4 AND t.label::text ILIKE $5 AND t.id <> $6 AND t.spot IS NOT NULL',
    )
  })

  it('ask for a value where the one that was typed is none of the type', () => {
    expect(text('base/BayStore.ts', kept('By number', [{ column: 'id', is: 'equal', value: 'seven' }]))).toContain(
      'async byNumber({ id, limit = 1000 }: { readonly id: number; readonly limit?: number | undefined })',
    )
  })

  it('keep clear of other methods; the last of one name counts; one that the model has not any more says why', () => {
    const all = [
      kept('count', []),
      kept('One', [{ column: 'label', is: 'empty' }]),
      kept('One', [{ column: 'label', is: 'filled' }]),
      kept('Lost', [{ column: 'gone', is: 'empty' }]),
    ]
    const file = text('base/BayStore.ts', ...all)
    expect(file).toContain('async count2(')
    expect([file.includes('t.label IS NOT NULL'), file.includes('t.label IS NULL')]).toEqual([true, false])
    expect(operations('public.bay', ...all).find((o) => o.name === 'lost')?.impossible).toBe('Bay has no property for the column gone')
  })
})

describe('layout', () => {
  it('is what the project says: folder, package, indentation, line ends, imports', () => {
    const other = settings({ base: 'made', packageName: '@yard/entities', indent: '4 spaces', lineEnds: 'CRLF', imports: 'nothing' })
    const file = text('made/Bay.ts', other)
    expect(file).toContain("import type { Mark } from '../Mark'\r\n")
    expect(file).toContain('\r\n    static readonly columns = {\r\n        id: ')
    expect(file).toContain('\r\n * Table public.bay.')
    expect(file.replaceAll('\r\n', '')).not.toContain('\n')
    expect(JSON.parse(text('package.json', other))).toMatchObject({ name: '@yard/entities', type: 'module' })
    expect(codeOf(modelOf(other), revision).files.find((f) => f.path === 'package.json')?.own).toBe('')
    expect(text('package.json')).toBe('')
  })
})
