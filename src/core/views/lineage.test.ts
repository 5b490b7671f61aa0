import { describe, expect, it } from 'vitest'
import { readScript } from '../ddl/index.ts'
import { mysqlScript } from '../dialect/mysql/script.ts'
import { postgresScript } from '../dialect/postgres/script.ts'
import { sqliteScript } from '../dialect/sqlite/script.ts'
import { infer } from '../infer/index.ts'
import { derive } from '../model/index.ts'
import { acceptsNullIn, viewLineages } from './index.ts'

const tables = `
create table bay (id int not null primary key, label text not null, code text unique);
create table crate (id int not null primary key, bay_id int not null references bay (id), spare_id int references bay (id), note text);
create table slot (bay_id int not null references bay (id), nr int not null, primary key (bay_id, nr));
create table item (id int not null primary key, crate_id int not null references crate (id), slot_bay int, slot_nr int, foreign key (slot_bay, slot_nr) references slot (bay_id, nr));
`
const read = (view: string, more = '') => readScript([{ name: 'a.sql', text: `${tables}\n${more}\ncreate view v as ${view};` }], postgresScript).catalog
const lineage = (view: string, more = '') => {
  const found = viewLineages(read(view, more)).get('public.v')
  return {
    key: found?.key.columns?.join(',') ?? null,
    because: found?.key.because ?? '',
    columns: Object.fromEntries([...(found?.columns ?? [])].map(([name, o]) => [name, `${o.relation.name}.${o.column}${o.nullable ? '?' : ''}`])),
  }
}

describe('what tells the rows of a view apart', () => {
  it.each([
    ['select id, note from crate', 'id'],
    ['select c.id as crate, c.note from crate c where c.note is not null order by 1 limit 5', 'crate'],
    ['select * from slot', 'bay_id,nr'],
    ['select s.nr, s.bay_id as b from slot s', 'b,nr'],
    ['select note from crate', null],
    ['select c.id, b.label from crate c join bay b on b.id = c.bay_id', 'id'],
    ['select c.id, b.label from crate c left join bay b on ((b.id = c.spare_id))', 'id'],
    ['select c.id, b.label from crate c, bay b where b.id = c.bay_id and c.note = $$x$$', 'id'],
    ['select c.id, b.label from crate c join bay b using (id)', 'id'],
    ['select c.id, b.label from crate c join bay b on b.code = c.note', 'id'],
    ['select c.id, b.label from crate c join bay b on b.label = c.note', null],
    ['select c.id, b.id as bay from crate c cross join bay b', null],
    ['select b.id, c.id as crate from bay b join crate c on c.bay_id = b.id', 'crate'],
    ['select b.id, c.id as crate from bay b left join crate c on c.bay_id = b.id', null],
    ['select b.id as bay, c.id from crate c right join bay b on b.id = c.bay_id', null],
    ['select c.id from crate c full join bay b on b.id = c.bay_id', null],
    ['select i.id, s.nr from (item i join crate c on ((c.id = i.crate_id))) left join slot s on (((s.bay_id = c.bay_id) and (s.nr = 1)))', 'id'],
    ['select i.id, s.nr from item i left join slot s on s.bay_id = i.slot_bay', null],
    ['select c.id from crate c join bay b on b.id = c.bay_id or b.id = c.spare_id', null],
    ['select bay_id, count(*) from crate group by bay_id', 'bay_id'],
    ['select b.id, b.label, count(c.id) as crates from bay b left join crate c on c.bay_id = b.id group by b.id, b.label', 'id'],
    ['select b.id, b.label, c.note, count(*) from bay b join crate c on c.bay_id = b.id group by b.id, b.label, c.note', 'id,label,note'],
    ['select count(*) from crate group by bay_id', null],
    ['select lower(note) as n, count(*) from crate group by lower(note)', null],
    ['select distinct bay_id from crate', null],
    ['select id from bay union all select id from crate', null],
    ['select id, unnest(array[1, 2]) as n from bay', null],
    ['select id from bay, generate_series(1, 3)', null],
    ['select x.id from (select id, label from bay) x', 'id'],
    ['with x as (select id, bay_id from crate) select x.id, b.label from x join bay b on b.id = x.bay_id', 'id'],
    ['select x.bay_id, b.label from (select bay_id, max(id) as last from crate group by bay_id) x join bay b on b.id = x.bay_id', 'bay_id'],
    ['with recursive x as (select 1) select * from x', null],
    ['select id from w', 'id'],
  ])('%s: %s', (view, key) => expect(lineage(view, 'create view w as select id, bay_id from crate;').key).toBe(key))

  it('why there is none is said', () => {
    expect(lineage('select id from bay union all select id from crate').because).toMatch(/several queries/)
    expect(lineage('select note from crate').because).toMatch(/does not give the key/)
    expect(lineage('select count(*) as n from crate group by bay_id').because).toMatch(/grouped by/)
  })

  it('a view of itself and a view of what is not there end', () => {
    const c = read('select id from w', 'create view w as select id from bay;')
    const turned = {
      ...c,
      relations: c.relations.map((r) => (r.name === 'w' && r.definition ? { ...r, definition: { ...r.definition, written: 'select id from v' } } : r)),
    }
    expect(viewLineages(turned).get('public.w')?.key.columns).toBeNull()
    expect(lineage('select id from gone').key).toBeNull()
  })
})

describe('what the columns of a view are', () => {
  it('as they are, under other names, through views, queries and stars', () => {
    expect(
      lineage('select c.id, c.note as said, c.id + 1 as n, upper(b.label) as l, b.label from crate c left join bay b on b.id = c.spare_id').columns,
    ).toMatchObject({
      id: 'crate.id',
      said: 'crate.note',
      label: 'bay.label?',
    })
    expect(lineage('select s.*, b.label from slot s join bay b on b.id = s.bay_id').columns).toEqual({
      bay_id: 'slot.bay_id',
      nr: 'slot.nr',
      label: 'bay.label',
    })
    expect(
      lineage('select x.b, y.bay_id from (select id as b from bay) x join w y on y.bay_id = x.b', 'create view w as select id, bay_id from crate;').columns,
    ).toEqual({
      b: 'bay.id',
      bay_id: 'crate.bay_id',
    })
  })
  it('accept null where the column does, an outer join may find nothing, or they are computed', () => {
    const c = read('select c.id, c.note, b.label, count(*) as n from crate c left join bay b on b.id = c.spare_id group by c.id, b.id, b.label')
    const accepts = acceptsNullIn(c)
    expect(c.relations.find((r) => r.name === 'v')?.columns.map((x) => [x.name, accepts(x)])).toEqual([
      ['id', false],
      ['note', true],
      ['label', true],
      ['n', true],
    ])
  })
  it('are followed in the other dialects too', () => {
    const text = 'create table bay (id int not null primary key, label text); create view v as select b.id, b.label as l from bay b;'
    for (const semantics of [sqliteScript, mysqlScript()]) {
      const c = readScript([{ name: 'a.sql', text }], semantics).catalog
      expect([...(viewLineages(c).get('v')?.columns.keys() ?? [])]).toEqual(['id', 'l'])
      expect(viewLineages(c).get('v')?.key.columns).toEqual(['id'])
    }
  })
})

describe('the references of a view', () => {
  const ends = (view: string) => {
    const c = read(view)
    return derive(c, infer(c).findings, [])
      .relationships.filter((r) => r.from.entity === 'public.v')
      .map(
        (r) =>
          `${r.state} ${r.kind} ${r.from.columns.join(',')} → ${r.to.entity}(${r.to.columns.join(',')}) ${r.from.property} ${r.to.property} ${r.from.leadsTo}`,
      )
  }
  it('are those of its columns, and the keys it gives', () => {
    expect(ends('select c.id, c.bay_id, c.spare_id from crate c')).toEqual([
      'model many-to-one bay_id → public.bay(id) bay vs exactly one',
      'model one-to-one id → public.crate(id) crate v exactly one',
      'model many-to-one spare_id → public.bay(id) spare vsAsSpare at most one',
    ])
  })
  it('are whole keys of one row only', () => {
    expect(ends('select i.id, i.slot_bay, s.nr from item i join slot s on s.bay_id = i.slot_bay')).toEqual([
      'model many-to-one id → public.item(id) item vs exactly one',
    ])
    expect(ends('select i.slot_bay, i.slot_nr, i.note from (select *, 1 as note from item) i')).toEqual([
      'model many-to-one slot_bay,slot_nr → public.slot(bay_id,nr) slot vs at most one',
    ])
  })
  it('make no join table less of one', () => {
    const more = `create table owner (bay_id int not null references bay (id), crate_id int not null references crate (id), primary key (bay_id, crate_id));`
    const c = read('select bay_id, crate_id from owner', more)
    const m = derive(c, infer(c).findings, [])
    expect(m.relationships.filter((r) => r.kind === 'many-to-many')).toHaveLength(1)
    expect(m.relationships.filter((r) => r.from.entity === 'public.v').map((r) => r.to.entity)).toEqual(['public.bay', 'public.crate'])
    expect(m.diagnostics).toEqual([])
  })
})
