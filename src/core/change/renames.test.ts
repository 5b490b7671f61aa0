import { describe, expect, it } from 'vitest'
import { postgres } from '../../../tests/support/plans.ts'
import { parseRename, type Rename, renamed } from './index.ts'

const c = postgres(`
  CREATE SCHEMA yard;
  CREATE TABLE public.bay (id integer PRIMARY KEY, width integer CHECK (width > 0), area integer GENERATED ALWAYS AS (width * 2) STORED);
  CREATE TABLE public.crate (id integer PRIMARY KEY, bay_id integer REFERENCES public.bay (id));
  CREATE INDEX bay_width_idx ON public.bay (width) WHERE width > 3;
  CREATE TABLE public.part (id integer, at integer) PARTITION BY RANGE (at);
  CREATE TABLE public.part_a PARTITION OF public.part FOR VALUES FROM (0) TO (9);`)
const to = (r: Rename) => renamed(c, r)
const table = (cat: typeof c, name: string) => cat.relations.find((r) => r.name === name)

describe('a rename of a table', () => {
  const now = to({ of: 'relation', from: { schema: 'public', name: 'bay' }, to: { schema: 'yard', name: 'lane' } })
  it('moves it, and what refers to it', () => {
    expect(table(now, 'bay')).toBeUndefined()
    expect(table(now, 'lane')).toMatchObject({ schema: 'yard', primaryKey: { name: 'bay_pkey' } })
    expect(table(now, 'crate')?.foreignKeys[0]?.target).toEqual({ schema: 'yard', table: 'lane', columns: ['id'] })
  })
  it('reaches texts that name it, and no others', () => {
    const view = {
      ...c,
      relations: c.relations.map((r) =>
        r.name === 'crate'
          ? {
              ...r,
              triggers: [
                {
                  name: 't',
                  definition: { written: 'CREATE TRIGGER t ON public.bay EXECUTE FUNCTION public.baying()', canonical: null },
                  fires: 'origin' as const,
                  comment: null,
                },
              ],
            }
          : r,
      ),
    }
    const t = renamed(view, { of: 'relation', from: { schema: 'public', name: 'bay' }, to: { schema: 'public', name: 'lane' } })
    expect(table(t, 'crate')?.triggers[0]?.definition.written).toBe('CREATE TRIGGER t ON public.lane EXECUTE FUNCTION public.baying()')
  })
})

describe('a rename of a column', () => {
  const now = to({ of: 'column', relation: { schema: 'public', name: 'bay' }, from: 'width', to: 'wide' })
  it('reaches its checks, what is worked out of it, and indexes', () => {
    const bay = table(now, 'bay')
    expect(bay?.columns.map((x) => x.name)).toEqual(['id', 'wide', 'area'])
    expect(bay?.checks[0]?.expression.written).toBe('wide > 0')
    expect(bay?.columns[2]?.generated?.expression.written).toBe('wide * 2')
    expect(bay?.indexes[0]).toMatchObject({ name: 'bay_width_idx', columns: [{ column: 'wide' }], predicate: { written: 'wide > 3' } })
  })
  it('reaches references to it, and every partition', () => {
    const ids = to({ of: 'column', relation: { schema: 'public', name: 'bay' }, from: 'id', to: 'no' })
    expect(table(ids, 'crate')?.foreignKeys[0]).toMatchObject({ columns: ['bay_id'], target: { columns: ['no'] } })
    const parts = to({ of: 'column', relation: { schema: 'public', name: 'part' }, from: 'id', to: 'no' })
    expect(table(parts, 'part_a')?.columns.map((x) => x.name)).toEqual(['no', 'at'])
  })
})

describe('a rename as text', () => {
  it.each<readonly [string, Rename | null]>([
    ['a.bay=b.lane', { of: 'relation', from: { schema: 'a', name: 'bay' }, to: { schema: 'b', name: 'lane' } }],
    ['a.bay(x)=a.bay(y)', { of: 'column', relation: { schema: 'a', name: 'bay' }, from: 'x', to: 'y' }],
    ['a.bay(x)=a.lane(y)', null],
    ['a.bay=a.lane(y)', null],
    ['a.bay', null],
    ['a=b=c', null],
  ])('%s', (text, r) => expect(parseRename(text)).toEqual(r))
})
