import { describe, expect, it } from 'vitest'
import { named, shapeOf } from '../../../tests/support/shape.ts'
import { mysqlScript } from '../dialect/mysql/script.ts'
import { postgresScript } from '../dialect/postgres/script.ts'
import { sqliteScript } from '../dialect/sqlite/script.ts'
import { readScript, type Semantics, scriptDiagnosticLine } from './index.ts'

/** The shape of the table `t` after the statements. Nothing may be complained of. */
function after(before: string, statements: string, semantics: Semantics = postgresScript, name = 't'): readonly string[] {
  const r = readScript([{ name: 'f', text: `${before};\n${statements};` }], semantics)
  expect(r.diagnostics.map(scriptDiagnosticLine)).toEqual([])
  expect(r.understood).toBe(r.structural)
  return shapeOf(named(r.catalog, name))
}

const plain = 'CREATE TABLE t (a int PRIMARY KEY, b text)'

describe('ALTER TABLE in PostgreSQL', () => {
  it.each([
    ['ADD c int', ['a integer not null', 'b text', 'c integer', 'primary key t_pkey (a)']],
    ['ADD COLUMN IF NOT EXISTS b int', ['a integer not null', 'b text', 'primary key t_pkey (a)']],
    [
      'ADD COLUMN c int UNIQUE CHECK (c > 0)',
      ['a integer not null', 'b text', 'c integer', 'primary key t_pkey (a)', 'unique t_c_key (c)', 'check t_c_check (c > 0)'],
    ],
    ['ADD c serial', ['a integer not null', 'b text', "c integer not null default nextval('public.t_c_seq'::regclass)", 'primary key t_pkey (a)']],
    [
      'ADD c int REFERENCES t ON DELETE SET NULL',
      ['a integer not null', 'b text', 'c integer', 'primary key t_pkey (a)', 'reference t_c_fkey (c) to t (a) delete set null'],
    ],
    ['DROP b', ['a integer not null', 'primary key t_pkey (a)']],
    ['DROP COLUMN a CASCADE', ['b text']],
    ['RENAME b TO c', ['a integer not null', 'c text', 'primary key t_pkey (a)']],
    ['RENAME COLUMN a TO c', ['c integer not null', 'b text', 'primary key t_pkey (c)']],
    ['ADD CONSTRAINT u UNIQUE (b, a) DEFERRABLE', ['a integer not null', 'b text', 'primary key t_pkey (a)', 'unique u (b,a) initially immediate']],
    ['DROP CONSTRAINT t_pkey', ['a integer not null', 'b text']],
    ['RENAME CONSTRAINT t_pkey TO k', ['a integer not null', 'b text', 'primary key k (a)']],
    ['ALTER b TYPE varchar(9) COLLATE "C" USING left(b, 9)', ['a integer not null', 'b character varying(9) collate C', 'primary key t_pkey (a)']],
    ["ALTER b SET DEFAULT 'x', ALTER b SET NOT NULL", ['a integer not null', "b text not null default 'x'", 'primary key t_pkey (a)']],
    [
      'ALTER COLUMN b SET STORAGE MAIN, ALTER b SET COMPRESSION lz4, ALTER b SET STATISTICS 5',
      ['a integer not null', 'b text storage main compression lz4 statistics 5', 'primary key t_pkey (a)'],
    ],
    ['ALTER a ADD GENERATED ALWAYS AS IDENTITY', ['a integer not null counts always by t_a_seq', 'b text', 'primary key t_pkey (a)']],
    ['ADD CHECK (b <> a::text) NOT VALID', ['a integer not null', 'b text', 'primary key t_pkey (a)', 'check t_check (b <> a::text) not valid']],
    ['ADD c int GENERATED ALWAYS AS (a * 2) STORED', ['a integer not null', 'b text', 'c integer as (a * 2) stored', 'primary key t_pkey (a)']],
    ['OWNER TO somebody, SET (fillfactor = 70), CLUSTER ON t_pkey, SET TABLESPACE fast', ['a integer not null', 'b text', 'primary key t_pkey (a)']],
  ])('%s', (action, shape) => expect(after(plain, `ALTER TABLE t ${action}`)).toEqual(shape))

  it.each([
    ['a default taken back', 'CREATE TABLE t (a int DEFAULT 1 NOT NULL)', 'ALTER TABLE t ALTER a DROP DEFAULT, ALTER a DROP NOT NULL', ['a integer']],
    ['an identity taken back', 'CREATE TABLE t (a int GENERATED ALWAYS AS IDENTITY)', 'ALTER TABLE t ALTER a DROP IDENTITY IF EXISTS', ['a integer not null']],
    [
      'a generated column made plain',
      'CREATE TABLE t (a int, b int GENERATED ALWAYS AS (a) STORED)',
      'ALTER TABLE t ALTER b DROP EXPRESSION',
      ['a integer', 'b integer'],
    ],
    [
      'a check validated',
      'CREATE TABLE t (a int); ALTER TABLE t ADD CONSTRAINT c CHECK (a > 0) NOT VALID',
      'ALTER TABLE t VALIDATE CONSTRAINT c',
      ['a integer', 'check c (a > 0)'],
    ],
    [
      'a key from an index',
      'CREATE TABLE t (a int); CREATE UNIQUE INDEX i ON t (a)',
      'ALTER TABLE t ADD PRIMARY KEY USING INDEX i',
      ['a integer not null', 'primary key i (a)'],
    ],
    ['an index renamed', 'CREATE TABLE t (a int); CREATE INDEX i ON t (a)', 'ALTER INDEX i RENAME TO j', ['a integer', 'index j (a)']],
    ['an index dropped', 'CREATE TABLE t (a int); CREATE INDEX i ON t (a)', 'DROP INDEX CONCURRENTLY i', ['a integer']],
    [
      'a trigger turned off',
      'CREATE TABLE t (a int); CREATE TRIGGER g AFTER INSERT ON t EXECUTE FUNCTION f()',
      'ALTER TABLE t DISABLE TRIGGER g',
      ['a integer', 'trigger g disabled'],
    ],
    [
      'all triggers off, references too',
      `${plain}; ALTER TABLE t ADD c int REFERENCES t`,
      'ALTER TABLE t DISABLE TRIGGER ALL',
      ['a integer not null', 'b text', 'c integer', 'primary key t_pkey (a)', 'reference t_c_fkey (c) to t (a) not enforced'],
    ],
    [
      'a trigger renamed and dropped',
      'CREATE TABLE t (a int); CREATE TRIGGER g AFTER INSERT ON t EXECUTE FUNCTION f()',
      'ALTER TRIGGER g ON t RENAME TO h; DROP TRIGGER h ON t',
      ['a integer'],
    ],
    [
      'a reference made deferrable',
      `${plain}; ALTER TABLE t ADD c int REFERENCES t`,
      'ALTER TABLE t ALTER CONSTRAINT t_c_fkey DEFERRABLE INITIALLY DEFERRED',
      ['a integer not null', 'b text', 'c integer', 'primary key t_pkey (a)', 'reference t_c_fkey (c) to t (a) initially deferred'],
    ],
  ])('%s', (_, before, statements, shape) => expect(after(before, statements)).toEqual(shape))

  it('a column renamed is renamed wherever it is named', () => {
    const before = `CREATE TABLE p (k int PRIMARY KEY);
      CREATE TABLE t (a int REFERENCES p, b int CHECK (a > b AND length('a') > 0), c int GENERATED ALWAYS AS (a + 1) STORED, UNIQUE (a, b));
      CREATE INDEX i ON t (abs(a), b) WHERE a IS NOT NULL`
    expect(after(before, 'ALTER TABLE t RENAME a TO z')).toEqual([
      'z integer',
      'b integer',
      'c integer as (z + 1) stored',
      'unique t_a_b_key (z,b)',
      'reference t_a_fkey (z) to p (k)',
      "check t_check (z > b AND length('a') > 0)",
      'index i (abs(z),b) where z IS NOT NULL',
    ])
    expect(after(before, 'ALTER TABLE p RENAME k TO z')).toContain('reference t_a_fkey (a) to p (z)')
  })

  it('a column dropped takes along what needs it', () => {
    const before = `CREATE TABLE t (a serial, b int CHECK (a > b), c int, PRIMARY KEY (a, b), UNIQUE (c));
      CREATE INDEX i ON t (c) INCLUDE (a); CREATE INDEX j ON t (c); CREATE TABLE u (x int, y int, FOREIGN KEY (x, y) REFERENCES t)`
    expect(after(before, 'ALTER TABLE t DROP a')).toEqual(['b integer not null', 'c integer', 'unique t_c_key (c)', 'index j (c)'])
    expect(after(before, 'ALTER TABLE t DROP a', postgresScript, 'u')).toEqual(['x integer', 'y integer'])
    expect(readScript([{ name: 'f', text: `${before}; ALTER TABLE t DROP a;` }], postgresScript).catalog.sequences).toEqual([])
  })

  it('a table moved is found by what refers to it, its sequences and its partitions', () => {
    const before = 'CREATE SCHEMA s; CREATE TABLE p (id serial PRIMARY KEY); CREATE TABLE t (p_id int REFERENCES p)'
    const r = readScript([{ name: 'f', text: `${before}; ALTER TABLE p SET SCHEMA s; ALTER TABLE s.p RENAME TO q;` }], postgresScript)
    expect(named(r.catalog, 't')?.foreignKeys[0]?.target).toEqual({ schema: 's', table: 'q', columns: ['id'] })
    expect(r.catalog.sequences[0]?.ownedBy).toEqual({ schema: 's', table: 'q', column: 'id' })
  })

  it('a schema renamed takes all of it along', () => {
    const r = readScript(
      [
        {
          name: 'f',
          text: 'CREATE SCHEMA s; CREATE TYPE s.e AS ENUM (); CREATE TABLE s.t (a serial PRIMARY KEY, e s.e); CREATE TABLE u (a int REFERENCES s.t); ALTER SCHEMA s RENAME TO z;',
        },
      ],
      postgresScript,
    )
    expect(r.catalog.schemas.map((s) => s.name)).toEqual(['public', 'z'])
    expect(shapeOf(named(r.catalog, 't'))).toEqual(["a integer not null default nextval('z.t_a_seq'::regclass)", 'e z.e', 'primary key t_pkey (a)'])
    expect(named(r.catalog, 'u')?.foreignKeys[0]?.target.schema).toBe('z')
  })
})

describe('partitions in PostgreSQL', () => {
  const parent = 'CREATE TABLE t (a int NOT NULL, b int CHECK (b > 0), PRIMARY KEY (a)) PARTITION BY RANGE (a); CREATE INDEX ON t (b)'
  it.each([
    [
      'made of its parent',
      'CREATE TABLE p PARTITION OF t (CONSTRAINT own CHECK (a < 9)) FOR VALUES FROM (1) TO (9)',
      [
        'a integer not null',
        'b integer',
        'primary key p_pkey (a) of t_pkey',
        'check own (a < 9)',
        'check t_b_check (b > 0) inherited',
        'index p_b_idx (b) of t_b_idx',
      ],
    ],
    [
      'attached',
      'CREATE TABLE p (a int NOT NULL, b int CONSTRAINT t_b_check CHECK (b > 0)); CREATE INDEX mine ON p (b); ALTER TABLE t ATTACH PARTITION p DEFAULT',
      ['a integer not null', 'b integer', 'primary key p_pkey (a) of t_pkey', 'check t_b_check (b > 0) inherited', 'index mine (b) of t_b_idx'],
    ],
    [
      'detached again',
      'CREATE TABLE p PARTITION OF t DEFAULT; ALTER TABLE t DETACH PARTITION p CONCURRENTLY',
      ['a integer not null', 'b integer', 'primary key p_pkey (a)', 'check t_b_check (b > 0)', 'index p_b_idx (b)'],
    ],
    [
      'reached by a later column and index',
      'CREATE TABLE p PARTITION OF t DEFAULT; ALTER TABLE t ADD c text DEFAULT 1; CREATE UNIQUE INDEX u ON t (a, c)',
      [
        'a integer not null',
        'b integer',
        'c text default 1',
        'primary key p_pkey (a) of t_pkey',
        'check t_b_check (b > 0) inherited',
        'unique index p_a_c_idx (a,c) of u',
        'index p_b_idx (b) of t_b_idx',
      ],
    ],
    [
      'left alone by ONLY',
      'CREATE TABLE p PARTITION OF t DEFAULT; CREATE INDEX o ON ONLY t (b, a)',
      ['a integer not null', 'b integer', 'primary key p_pkey (a) of t_pkey', 'check t_b_check (b > 0) inherited', 'index p_b_idx (b) of t_b_idx'],
    ],
  ])('%s', (_, statements, shape) => expect(after(parent, statements, postgresScript, 'p')).toEqual(shape))

  it('dropped with its parent', () =>
    expect(after(parent, 'CREATE TABLE p PARTITION OF t DEFAULT; DROP TABLE t', postgresScript, 'p')).toEqual(['there is none']))
  it('an index on the parent alone waits for those of the partitions', () => {
    const statements = 'CREATE TABLE p PARTITION OF t DEFAULT; CREATE INDEX o ON ONLY t (b, a)'
    expect(after(parent, statements)).toContain('index o (b,a) not valid')
    expect(after(parent, `${statements}; CREATE INDEX q ON p (b, a); ALTER INDEX o ATTACH PARTITION q`)).toContain('index o (b,a)')
  })
  it('a child by INHERITS has columns and checks, and no keys', () =>
    expect(after(parent.replace(' PARTITION BY RANGE (a)', ''), 'CREATE TABLE c (b int DEFAULT 2, own text) INHERITS (t)', postgresScript, 'c')).toEqual([
      'a integer not null',
      'b integer default 2',
      'own text',
      'check t_b_check (b > 0) inherited',
    ]))
})

describe('types in PostgreSQL', () => {
  const types = "CREATE TYPE e AS ENUM ('a', 'b'); CREATE TYPE c AS (x int, y text); CREATE DOMAIN o AS int CHECK (VALUE > 0)"
  const catalogAfter = (statements: string) => readScript([{ name: 'f', text: `${types}; ${statements};` }], postgresScript).catalog
  it.each([
    ["ALTER TYPE e ADD VALUE 'c'", ['a', 'b', 'c']],
    ["ALTER TYPE e ADD VALUE 'c' BEFORE 'b'", ['a', 'c', 'b']],
    ["ALTER TYPE e ADD VALUE 'c' AFTER 'a'", ['a', 'c', 'b']],
    ["ALTER TYPE e ADD VALUE IF NOT EXISTS 'a'", ['a', 'b']],
    ["ALTER TYPE e RENAME VALUE 'a' TO 'z'", ['z', 'b']],
  ])('%s', (statement, labels) => expect(catalogAfter(statement).enums[0]?.labels).toEqual(labels))

  it.each([
    ['ALTER TYPE c ADD ATTRIBUTE z date CASCADE', ['x integer', 'y text', 'z date']],
    ['ALTER TYPE c DROP ATTRIBUTE x', ['y text']],
    ['ALTER TYPE c ALTER ATTRIBUTE x SET DATA TYPE bigint', ['x bigint', 'y text']],
    ['ALTER TYPE c RENAME ATTRIBUTE x TO q', ['q integer', 'y text']],
  ])('%s', (statement, attributes) => expect(catalogAfter(statement).composites[0]?.attributes.map((a) => `${a.name} ${a.type}`)).toEqual(attributes))

  it('a domain changes', () => {
    const o = catalogAfter(
      'ALTER DOMAIN o SET DEFAULT 5; ALTER DOMAIN o SET NOT NULL; ALTER DOMAIN o ADD CHECK (VALUE < 9) NOT VALID; ALTER DOMAIN o DROP CONSTRAINT o_check; ALTER DOMAIN o RENAME CONSTRAINT o_check1 TO few',
    ).domains[0]
    expect(o).toMatchObject({ nullable: false, default: { written: '5' }, checks: [{ name: 'few', expression: { written: 'VALUE < 9' }, validated: false }] })
  })

  it('a type renamed is renamed in its columns', () => {
    const c = catalogAfter('CREATE SCHEMA s; CREATE TABLE t (a e, b e[]); ALTER TYPE e RENAME TO f; ALTER TYPE f SET SCHEMA s')
    expect(shapeOf(named(c, 't'))).toEqual(['a s.f', 'b s.f[]'])
  })
})

describe('ALTER TABLE in MySQL and MariaDB', () => {
  const before = 'CREATE TABLE t (a int NOT NULL AUTO_INCREMENT PRIMARY KEY, b varchar(9), c int, KEY (b), UNIQUE KEY u (b, c))'
  const first = 'a int(11) not null counts by default'
  const rest = ['primary key PRIMARY (a)', 'unique u (b,c)', 'index b (b)']
  it.each([
    ['ADD d int FIRST', ['d int(11)', first, 'b varchar(9)', 'c int(11)', ...rest]],
    ['ADD COLUMN d int AFTER a', [first, 'd int(11)', 'b varchar(9)', 'c int(11)', ...rest]],
    ['ADD (d int, e int)', [first, 'b varchar(9)', 'c int(11)', 'd int(11)', 'e int(11)', ...rest]],
    ["MODIFY b text NOT NULL COMMENT 'x'", [first, 'b text not null -- x', 'c int(11)', ...rest]],
    ['CHANGE b z varchar(8)', [first, 'z varchar(8)', 'c int(11)', 'primary key PRIMARY (a)', 'unique u (z,c)', 'index b (z)']],
    ['DROP b', [first, 'c int(11)', 'primary key PRIMARY (a)', 'unique u (c)']],
    ['DROP PRIMARY KEY, DROP KEY u, DROP INDEX b', [first, 'b varchar(9)', 'c int(11)']],
    ['RENAME INDEX b TO bb', [first, 'b varchar(9)', 'c int(11)', 'primary key PRIMARY (a)', 'unique u (b,c)', 'index bb (b)']],
    ['ADD INDEX (c), ADD INDEX (c)', [first, 'b varchar(9)', 'c int(11)', ...rest, 'index c (c)', 'index c_2 (c)']],
    [
      'ADD FOREIGN KEY (c) REFERENCES t (a), ADD FOREIGN KEY (c) REFERENCES t (a)',
      [
        first,
        'b varchar(9)',
        'c int(11)',
        'primary key PRIMARY (a)',
        'unique u (b,c)',
        'reference t_ibfk_1 (c) to t (a)',
        'reference t_ibfk_2 (c) to t (a)',
        'index b (b)',
        'index c (c)',
      ],
    ],
    ['ENGINE=InnoDB, AUTO_INCREMENT=7, ALTER c SET DEFAULT 3', [first, 'b varchar(9)', 'c int(11) default 3', ...rest]],
    [
      'ADD ts timestamp DEFAULT current_timestamp() ON UPDATE current_timestamp()',
      [first, 'b varchar(9)', 'c int(11)', 'ts timestamp default current_timestamp() on update current_timestamp()', ...rest],
    ],
  ])('%s', (action, shape) => expect(after(before, `ALTER TABLE t ${action}`, mysqlScript())).toEqual(shape))
})

describe('RENAME TABLE in MySQL', () => {
  it('lets two tables change places', () => {
    const before = 'CREATE TABLE t (a int); CREATE TABLE u (b int)'
    expect(after(before, 'RENAME TABLE t TO x, u TO t, x TO u', mysqlScript())).toEqual(['b int(11)'])
  })
})

describe('CREATE TABLE AS', () => {
  it('tells of the columns whose type only a server knows', () => {
    const r = readScript(
      [{ name: 'f', text: 'CREATE TABLE t (a int); CREATE TABLE u AS SELECT a, count(*) AS n, a + 1 AS next FROM t GROUP BY a;' }],
      postgresScript,
    )
    expect(shapeOf(named(r.catalog, 'u'))).toEqual(['a integer', 'n bigint', 'next'])
    expect(r.diagnostics.map(scriptDiagnosticLine)).toEqual([
      'f:1:25: warning: the type (of its expression) of u.next is not known; it is kept as it is written',
    ])
  })
})

describe('ALTER TABLE in SQLite', () => {
  const before = 'CREATE TABLE t (a INTEGER PRIMARY KEY, b TEXT REFERENCES t (a), UNIQUE (b))'
  it.each([
    [
      'ADD c REAL DEFAULT 1.5',
      ['a INTEGER not null counts by default', 'b TEXT', 'c REAL default 1.5', 'primary key  (a)', 'unique  (b)', 'reference  (b) to t (a) not enforced'],
    ],
    ['RENAME b TO c', ['a INTEGER not null counts by default', 'c TEXT', 'primary key  (a)', 'unique  (c)', 'reference  (c) to t (a) not enforced']],
    ['DROP COLUMN b', ['a INTEGER not null counts by default', 'primary key  (a)']],
  ])('%s', (action, shape) => expect(after(before, `ALTER TABLE t ${action}`, sqliteScript)).toEqual(shape))
})
