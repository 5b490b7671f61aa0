import { describe, expect, it } from 'vitest'
import { named } from '../../../tests/support/shape.ts'
import { readScript, type Semantics } from '../ddl/index.ts'
import { mysqlScript } from './mysql/script.ts'
import { type MySqlServer, mySqlServer, serverOfDump, versionNumber } from './mysql/server.ts'
import { neutralType } from './neutralTypes.ts'
import { clip, makeObjectName } from './postgres/madeUpNames.ts'
import { postgresScript } from './postgres/script.ts'
import { typeStorage } from './postgres/typeNames.ts'
import { sqliteScript } from './sqlite/script.ts'

const typeOf = (type: string, semantics: Semantics): string | undefined =>
  named(readScript([{ name: 'f', text: `CREATE TABLE t (c ${type});` }], semantics).catalog, 't')?.columns[0]?.type

describe('PostgreSQL spells', () => {
  it.each([
    ['int', 'integer'],
    ['INT8', 'bigint'],
    ['smallserial', 'smallint'],
    ['bigserial', 'bigint'],
    ['float', 'double precision'],
    ['float(24)', 'real'],
    ['float(25)', 'double precision'],
    ['double precision', 'double precision'],
    ['decimal', 'numeric'],
    ['dec(5)', 'numeric(5,0)'],
    ['numeric(10, 2)', 'numeric(10,2)'],
    ['char', 'character(1)'],
    ['"char"', '"char"'],
    ['char(3)', 'character(3)'],
    ['nchar varying(3)', 'character varying(3)'],
    ['national character(2)', 'character(2)'],
    ['varchar', 'character varying'],
    ['character varying (20)', 'character varying(20)'],
    ['bpchar', 'bpchar'],
    ['bit', 'bit(1)'],
    ['varbit(5)', 'bit varying(5)'],
    ['bool', 'boolean'],
    ['timestamp', 'timestamp without time zone'],
    ['timestamp(3) with time zone', 'timestamp(3) with time zone'],
    ['timestamptz(6)', 'timestamp(6) with time zone'],
    ['time without time zone', 'time without time zone'],
    ['timetz', 'time with time zone'],
    ['interval', 'interval'],
    ['interval day to second(3)', 'interval day to second(3)'],
    ['interval(2)', 'interval(2)'],
    ['text[]', 'text[]'],
    ['int[3][4]', 'integer[]'],
    ['int ARRAY', 'integer[]'],
    ['_int4', 'integer[]'],
    ['pg_catalog.int4', 'integer'],
    ['"timestamp"', 'timestamp without time zone'],
    ['int4range', 'int4range'],
  ])('%s as %s', (written, spelled) => expect(typeOf(written, postgresScript)).toBe(spelled))

  it.each([
    ['text', 'extended'],
    ['numeric(5,2)', 'main'],
    ['integer', 'plain'],
    ['timestamp without time zone', 'plain'],
    ['integer[]', 'extended'],
  ])('the storage of %s is %s', (type, storage) => expect(typeStorage(type)).toBe(storage))
})

describe('PostgreSQL makes names up', () => {
  const long = 'a'.repeat(70)
  it.each([
    ['t', 'c', 'key', 't_c_key'],
    ['t', null, 'pkey', 't_pkey'],
    [long, null, 'pkey', `${'a'.repeat(58)}_pkey`],
    [long, 'short', 'fkey', `${'a'.repeat(52)}_short_fkey`],
    [long, 'b'.repeat(70), 'key', `${'a'.repeat(29)}_${'b'.repeat(29)}_key`],
    ['ä'.repeat(40), null, 'seq', `${'ä'.repeat(29)}_seq`],
  ])('%s, %s, %s', (a, b, label, name) => expect(makeObjectName(a, b, label)).toBe(name))

  it('never half a character', () => expect([clip('aä', 2), clip('aä', 3), clip('😀b', 3)]).toEqual(['a', 'aä', '']))

  it('numbered where they are taken, in one space for tables, indexes and sequences', () => {
    const text = `CREATE TABLE t_a_key (x int); CREATE TABLE t_b_seq (x int);
      CREATE TABLE t (a int UNIQUE, b serial, c int CHECK (c > 0) CHECK (c < 9), CHECK (a < c), FOREIGN KEY (a) REFERENCES t (a), FOREIGN KEY (a) REFERENCES t (a));
      CREATE INDEX ON t (a); CREATE INDEX ON t (a); CREATE INDEX ON t ((a + c), lower(c::text), a);`
    const { catalog } = readScript([{ name: 'f', text }], postgresScript)
    const t = named(catalog, 't')
    expect(t?.uniques.map((u) => u.name)).toEqual(['t_a_key1'])
    expect(catalog.sequences.map((q) => q.name)).toEqual(['t_b_seq1'])
    expect(t?.checks.map((c) => c.name)).toEqual(['t_c_check', 't_c_check1', 't_check'])
    expect(t?.foreignKeys.map((f) => f.name)).toEqual(['t_a_fkey', 't_a_fkey1'])
    expect(t?.indexes.map((x) => x.name)).toEqual(['t_a_idx', 't_a_idx1', 't_expr_lower_a_idx'])
  })
})

describe('MySQL and MariaDB spell', () => {
  const old = mySqlServer('mysql', 50_744)
  const modern = mySqlServer('mysql', 80_033)
  const maria = mySqlServer('mariadb', 101_106)
  it.each([
    ['int', ['int(11)', 'int', 'int(11)']],
    ['int(5) unsigned', ['int(5) unsigned', 'int unsigned', 'int(5) unsigned']],
    ['integer zerofill', ['int(10) unsigned zerofill', 'int(10) unsigned zerofill', 'int(10) unsigned zerofill']],
    ['bool', ['tinyint(1)', 'tinyint(1)', 'tinyint(1)']],
    ['tinyint', ['tinyint(4)', 'tinyint', 'tinyint(4)']],
    ['serial', ['bigint(20) unsigned', 'bigint unsigned', 'bigint(20) unsigned']],
    ['numeric', ['decimal(10,0)', 'decimal(10,0)', 'decimal(10,0)']],
    ['float(30)', ['double', 'double', 'double']],
    ['double(8,2)', ['double(8,2)', 'double(8,2)', 'double(8,2)']],
    ['char', ['char(1)', 'char(1)', 'char(1)']],
    ['national varchar(4)', ['varchar(4)', 'varchar(4)', 'varchar(4)']],
    ['text(60)', ['tinytext', 'tinytext', 'tinytext']],
    ['blob(70000)', ['mediumblob', 'mediumblob', 'mediumblob']],
    ['year', ['year(4)', 'year', 'year(4)']],
    ['json', ['json', 'json', 'longtext']],
    ['datetime(0)', ['datetime', 'datetime', 'datetime']],
    ['timestamp(3)', ['timestamp(3)', 'timestamp(3)', 'timestamp(3)']],
    [`enum("a", 'b''c')`, [`enum('a','b''c')`, `enum('a','b''c')`, `enum('a','b''c')`]],
    ['long varchar', ['mediumtext', 'mediumtext', 'mediumtext']],
  ])('%s', (written, spelled) => expect([old, modern, maria].map((s: MySqlServer) => typeOf(written, mysqlScript(s)))).toEqual(spelled))

  it.each([
    ['8.0.33', 80_033],
    ['10.11', 101_199],
    ['5', 59_999],
    ['x', null],
  ])('version %s is %s', (text, number) => expect(versionNumber(text)).toBe(number))

  it.each([
    ['-- Server version\t8.0.33-0ubuntu0\n', 'mysql', 80_033],
    ['-- MariaDB dump 10.19  Distrib 10.11.6-MariaDB, for debian-linux-gnu (x86_64)\n', 'mariadb', 101_106],
  ])('a dump that says %j', (head, engine, version) => expect(serverOfDump(head)).toMatchObject({ engine, version }))
  it('a dump that says nothing', () => expect(serverOfDump('CREATE TABLE a (x int);')).toBeNull())
})

describe('SQLite keeps what its author wrote', () => {
  it.each([
    ['integer', 'INTEGER'],
    ['Varchar( 20 )', 'Varchar( 20 )'],
    ['UNSIGNED  BIG INT', 'UNSIGNED BIG INT'],
    ['native character(70)', 'native character(70)'],
    ['', ''],
  ])('%j', (written, spelled) => expect(typeOf(written, sqliteScript)).toBe(spelled))
})

describe('what the values are', () => {
  it.each([
    ['mysql', 'tinyint(1)', 'boolean'],
    ['mysql', 'tinyint(4)', 'integer'],
    ['mysql', 'bigint(20) unsigned', 'bigint'],
    ['mysql', "enum('a','b')", 'text'],
    ['mysql', 'time', 'interval'],
    ['mysql', 'timestamp', 'instant'],
    ['mysql', 'geometry', 'other'],
    ['sqlite', 'UNSIGNED BIG INT', 'bigint'],
    ['sqlite', 'VARCHAR(20)', 'text'],
    ['sqlite', '', 'bytes'],
    ['sqlite', 'DATETIME', 'local datetime'],
    ['sqlite', 'DECIMAL(10,5)', 'decimal'],
    ['sqlite', 'FLOATING POINT', 'integer'],
    ['sqlite', 'whatever', 'other'],
    ['postgresql', 'numeric(5,2)', 'decimal'],
  ] as const)('%s %s: %s', (dialect, type, kind) => expect(neutralType(dialect, type, () => false).kind).toBe(kind))
})
