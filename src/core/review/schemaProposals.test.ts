import { describe, expect, it } from 'vitest'
import { postgres } from '../../../tests/support/plans.ts'
import { type EntryBody, type LedgerEntry, type LedgerSeq, schemaEditsOf } from '../model/index.ts'
import { detailOf, review } from './index.ts'

const c = postgres(`
  CREATE TABLE bay (id integer PRIMARY KEY, label text);
  CREATE TABLE crate (id integer PRIMARY KEY, bay_id integer, kind varchar(10) CHECK (kind IN ('box', 'bag', 'tin')), open char(1) CHECK (open IN ('Y', 'N')), code text UNIQUE);
  CREATE TABLE lane (id integer PRIMARY KEY, crate_id bigint REFERENCES crate (id));
  CREATE INDEX crate_code_idx ON crate (code);
  CREATE TABLE loose (code text NOT NULL UNIQUE, n integer);`)
const entries = (...bodies: readonly EntryBody[]): readonly LedgerEntry[] => bodies.map((b, i) => ({ ...b, seq: (i + 1) as LedgerSeq, at: '', by: 'Ada' }))
const proposalsOf = (id: string, ledger: readonly LedgerEntry[] = []) => {
  const detail = detailOf(id, c, review(c, 'a'.repeat(64) as never, ledger), ledger)
  if (!detail) throw new Error(`no finding ${id}`)
  return detail.schema
}
const idOf = (topic: string) => review(c, 'a'.repeat(64) as never, []).findings.find((f) => f.topic === topic)?.id ?? ''

describe('a finding offers the schema change it calls for', () => {
  it('a reference that nothing declares: to declare it, and to index it', () => {
    expect(proposalsOf('reference:public.crate(bay_id)')).toMatchObject([
      {
        label: 'Declare and index it',
        says: 'public.crate(bay_id) is declared to refer to public.bay(id); public.crate gets the index crate_bay_id_idx over bay_id',
        is: 'planned',
      },
    ])
  })

  it('and says so once it is asked for', () => {
    const [first] = proposalsOf('reference:public.crate(bay_id)')
    const ledger = entries(first?.entry as EntryBody)
    expect(schemaEditsOf(ledger)[0]?.edits.map((e) => e.do)).toEqual(['declare reference', 'add index'])
    expect(proposalsOf('reference:public.crate(bay_id)', ledger)).toMatchObject([{ is: 'there' }])
  })

  it.each([
    ['reference without index', 'public.lane gets the index lane_crate_id_idx over crate_id'],
    ['type mismatch', 'public.lane(crate_id) becomes integer'],
    ['duplicate index', 'the index crate_code_idx of public.crate is dropped'],
    ['values', 'public.crate(kind) becomes the enumerated type public.crate_kind_kind: box, bag, tin'],
    ['flag', 'public.crate(open) becomes a boolean: Y is true, N is false'],
    ['nullable unique', 'public.crate(code) accepts null no more'],
    ['no key', 'public.loose gets the primary key code'],
  ])('%s', (topic, says) => expect(proposalsOf(idOf(topic)).map((p) => [p.says, p.is])).toEqual([[says, 'planned']]))

  it('what is declared, and what is only remarkable, calls for none', () => {
    expect(proposalsOf('reference:public.lane(crate_id)')).toEqual([])
    expect(proposalsOf('entity:public.bay')).toEqual([])
  })
})
