import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { dialectLabel, guessDialect, parseDialect } from '../dialect/guess.ts'
import { mysqlScript } from '../dialect/mysql/script.ts'
import { mySqlServer } from '../dialect/mysql/server.ts'
import { postgresScript } from '../dialect/postgres/script.ts'
import { sqliteScript } from '../dialect/sqlite/script.ts'
import { decodeText } from './files.ts'
import { readScript, ScriptReader, type ScriptResult, type Semantics, scriptDiagnosticLine } from './index.ts'

const read = (text: string, semantics: Semantics = postgresScript): ScriptResult => readScript([{ name: 'f.sql', text }], semantics)
const told = (r: ScriptResult) => r.diagnostics.map((d) => scriptDiagnosticLine(d))
const tableOf = (r: ScriptResult, name: string) => r.catalog.relations.find((x) => x.name === name)

describe('what cannot be read is told, and the rest is read', () => {
  it('with line, column and the text', () => {
    const r = read('CREATE TABLE a (x int);\n\nCREATE TABLE b (x int,, y int);\nFROBNICATE c;\nCREATE TABLE d (x int);')
    expect(r.catalog.relations.map((x) => x.name)).toEqual(['a', 'd'])
    expect(told(r)).toEqual([
      'f.sql:3:23: error: not read: a column was expected: CREATE TABLE b (x int,, y int)',
      'f.sql:4:1: error: not read: this statement is not known: FROBNICATE c',
    ])
    expect([r.understood, r.structural]).toEqual([2, 4])
  })

  it.each([
    ['nothing', '', 0],
    ['blanks and comments', '  -- a\n/* b */\n', 0],
    ['a statement cut off', 'CREATE TABLE a (x int', 1],
    ['an open string', "CREATE TABLE a (x text DEFAULT 'abc);\nCREATE TABLE b (x int);", 1],
    ['a binary file', '\u0001\u0002\u0003SQLite format 3\u0000', 1],
    ['another dialect', 'CREATE TABLE `a` (`id` int unsigned NOT NULL AUTO_INCREMENT);', 1],
  ])('%s', (_, text, unread) => {
    const r = read(text)
    expect(r.diagnostics.filter((d) => d.code === 'unreadable')).toHaveLength(unread)
    expect(r.catalog.relations).toEqual([])
  })

  it.each([
    ['ALTER TABLE gone ADD x int;', 'there is no table "gone" here'],
    ['DROP TABLE gone;', 'there is no table "gone" here'],
    ['CREATE TABLE a (x int); CREATE TABLE a (y int);', 'table "a" is there already; the first one stands'],
    ['CREATE TABLE a (x int); CREATE INDEX i ON a (y);', 'there is no column "a.y" here'],
    ['CREATE TABLE a (x int REFERENCES gone);', 'there is no table "gone" here'],
    ['CREATE TABLE a (x citext);', 'the type citext of a.x is not known; it is kept as it is written'],
    ['CREATE TABLE a (user text);', 'the server refuses table a: "user" is a reserved word; quoted, it would be a name'],
    ['CREATE SCHEMA s CREATE TABLE a (x int,, y int);', 'not read: a column was expected: CREATE SCHEMA s CREATE TABLE a (x int,, y int)'],
    ['CREATE TABLE gone.a (x int);', 'there is no schema "gone" here'],
    ['COMMENT ON COLUMN gone.x IS $$a$$;', 'there is no column "x" here'],
  ])('%s', (text, expected) => expect(told(read(text)).map((l) => l.replace(/^\S+ \w+: /, ''))).toEqual([expected]))

  it('IF EXISTS and IF NOT EXISTS are no complaints', () => {
    const r = read(
      'DROP TABLE IF EXISTS a; CREATE TABLE a (x int); CREATE TABLE IF NOT EXISTS a (y int); ALTER TABLE IF EXISTS b ADD x int; DROP INDEX IF EXISTS i;',
    )
    expect(told(r)).toEqual([])
    expect(tableOf(r, 'a')?.columns.map((c) => c.name)).toEqual(['x'])
  })
})

describe('the engine and its version decide', () => {
  const inline = 'CREATE TABLE a (id int PRIMARY KEY); CREATE TABLE b (a_id int REFERENCES a (id), n int CHECK (n > 0));'
  it.each([
    ['MySQL 8.0.15', mySqlServer('mysql', 80_015), 0, 0, 'int'],
    ['MySQL 8.0.33', mySqlServer('mysql', 80_033), 0, 1, 'int'],
    ['MySQL 5.7', mySqlServer('mysql', 50_744), 0, 0, 'int(11)'],
    ['MySQL 9', mySqlServer('mysql', 90_000), 1, 1, 'int'],
    ['MariaDB 10.4', mySqlServer('mariadb', 100_400), 0, 1, 'int(11)'],
    ['MariaDB 10.11', mySqlServer('mariadb', 101_106), 1, 1, 'int(11)'],
  ])('%s', (_, server, references, checks, type) => {
    const b = tableOf(read(inline, mysqlScript(server)), 'b')
    // MySQL dropped display widths with 8.0.19.
    const shown = server.engine === 'mysql' && server.version < 80_019 ? 'int(11)' : type
    expect([b?.foreignKeys.length, b?.checks.length, b?.columns[1]?.type]).toEqual([references, checks, shown])
  })

  it('a table without keys tells that its references are ignored', () => {
    const r = read('CREATE TABLE a (id int PRIMARY KEY); CREATE TABLE b (a_id int, FOREIGN KEY (a_id) REFERENCES a (id)) ENGINE=MyISAM;', mysqlScript())
    expect(tableOf(r, 'b')?.foreignKeys).toEqual([])
    expect(told(r)).toEqual(['f.sql:1:38: warning: the server reads FOREIGN KEY of b and makes nothing of it; neither do we'])
  })

  it('SQLite: a missing parent is told, and the reference kept', () => {
    const r = read('CREATE TABLE a (x INTEGER REFERENCES gone, y INTEGER REFERENCES later);\nCREATE TABLE Later (id INTEGER PRIMARY KEY);', sqliteScript)
    expect(tableOf(r, 'a')?.foreignKeys.map((f) => [f.target.table, f.target.columns, f.enforced])).toEqual([
      ['gone', [], false],
      ['Later', ['id'], false],
    ])
    expect(told(r)).toEqual(['f.sql:1:1: error: there is no table "gone", to which a(x) refers'])
  })

  it('SQLite: virtual tables and their shadows are kept by name', () => {
    const r = read(
      `CREATE VIRTUAL TABLE words USING fts5(title); CREATE TABLE 'words_data'(id INTEGER PRIMARY KEY, block BLOB); CREATE TABLE words_other (x);`,
      sqliteScript,
    )
    expect(r.catalog.relations.map((x) => x.name)).toEqual(['words_other'])
    expect(r.catalog.unmodelled.map((u) => u.identity)).toEqual(['words_data (of words)', 'words (fts5)'])
  })

  it('MySQL: under ANSI a double quote opens a name, until the mode is set back', () => {
    const text = `CREATE TABLE a (id int COMMENT "it's");
/*!40101 SET @OLD=@@SQL_MODE, SQL_MODE='ANSI,NO_BACKSLASH_ESCAPES' */;
CREATE TABLE "b c" ("id" int, x varchar(5) DEFAULT 'y\\');
SET SQL_MODE=@OLD;
CREATE TABLE d (id int COMMENT "z");`
    const r = read(text, mysqlScript())
    expect(r.diagnostics).toEqual([])
    expect(tableOf(r, 'a')?.columns[0]?.comment).toBe("it's")
    expect(tableOf(r, 'b c')?.columns[1]?.default?.written).toBe("'y\\'")
    expect(tableOf(r, 'd')?.columns[0]?.comment).toBe('z')
  })

  it('SQLite: a type is any run of names, brackets and quotes too', () => {
    const r = read('CREATE TABLE a (tags text[] NOT NULL, b "my type" DEFAULT 1, c unsigned big int(4) NULL, d varchar(3), e)', sqliteScript)
    expect(tableOf(r, 'a')?.columns.map((c) => c.type)).toEqual(['text[]', 'my type', 'unsigned big int(4)', 'varchar(3)', ''])
  })
})

describe('files', () => {
  const demo = readFileSync('demo/schema.sql', 'utf8')
  const whole = readScript([{ name: 'demo', text: demo }], postgresScript)

  it('in pieces of any size they are the same', () => {
    for (const size of [1, 2, 3, 7, 64, 1000, 4096]) {
      const reader = new ScriptReader(postgresScript)
      for (let i = 0; i < demo.length; i += size) reader.feed('demo', demo.slice(i, i + size), i + size >= demo.length)
      expect(reader.finish().catalog, `pieces of ${size}`).toEqual(whole.catalog)
    }
  }, 60_000)

  it('cut anywhere, a text with every kind of quote, comment and data is the same', () => {
    const text = [
      "\\connect x\nCREATE TABLE a (x text DEFAULT E'it\\'s; '' \\\\', /* ; -- */ y int); -- ;\n",
      'CREATE FUNCTION f() RETURNS int LANGUAGE sql AS $b$ SELECT 1; $$ $b$;\nCOPY a (x) FROM stdin;\nCREATE TABLE no (x int);\n\\.\n',
      'CREATE TABLE "b;""c" (id serial);\nCREATE FUNCTION g() RETURNS int BEGIN ATOMIC SELECT 1; SELECT 2; END;\nCREATE TABLE d (x int)',
    ].join('')
    const expected = read(text)
    expect(expected.catalog.relations.map((r) => r.name)).toEqual(['a', 'b;"c', 'd'])
    expect(told(expected)).toEqual([])
    for (let cut = 1; cut < text.length; cut += 1) {
      const reader = new ScriptReader(postgresScript)
      reader.feed('f.sql', text.slice(0, cut), false)
      reader.feed('f.sql', text.slice(cut), true)
      expect(reader.finish(), `cut at ${cut}`).toEqual(expected)
    }
  })

  it('places are the same in pieces', () => {
    const text = 'CREATE TABLE a (x int);\n\n  CREATE TABLE b (x int,, y int);\nFROBNICATE c;\n'
    const expected = told(read(text))
    for (let cut = 1; cut < text.length; cut += 1) {
      const reader = new ScriptReader(postgresScript)
      reader.feed('f.sql', text.slice(0, cut), false)
      reader.feed('f.sql', text.slice(cut), true)
      expect(told(reader.finish()), `cut at ${cut}`).toEqual(expected)
    }
  })

  it('several in order make one schema', () => {
    const r = readScript(
      [
        { name: '1.sql', text: 'CREATE TABLE a (id int PRIMARY KEY);' },
        { name: '2.sql', text: 'CREATE TABLE b (a_id int REFERENCES a);\nCREATE TABLE c (x nonsense);' },
      ],
      postgresScript,
    )
    expect(tableOf(r, 'b')?.foreignKeys[0]?.target).toEqual({ schema: 'public', table: 'a', columns: ['id'] })
    expect(told(r)).toEqual(['2.sql:2:1: warning: the type nonsense of c.x is not known; it is kept as it is written'])
  })

  it.each([
    ['UTF-8', [0x67, 0xc3, 0xb6]],
    ['UTF-8 with a mark', [0xef, 0xbb, 0xbf, 0x67, 0xc3, 0xb6]],
    ['UTF-16, little end first', [0xff, 0xfe, 0x67, 0, 0xf6, 0]],
    ['UTF-16, big end first', [0xfe, 0xff, 0, 0x67, 0, 0xf6]],
    ['Windows-1252', [0x67, 0xf6]],
  ])('%s is read', (_, bytes) => expect(decodeText(new Uint8Array(bytes))).toBe('gö'))
})

describe('the guess of a dialect', () => {
  it.each([
    ['-- PostgreSQL database dump\nCREATE TABLE a (x int);', 'PostgreSQL', 'it is headed "PostgreSQL database dump"'],
    ['CREATE TABLE a (id bigserial, at timestamptz);', 'PostgreSQL', 'it has types such as bytea or timestamptz'],
    [
      '-- MySQL dump 10.13  Distrib 8.0.33, for Linux\n/*!40101 SET NAMES utf8 */;',
      'MySQL 8.0',
      'it has conditional comments /*! … */; the dump names its server',
    ],
    [
      '-- MariaDB dump 10.19  Distrib 10.6.12-MariaDB\n-- Server version\t10.6.12-MariaDB',
      'MariaDB 10.6',
      'it has conditional comments /*! … */; the dump names its server',
    ],
    ['CREATE TABLE `a` (`x` int) ENGINE=InnoDB;', 'MariaDB 10.11', 'it has ENGINE=, and it quotes names with backticks'],
    ['PRAGMA foreign_keys=OFF;\nBEGIN TRANSACTION;\nCREATE TABLE a (x);', 'SQLite', 'it has PRAGMA, and it begins a transaction as SQLite writes it'],
    ['CREATE TABLE a (x int);', 'PostgreSQL', 'nothing speaks for another'],
  ])('%j is %s', (text, label, because) => {
    const g = guessDialect(text)
    expect([dialectLabel(g.choice), g.because]).toEqual([label, because])
  })

  it.each([
    ['mysql:8.0', 'MySQL 8.0'],
    ['mariadb:10.6.3', 'MariaDB 10.6'],
    ['sqlite', 'SQLite'],
    ['postgresql:12', null],
    ['oracle', null],
  ])('--dialect %s', (text, label) => {
    const choice = parseDialect(text)
    expect(choice === null ? null : dialectLabel(choice)).toBe(label)
  })
})
