import { describe, expect, it } from 'vitest'
import { mysqlScript } from '../dialect/mysql/script.ts'
import { postgresScript } from '../dialect/postgres/script.ts'
import { sqliteScript } from '../dialect/sqlite/script.ts'
import { readScript, type Semantics } from './index.ts'

const tables = 'CREATE TABLE bay (id int, label varchar(9), "odd name" text); CREATE TABLE crate (id bigint, bay_id int, weight numeric(6,2));'

function columnsOf(query: string, semantics: Semantics = postgresScript, list = ''): readonly string[] {
  const text = semantics === postgresScript ? tables : tables.replace('"odd name"', 'odd')
  const r = readScript([{ name: 'f', text: `${text} CREATE VIEW v ${list} AS ${query};` }], semantics)
  return r.catalog.relations.find((x) => x.name === 'v')?.columns.map((c) => `${c.name} ${c.type}`.trim()) ?? []
}

describe('the columns of a view', () => {
  it.each([
    ['SELECT id, label FROM bay', ['id integer', 'label character varying(9)']],
    ['SELECT * FROM bay', ['id integer', 'label character varying(9)', 'odd name text']],
    ['SELECT b.*, c.weight FROM bay b, crate AS c', ['id integer', 'label character varying(9)', 'odd name text', 'weight numeric(6,2)']],
    ['SELECT b.id AS one, b.label two, c.id "Three" FROM bay b JOIN crate c ON (c.bay_id = b.id)', ['one integer', 'two character varying(9)', 'Three bigint']],
    ['SELECT public.bay.id FROM public.bay', ['id integer']],
    ['SELECT count(*), max(id), lower(label), coalesce(label, $$x$$) FROM bay GROUP BY 3', ['count bigint', 'max', 'lower', 'coalesce']],
    ["SELECT 1, 'x', NULL, true AS t, -id FROM bay", ['?column?', '?column?', '?column?', 't', '?column?']],
    ['SELECT id::text, (weight * 2)::numeric(8,2) AS double, CAST(id AS text) FROM crate', ['id text', 'double numeric(8,2)', 'id']],
    [
      'SELECT id + 1, (id), CASE WHEN id > 1 THEN 1 ELSE label END, 1::integer, CAST(1 AS timestamp with time zone), true FROM bay',
      ['?column?', 'id', 'label', 'int4 integer', 'timestamptz', 'bool'],
    ],
    ['SELECT (SELECT max(weight) FROM crate), exists (SELECT 1), label COLLATE "C", upper(label) || label FROM bay', ['max', 'exists', 'label', '?column?']],
    ['SELECT CASE WHEN id > 1 THEN label ELSE $$n$$ END, id + 1 AS next FROM bay', ['case', 'next']],
    ['SELECT DISTINCT ON (id) id, label FROM bay ORDER BY id', ['id integer', 'label character varying(9)']],
    ['SELECT x.n FROM (SELECT id AS n, label FROM bay) x', ['n integer']],
    [
      'SELECT * FROM (SELECT id AS n, label FROM bay) AS x JOIN (crate c CROSS JOIN bay b) ON true',
      [
        'n integer',
        'label character varying(9)',
        'id bigint',
        'bay_id integer',
        'weight numeric(6,2)',
        'id integer',
        'label character varying(9)',
        'odd name text',
      ],
    ],
    ['WITH a AS (SELECT id FROM bay), b (k) AS (SELECT bay_id FROM crate) SELECT a.*, b.k FROM a, b', ['id integer', 'k integer']],
    ['SELECT id FROM bay UNION ALL SELECT bay_id FROM crate', ['id integer']],
    ['SELECT row_number() OVER (PARTITION BY label ORDER BY id) AS n, sum(weight) FILTER (WHERE id > 1) FROM bay, crate', ['n', 'sum']],
    ['SELECT "odd name", "odd name" AS "b""c" FROM bay', ['odd name text', 'b"c text']],
    ['SELECT generate_series FROM generate_series(1, 3)', ['generate_series']],
    ['SELECT extract(year FROM now()) AS y, label IS NOT NULL AS has, label LIKE $$a%$$ AS a FROM bay', ['y', 'has', 'a']],
  ])('%s', (query, columns) => expect(columnsOf(query)).toEqual(columns))

  it('are those it is given, where it is', () =>
    expect(columnsOf('SELECT id, label FROM bay', postgresScript, '(number, name)')).toEqual(['number integer', 'name character varying(9)']))
  it('MySQL calls an expression by its text', () =>
    expect(columnsOf('SELECT `id`, id + 1, count(*) FROM bay', mysqlScript())).toEqual(['id int(11)', 'id + 1', 'count(*) bigint']))
  it('SQLite too', () => expect(columnsOf('SELECT [id], id + 1 FROM bay', sqliteScript)).toEqual(['id int'.toUpperCase().replace('ID', 'id'), 'id + 1']))
})
