import { describe, expect, it } from 'vitest'
import { catalogOf, column, reference, table } from '../../../../tests/support/catalogs.ts'
import type { Relation } from '../../catalog/index.ts'
import { readScript } from '../../ddl/index.ts'
import { postgresScript } from '../../dialect/postgres/script.ts'
import { sqliteScript } from '../../dialect/sqlite/script.ts'
import { infer } from '../index.ts'
import { guessReferences, statementJoins } from './index.ts'
import { joinedPairs, raisedPairs } from './joins.ts'

const bay = table('bay', ['id', 'code', 'crate'], ['id'])
const crate = table('crate', ['id', 'spot', 'code'], ['id'])
const view = (written: string): Relation => ({ ...table('v', ['x'], []), kind: 'view', primaryKey: null, definition: { written, canonical: null } })
const pairs = (sql: string) =>
  joinedPairs(catalogOf(bay, crate, view(sql)), [bay, crate]).map((p) => `${p.left.table}.${p.left.column} ${p.right.table}.${p.right.column}`)

describe('columns that queries join by', () => {
  it.each([
    ['tables by their own names', 'select 1 from bay join crate on crate.spot = bay.id'],
    ['other names', 'select 1 from bay b join crate as c on c.spot = b.id'],
    ['the schema said', 'select 1 from s.bay join s.crate on s.crate.spot = s.bay.id'],
    ['a comma and WHERE', 'SELECT * FROM bay b, crate c WHERE (c.spot = b.id) AND b.code > 1'],
    ['brackets and casts, as a server prints them', 'SELECT c.id FROM (s.crate c JOIN s.bay b ON (((c.spot)::text = (b.id)::text)))'],
    ['quoted names', 'select 1 from "bay" b join `crate` c on c."spot" = b.`id`'],
    ['a subquery', 'select (select b.code from bay b where c.spot = b.id) from crate c'],
    ['a routine’s text', 'begin update crate set code = 1 from bay where crate.spot = bay.id; end'],
  ])('%s', (_, sql) => {
    expect(pairs(sql)).toEqual(['s.crate.spot s.bay.id'])
  })
  it('USING names the column of both', () => {
    expect(pairs('select 1 from bay join crate using (code)')).toEqual(['s.crate.code s.bay.code'])
  })
  it.each([
    ['strings', "select 1 from bay b, crate c where c.code = 'c.spot = b.id'"],
    ['comments', 'select 1 from bay b, crate c -- where c.spot = b.id\n/* c.spot = b.id */'],
    ['names of no table', 'select 1 from lane l join shelf s on l.a = s.b'],
    ['columns that are not there', 'select 1 from bay b join crate c on c.nothing = b.id'],
    ['a column and itself', 'select 1 from bay where bay.id = bay.id'],
    ['texts that end anywhere', 'select 1 from bay b join crate c on c.'],
  ])('nothing is read in %s', (_, sql) => {
    expect(pairs(sql)).toEqual([])
  })
  it('a join speaks for a reference that the name does not tell', () => {
    const found = (sql: string) => guessReferences(catalogOf(bay, crate, view(sql)), [bay, crate]).find((g) => g.subject === 's.crate(spot)')?.answers[0]
    expect(found('select 1')).toBeUndefined()
    const a = found('select 1 from bay b join crate c on c.spot = b.id')
    expect(a?.parent.name).toBe('bay')
    expect(a?.evidence.find((e) => e.kind === 'joined by')?.says).toBe('views or routines join s.crate and s.bay by spot = id')
  })
})

const tables =
  'create table bay (id int primary key, code text); create table lane (id int primary key); create table crate (id int primary key, spot int, note text);'
describe('a trigger that raises on a missing parent', () => {
  const routine = (body: string) => `${tables} create function f() returns trigger language plpgsql as $$ begin ${body} return new; end $$;
    create trigger t before insert on crate for each row execute function f();`
  const found = (text: string, semantics = postgresScript) => {
    const c = readScript([{ name: 'a.sql', text }], semantics).catalog
    return raisedPairs(c, c.relations).map((p) => `${p.left.table}.${p.left.column} ${p.right.table}.${p.right.column}`.replaceAll('public.', ''))
  }
  it.each([
    ['EXISTS', "if not exists (select 1 from bay where bay.id = new.spot) then raise exception 'x'; end if;"],
    ['a column without its table', "if not exists (select 1 from bay where id = new.spot) then raise exception 'x'; end if;"],
    ['another name', "perform 1 from bay b where b.id = NEW.spot; if not found then raise 'x'; end if;"],
    ['the other way round', "if (select count(*) from bay b where new.spot = b.id) = 0 then raise exception 'no'; end if;"],
  ])('is read: %s', (_, body) => expect(found(routine(body)).map((p) => p.split(' ').toSorted().join(' '))).toEqual(['bay.id crate.spot']))
  it.each([
    ['it does not raise', 'update bay set code = 1 where id = new.spot;'],
    ['it looks up nothing', "if new.spot = 1 then raise exception 'x'; end if;"],
    ['two tables have the column', "if not exists (select 1 from bay, lane where id = new.spot) then raise exception 'x'; end if;"],
  ])('is none where %s', (_, body) => expect(found(routine(body))).toEqual([]))
  it('is read where the trigger has its own text', () => {
    const text = `${tables} create trigger t before insert on crate begin select raise(abort, 'x') where (select id from bay where id = new.spot) is null; end;`
    expect(found(text, sqliteScript)).toEqual(['bay.id crate.spot'])
  })
  it('speaks for the reference', () => {
    const c = readScript(
      [{ name: 'a.sql', text: routine("if not exists (select 1 from bay where id = new.spot) then raise exception 'x'; end if;") }],
      postgresScript,
    ).catalog
    const f = infer(c).findings.find((x) => x.subject === 'public.crate(spot)')
    expect(f?.alternatives[0].key).toBe('public.bay(id)')
    expect(f?.alternatives[0].evidence.map((e) => e.kind)).toContain('looked up by a trigger')
  })
})

describe('other texts that tell', () => {
  it.each([
    ['refers to bay', true],
    ['FK: bay.id', true],
    ['-> bay', true],
    ['the id of the bay it stands in', true],
    ['Foreign key to s.bay', true],
    ['stands near a bay', false],
    ['a reference number', false],
  ])('a comment "%s" tells: %s', (comment, tells) => {
    const c = catalogOf(bay, table('lane', ['id', column('spot', { comment })], ['id']))
    const f = infer(c).findings.find((x) => x.subject === 's.lane(spot)')
    expect(f?.alternatives.some((a) => a.key === 's.bay(id)' && a.evidence.some((e) => e.kind === 'comment says so')) ?? false).toBe(tells)
  })

  it('a child table has no keys of its parent, and its columns refer to the same', () => {
    const parent = table('crate', ['id', 'spot'], ['id'], { foreignKeys: [reference('f', ['spot'], 'bay', ['id'])] })
    const child = table('box', ['id', 'spot'], ['id'], { inherits: [{ schema: 's', name: 'crate' }] })
    const f = infer(catalogOf(bay, parent, child)).findings.find((x) => x.subject === 's.box(spot)')
    expect(f?.alternatives[0].key).toBe('s.bay(id)')
    expect(f?.alternatives[0].evidence.map((e) => e.kind)).toContain('parent declares it')
  })

  it('statements of the application are counted by pair, and speak for it', () => {
    const joins = statementJoins(
      ['select * from crate c join bay b on b.id = c.spot', 'select 1 from bay b, crate c where b.id = c.spot', 'select 1'],
      [bay, crate],
    )
    expect(joins).toEqual([{ left: { table: 's.bay', column: 'id' }, right: { table: 's.crate', column: 'spot' }, statements: 2 }])
    const rows = { format: 'pelvok.rows/1', source: '', at: '', inclusions: [], kinds: [], partners: [], joins: [...joins], statements: 3, unread: [] } as const
    const f = infer(catalogOf(bay, crate), rows as never).findings.find((x) => x.subject === 's.crate(spot)')
    expect(f?.alternatives.flatMap((a) => a.evidence.map((e) => e.kind))).toContain('joined in statements')
  })

  it('columns of a key of several that are joined one by one speak for it whole', () => {
    const slot = table('slot', ['hall', 'tier'], ['hall', 'tier'])
    const item = table('item', ['id', 'in_hall', 'in_tier'], ['id'])
    const found = (sql: string) => infer(catalogOf(slot, item, view(sql))).findings.find((x) => x.subject === 's.item(in_hall,in_tier)')?.alternatives ?? []
    const joined = found('select 1 from item i join slot s on s.hall = i.in_hall and s.tier = i.in_tier')
    expect(joined.flatMap((a) => a.evidence.map((e) => e.kind))).toContain('joined by')
    expect(found('select 1 from item i join slot s on s.hall = i.in_hall').flatMap((a) => a.evidence.map((e) => e.kind))).not.toContain('joined by')
  })
})

describe('keys of several columns that are joined', () => {
  const lot = table('lot', ['depot', 'no'], ['depot', 'no'])
  const load = table('load', ['id', 'from_where', 'what', 'depot'], ['id'])
  const asked = (sql: string) => guessReferences(catalogOf(lot, load, view(sql)), [lot, load]).map((g) => g.subject)
  it('in one row of conditions, whatever the columns are called', () => {
    expect(asked('select 1 from load a join lot b on a.from_where = b.depot and a.what = b.no')).toContain('s.load(from_where,what)')
  })
  it('not by conditions that have nothing to do with each other', () => {
    const apart = 'select 1 from load a, lot b where a.from_where = b.depot union select 1 from load a, lot b where a.what = b.no'
    expect(asked(apart)).not.toContain('s.load(from_where,what)')
  })
})

describe('proof', () => {
  const script = `
    CREATE TABLE lot (depot text NOT NULL, no integer NOT NULL, PRIMARY KEY (depot, no));
    CREATE TABLE load (id integer PRIMARY KEY, w text NOT NULL, x integer NOT NULL, y integer);
    CREATE TRIGGER load_ins BEFORE INSERT ON load BEGIN
      SELECT RAISE(ABORT, 'no such lot') WHERE NOT EXISTS (SELECT 1 FROM lot l WHERE l.depot = NEW.w AND l.no = NEW.x);
    END;`
  it('a trigger that raises on a missing row is at least 0.9, whatever the columns are called', () => {
    const { catalog } = readScript([{ name: 'a.sql', text: script }], sqliteScript)
    const [g] = guessReferences(catalog, catalog.relations).filter((x) => x.subject === 'load(w,x)')
    expect(g?.answers[0].confidence).toBeGreaterThanOrEqual(0.9)
    expect(g?.answers[0].evidence.map((e) => e.kind)).toContain('proof')
    const sum = g?.answers[0].evidence.reduce((n, e) => n + e.weight, 0) ?? 0
    expect(1 / (1 + Math.exp(-sum))).toBeCloseTo(g?.answers[0].confidence ?? 0, 1)
  })
})
