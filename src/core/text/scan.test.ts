import { describe, expect, it } from 'vitest'
import {
  beforeEnding,
  globMatches,
  insideLastBrackets,
  nestsDeeply,
  onOneLine,
  printable,
  withoutControls,
  withoutFirstBrackets,
  withSingleBlanks,
  wordsBeforeBrackets,
} from './scan.ts'

describe('looking into text', () => {
  it.each([
    ['varchar(20)[]', 'varchar[]'],
    ['numeric(10,2)', 'numeric'],
    ['text', 'text'],
    ['odd(', 'odd('],
    ['timestamp(3) with time zone', 'timestamp with time zone'],
  ])('%s without its first brackets is %s', (text, left) => expect(withoutFirstBrackets(text)).toBe(left))

  it.each([
    ['f(a, b)', 'a, b'],
    ['f(a)b', null],
    ['f', null],
  ])('inside the last brackets of %s is %s', (text, inside) => expect(insideLastBrackets(text)).toBe(inside))

  it('words before brackets come in order, blanks between or not', () =>
    expect(wordsBeforeBrackets('now() + lower (a) || (b) - pg_catalog.abs(c)', (c) => /[\w.]/.test(c))).toEqual(['now', 'lower', 'pg_catalog.abs']))

  it.each([
    ['a  b\t\tc', 'a b c'],
    ['a \n  b', 'a\nb'],
    ['a\u2028\u2028b', 'a b'],
    ['', ''],
  ])('blanks of %j become %j', (text, single) => expect(withSingleBlanks(text)).toBe(single))

  it.each([
    ['select 1 with  no data', ['WITH', 'NO', 'DATA'], 'select 1'],
    ['select 1 WITH DATA', ['WITH', 'DATA'], 'select 1'],
    ['select metadata', ['WITH', 'DATA'], null],
    ['x as', ['AS'], 'x'],
    ['has', ['AS'], null],
    ['as', ['AS'], ''],
  ])('%s ends in %j: %j', (text, words, before) => expect(beforeEnding(text, words)).toBe(before))

  it.each([
    ['a\n   b  \n c', 'a b c'],
    ['one', 'one'],
    ['  kept  ', '  kept  '],
  ])('%j on one line is %j', (text, line) => expect(onOneLine(text)).toBe(line))

  it.each([
    ['log_*', 'log_2019', true],
    ['*_2019', 'log_2019', true],
    ['l?g', 'log', true],
    ['l?g', 'loog', false],
    ['*a*b*', 'xxaxxbxx', true],
    ['*a*b', 'xxaxxbx', false],
    ['', '', true],
    ['*', '', true],
  ])('%s matches %s: %s', (pattern, text, is) => expect(globMatches(pattern, text, '*', '?')).toBe(is))

  it('what moves a cursor is told instead of done', () => expect(printable('a\u001b[2Jb\n\tc\u009b')).toBe('a\\u001b[2Jb\n\tc\\u009b'))
  it('what turns the direction of text is told instead of done', () => expect(withoutControls('a\u202eb\u2066c')).toBe('a\\u202eb\\u2066c'))

  it('nesting is deep from some hundreds on', () => {
    expect([nestsDeeply('('.repeat(100)), nestsDeeply('('.repeat(1000)), nestsDeeply('()'.repeat(1000)), nestsDeeply('[('.repeat(200))]).toEqual([
      false,
      true,
      false,
      true,
    ])
  })
})
