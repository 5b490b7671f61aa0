import { describe, expect, it } from 'vitest'
import { named, shapeOf } from '../../../tests/support/shape.ts'
import { mysqlScript } from '../dialect/mysql/script.ts'
import { postgresScript } from '../dialect/postgres/script.ts'
import { sqliteScript } from '../dialect/sqlite/script.ts'
import { readScript, type Semantics, scriptDiagnosticLine } from './index.ts'

const read = (text: string, semantics: Semantics = postgresScript) => readScript([{ name: 'f', text: `${text};` }], semantics)
const clean = (text: string, semantics: Semantics = postgresScript) => {
  const r = read(text, semantics)
  expect(r.diagnostics.map(scriptDiagnosticLine)).toEqual([])
  return r.catalog
}

describe('sequences', () => {
  const whole = { type: 'bigint', start: '1', increment: '1', minimum: '1', maximum: '9223372036854775807', cache: '1', cycle: false }
  it.each([
    ['CREATE SEQUENCE q', whole],
    ['CREATE SEQUENCE q AS smallint', { ...whole, type: 'smallint', maximum: '32767' }],
    ['CREATE SEQUENCE q INCREMENT -1', { ...whole, start: '-1', increment: '-1', minimum: '-9223372036854775808', maximum: '-1' }],
    [
      'CREATE SEQUENCE q START WITH 5 INCREMENT BY 2 MINVALUE 3 MAXVALUE 9 CACHE 4 CYCLE',
      { ...whole, start: '5', increment: '2', minimum: '3', maximum: '9', cache: '4', cycle: true },
    ],
    ['CREATE SEQUENCE q MINVALUE 7 NO MAXVALUE NO CYCLE', { ...whole, start: '7', minimum: '7' }],
    ['CREATE SEQUENCE q START 4; ALTER SEQUENCE q INCREMENT 3 RESTART WITH 8', { ...whole, start: '4', increment: '3' }],
    ['CREATE SEQUENCE q MAXVALUE 9; ALTER SEQUENCE q NO MAXVALUE CYCLE', { ...whole, cycle: true }],
  ])('%s', (text, options) => expect(clean(text).sequences[0]?.options).toEqual(options))

  it('are owned, and owned no more', () => {
    const owned = 'CREATE TABLE t (a int); CREATE SEQUENCE q OWNED BY t.a'
    expect(clean(owned).sequences[0]?.ownedBy).toEqual({ schema: 'public', table: 't', column: 'a' })
    expect(clean(`${owned}; ALTER SEQUENCE q OWNED BY NONE`).sequences[0]?.ownedBy).toBeNull()
    expect(clean(`${owned}; DROP TABLE t`).sequences).toEqual([])
  })

  it('renamed are renamed in the defaults that count with them', () =>
    expect(shapeOf(named(clean('CREATE TABLE t (a serial); ALTER SEQUENCE t_a_seq RENAME TO numbers'), 't'))).toEqual([
      "a integer not null default nextval('public.numbers'::regclass)",
    ]))
})

describe('routines', () => {
  const signature = (text: string, semantics: Semantics = postgresScript) => {
    const r = clean(text, semantics).routines[0]
    return [r?.kind, r?.argumentTypes, r?.arguments, r?.returns, r?.language]
  }
  const body = "LANGUAGE sql AS 'select 1'"
  it.each([
    [`CREATE FUNCTION f() RETURNS int ${body}`, ['function', '', '', 'integer', 'sql']],
    [`CREATE FUNCTION f(a int, text) RETURNS SETOF text ${body}`, ['function', 'integer, text', 'a integer, text', 'SETOF text', 'sql']],
    [
      `CREATE FUNCTION f(IN a varchar(9) DEFAULT 'x,y', VARIADIC r int[]) RETURNS void ${body}`,
      ['function', 'character varying, integer[]', "a character varying DEFAULT 'x,y', VARIADIC r integer[]", 'void', 'sql'],
    ],
    [`CREATE FUNCTION f(a int, OUT b int, OUT c text) ${body}`, ['function', 'integer', 'a integer, OUT b integer, OUT c text', 'record', 'sql']],
    [`CREATE FUNCTION f(INOUT a int = 3) ${body}`, ['function', 'integer', 'INOUT a integer DEFAULT 3', 'integer', 'sql']],
    [`CREATE FUNCTION f() RETURNS TABLE (a int, "B" timestamp) ${body}`, ['function', '', '', 'TABLE(a integer, "B" timestamp without time zone)', 'sql']],
    [
      `CREATE FUNCTION f("in" int, out double precision) RETURNS int WINDOW IMMUTABLE COST 5 ${body}`,
      ['window function', 'integer', '"in" integer, OUT double precision', 'integer', 'sql'],
    ],
    [`CREATE OR REPLACE PROCEDURE p(a int) LANGUAGE plpgsql AS $$begin end$$`, ['procedure', 'integer', 'IN a integer', null, 'plpgsql']],
    ['CREATE AGGREGATE g (int) (SFUNC = int4pl, STYPE = int)', ['aggregate', 'integer', 'integer', '', 'internal']],
  ])('%s', (text, expected) => expect(signature(text)).toEqual(expected))

  it('told apart by their arguments; one is replaced, dropped, renamed, commented on', () => {
    const two = `CREATE FUNCTION f(int) RETURNS int ${body}; CREATE FUNCTION f(text) RETURNS int ${body}`
    const names = (text: string) => clean(text).routines.map((r) => `${r.name}(${r.argumentTypes})${r.comment ?? ''}`)
    expect(names(two)).toEqual(['f(integer)', 'f(text)'])
    expect(names(`${two}; CREATE OR REPLACE FUNCTION f(x int) RETURNS int ${body}`)).toEqual(['f(integer)', 'f(text)'])
    expect(names(`${two}; DROP FUNCTION f(text)`)).toEqual(['f(integer)'])
    expect(names(`${two}; ALTER FUNCTION f(text) RENAME TO g`)).toEqual(['f(integer)', 'g(text)'])
    expect(names(`${two}; COMMENT ON FUNCTION f(x text) IS '!'`)).toEqual(['f(integer)', 'f(text)!'])
    expect(read(`${two}; CREATE FUNCTION f(y int) RETURNS int ${body}`).diagnostics.map((d) => d.code)).toEqual(['already-there'])
  })

  it('of MySQL have a body of their own', () => {
    const text =
      'DELIMITER //\nCREATE DEFINER=`a`@`%` PROCEDURE p(IN n INT, OUT m VARCHAR(9)) BEGIN SELECT 1; SET m = n; END//\nCREATE FUNCTION f(n INT) RETURNS INT DETERMINISTIC RETURN n//\nDELIMITER ;\nSELECT 1'
    expect(clean(text, mysqlScript()).routines.map((r) => [r.kind, r.name, r.arguments, r.returns])).toEqual([
      ['function', 'f', '`n` int(11)', 'int(11)'],
      ['procedure', 'p', 'IN `n` int(11), OUT `m` varchar(9)', null],
    ])
  })
})

describe('indexes', () => {
  const table = 'CREATE TABLE t (a int, b text, c jsonb)'
  const indexOf = (text: string) => named(clean(`${table}; ${text}`), 't')?.indexes[0]
  it.each([
    ['CREATE INDEX i ON t (a DESC)', { columns: [{ column: 'a', descending: true, nullsFirst: true }] }],
    [
      'CREATE INDEX i ON t (a ASC NULLS FIRST, b DESC NULLS LAST)',
      {
        columns: [
          { descending: false, nullsFirst: true },
          { descending: true, nullsFirst: false },
        ],
      },
    ],
    ['CREATE INDEX i ON t USING gin (c jsonb_path_ops)', { method: 'gin', columns: [{ operatorClass: { schema: 'pg_catalog', name: 'jsonb_path_ops' } }] }],
    ['CREATE INDEX i ON t (b text_ops)', { columns: [{ operatorClass: null }] }],
    [
      'CREATE INDEX i ON t (b COLLATE "C" text_pattern_ops)',
      { columns: [{ collation: { schema: 'pg_catalog', name: 'C' }, operatorClass: { name: 'text_pattern_ops' } }] },
    ],
    [
      'CREATE UNIQUE INDEX i ON t (a) INCLUDE (b, c) NULLS NOT DISTINCT WITH (fillfactor = 70) TABLESPACE x WHERE a > 3 AND (b IS NOT NULL)',
      { unique: true, include: ['b', 'c'], nullsNotDistinct: true, options: ['fillfactor=70'], predicate: { written: 'a > 3 AND (b IS NOT NULL)' } },
    ],
    [
      "CREATE INDEX i ON t ((c ->> 'x'), lower(b), (a + 1))",
      { columns: [{ expression: { written: "(c ->> 'x')" } }, { expression: { written: 'lower(b)' } }, { expression: { written: '(a + 1)' } }] },
    ],
  ])('%s', (text, expected) => expect(indexOf(text)).toMatchObject(expected))
})

describe('comments', () => {
  const all = `CREATE TABLE t (a int CONSTRAINT k PRIMARY KEY, CONSTRAINT c CHECK (a > 0)); CREATE INDEX i ON t (a); CREATE VIEW v AS SELECT a FROM t;
    CREATE TYPE e AS ENUM ('x'); CREATE DOMAIN o AS int CONSTRAINT oc CHECK (VALUE > 0); CREATE TYPE p AS (x int); CREATE SEQUENCE q; CREATE EXTENSION citext;
    CREATE TRIGGER g AFTER INSERT ON t EXECUTE FUNCTION f(); CREATE RULE r AS ON UPDATE TO t DO NOTHING`
  it.each([
    ['TABLE t'],
    ['COLUMN t.a'],
    ['COLUMN public.t.a'],
    ['CONSTRAINT k ON t'],
    ['CONSTRAINT c ON t'],
    ['INDEX i'],
    ['VIEW v'],
    ['COLUMN v.a'],
    ['TYPE e'],
    ['DOMAIN o'],
    ['CONSTRAINT oc ON DOMAIN o'],
    ['TYPE p'],
    ['COLUMN p.x'],
    ['SEQUENCE q'],
    ['SCHEMA public'],
    ['EXTENSION citext'],
    ['TRIGGER g ON t'],
    ['RULE r ON t'],
  ])('ON %s are kept, and taken back by IS NULL', (target) => {
    const kept = JSON.stringify(clean(`${all}; COMMENT ON ${target} IS 'said ''so'''`))
    expect(kept.split('"comment":"said \'so\'"')).toHaveLength(2)
    expect(JSON.stringify(clean(`${all}; COMMENT ON ${target} IS 'x'; COMMENT ON ${target} IS NULL`))).not.toContain('"comment":"x"')
  })
})

describe('what takes no part', () => {
  it.each([
    [
      'temporary tables and what is done to them',
      'CREATE TEMP TABLE t (a int); CREATE INDEX ON t (a); ALTER TABLE t ADD b int; INSERT INTO t VALUES (1); DROP TABLE t',
      postgresScript,
    ],
    ['temporary views and sequences', 'CREATE TEMPORARY VIEW v AS SELECT 1; CREATE TEMP SEQUENCE q', postgresScript],
    [
      'rights, settings, rows, transactions',
      "BEGIN; SET x = 1; GRANT ALL ON SCHEMA public TO x; ALTER DEFAULT PRIVILEGES GRANT SELECT ON TABLES TO x; SELECT pg_catalog.setval('q', 1); ANALYZE; COMMIT",
      postgresScript,
    ],
    ['roles and databases', "CREATE ROLE x; ALTER DATABASE d SET a = 'b'; DROP USER IF EXISTS y; CREATE TABLESPACE t LOCATION '/x'", postgresScript],
    ['MySQL’s switches', 'SET FOREIGN_KEY_CHECKS=0; LOCK TABLES `a` WRITE; UNLOCK TABLES; FLUSH PRIVILEGES; USE other', mysqlScript()],
    ['SQLite’s', 'PRAGMA user_version=3; BEGIN EXCLUSIVE; END TRANSACTION; VACUUM', sqliteScript],
  ])('%s', (_, text, semantics) => {
    const r = read(text, semantics)
    expect(r.diagnostics.map(scriptDiagnosticLine)).toEqual([])
    expect([r.catalog.relations, r.catalog.sequences]).toEqual([[], []])
  })
})
