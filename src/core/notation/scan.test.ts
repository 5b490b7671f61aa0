import { describe, expect, it } from 'vitest'
import { nameText, quoted, scan } from './scan.ts'

const tokens = (text: string) => scan('m', text).lines.map((l) => l.tokens.map((t) => [t.kind, t.text]))

describe('lines of a notation', () => {
  it('are cut into words, names, texts, expressions, numbers and signs', () => {
    expect(tokens(`größe_2 = "odd name" : numeric(10,2), default \`now()\`, note 'it''s', -1.5 ...`)).toEqual([
      [
        ['word', 'größe_2'],
        ['sign', '='],
        ['name', 'odd name'],
        ['sign', ':'],
        ['word', 'numeric'],
        ['sign', '('],
        ['number', '10'],
        ['sign', ','],
        ['number', '2'],
        ['sign', ')'],
        ['sign', ','],
        ['word', 'default'],
        ['code', 'now()'],
        ['sign', ','],
        ['word', 'note'],
        ['text', "it's"],
        ['sign', ','],
        ['number', '-1.5'],
        ['sign', '…'],
      ],
    ])
  })

  it('go on behind a comma, with the comments of each of them, and not into the next block', () => {
    const { lines } = scan('m', 'entity A = table a  # one\n  x : t, # two\n    optional # three\n  y : u,\nentity B = table b\n')
    expect(lines.map((l) => [l.indented, l.tokens.map((t) => t.text).join(' '), l.comments])).toEqual([
      [false, 'entity A = table a', [' one']],
      [true, 'x : t , optional', [' two', ' three']],
      [true, 'y : u ,', []],
      [false, 'entity B = table b', []],
      [false, '', []],
    ])
  })

  it('are text as it stands behind a bar', () => {
    const { lines } = scan('m', "  query\n    | SELECT 'a' -- # no comment\n    |\n")
    expect(lines.map((l) => l.verbatim)).toEqual([null, "SELECT 'a' -- # no comment", '', null])
  })

  it('are told where a quote stays open or a sign means nothing', () => {
    expect(scan('m', "a 'b\nc ; d\n").problems).toEqual([
      { code: 'unclosed', at: { file: 'm', from: 2, to: 4 }, text: "'" },
      { code: 'odd-character', at: { file: 'm', from: 7, to: 8 }, text: ';' },
    ])
  })

  it('say any text there is in every kind of quotes', () => {
    const texts = ['', "it's", 'say "x"', '`code`', 'back\\slash', 'two\nlines\r\tand more', '\u0000', '\uD83D', '🐝', "\\'", '\u2028', '| # ,']
    for (const text of texts)
      for (const quote of ["'", '"', '`'] as const) {
        const { lines, problems } = scan('m', `${quoted(text, quote)} x`)
        expect([problems, lines[0]?.tokens.map((t) => t.text)]).toEqual([[], [text, 'x']])
      }
    expect(['plain', 'größe', '2nd', 'two words', ''].map(nameText)).toEqual(['plain', 'größe', '"2nd"', '"two words"', '""'])
  })
})
