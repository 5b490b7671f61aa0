import { describe, expect, it } from 'vitest'
import { mysqlScript } from '../dialect/mysql/script.ts'
import { postgresScript } from '../dialect/postgres/script.ts'
import { sqliteScript } from '../dialect/sqlite/script.ts'
import type { Lexis } from './lexis.ts'
import { stringValue } from './literals.ts'
import { Scanner } from './scanner.ts'

const pg = postgresScript.lexis
const my = mysqlScript().lexis
const lite = sqliteScript.lexis

function tokens(text: string, lexis: Lexis): readonly string[] {
  const found: string[] = []
  for (const s = new Scanner(text, lexis); s.kind !== 'end'; s.next()) found.push(`${s.kind} ${s.raw}`)
  return found
}

describe('the scanner', () => {
  it.each([
    ['PostgreSQL: comments nest', pg, 'a /* b /* c */ d */ e', ['word a', 'word e']],
    ['MySQL: comments do not', my, 'a /* b /* c */ e', ['word a', 'word e']],
    ['PostgreSQL: dollar quotes with a tag', pg, "$f$ it's; $$ $f$ x", ["string $f$ it's; $$ $f$", 'word x']],
    ['PostgreSQL: a parameter is no dollar quote', pg, '$1 + $2', ['mark $', 'number 1', 'mark +', 'mark $', 'number 2']],
    ['PostgreSQL: escapes only after E', pg, String.raw`'a\' E'a\'b'`, [String.raw`string 'a\'`, String.raw`string E'a\'b'`]],
    ['MySQL: escapes in every string', my, String.raw`'a\'b' "c\"d"`, [String.raw`string 'a\'b'`, String.raw`string "c\"d"`]],
    ['quotes doubled stand for themselves', pg, `'it''s' "a""b"`, [`string 'it''s'`, 'name "a""b"']],
    ['MySQL: -- needs a space', my, 'a --b\n-- c\nd', ['word a', 'mark -', 'mark -', 'word b', 'word d']],
    ['SQLite: names in brackets and backticks', lite, '[a b] `c`', ['name [a b]', 'name `c`']],
    ['names may go beyond ASCII', pg, 'größe _x a$b', ['word größe', 'word _x', 'word a$b']],
    ['numbers', pg, '1.5e-3 .5 0x1f', ['number 1.5e-3', 'number .5', 'number 0x1f']],
    ['MySQL: a name may begin with a digit', my, '2nd 3', ['word 2nd', 'number 3']],
    ['MySQL: code for this server and older', my, '/*!40101 a */ b', ['word a', 'word b']],
    ['MariaDB: code of later MySQL is none', my, '/*!80013 a */ /*M!100100 b */ /*M!999999 c */ d', ['word b', 'word d']],
    ['templates: a prefix is gone over, a name is one', pg, `x $\{prefix}t @SCHEMA@.u`, ['word x', 'word t', 'name @SCHEMA@', 'mark .', 'word u']],
    ['a byte order mark is blank', pg, '\uFEFFa', ['word a']],
  ] as const)('%s', (_, lexis, text, expected) => expect(tokens(text, lexis)).toEqual(expected))

  it.each([
    [String.raw`E'a\nb\x41\u00e9\\'`, pg, 'a\nbA\u00e9\\'],
    [String.raw`U&'d\0061t\+000061'`, pg, 'data'],
    ['$t$a$$b$t$', pg, 'a$$b'],
    [String.raw`'a\'b''c'`, my, "a'b'c"],
    [String.raw`'a\b'`, pg, String.raw`a\b`],
  ])('the value of %s', (raw, lexis, value) => expect(stringValue(raw, lexis)).toBe(value))

  it('folds what is not quoted, cut at 63 bytes', () => {
    expect(new Scanner('"MiXed"', pg).name()).toBe('MiXed')
    expect(new Scanner('MiXedÄ', pg).name()).toBe('mixedÄ')
    expect(new Scanner('ä'.repeat(40), pg).name()).toBe('ä'.repeat(31))
    expect(new Scanner('MiXed', my).name()).toBe('MiXed')
  })

  it.each([
    ["'a", pg],
    ['"a', pg],
    ['/* a', pg],
    ['$x$ a', pg],
    ['[a', lite],
  ] as const)('says that %s is not closed', (text, lexis) => {
    const s = new Scanner(text, lexis)
    expect(s.starved).toBe(true)
  })
})
