// Columns that hold one of a few words: checks that list them, and flags.
import type { Column, Relation } from '../../catalog/index.ts'
import { remembered } from '../../memo/memo.ts'
import type { Finding, Flag } from '../../model/index.ts'
import type { Context } from '../context.ts'
import { constantDefault, eachColumn, fact, isText, onColumn, structureFinding } from './common.ts'
import { listedValues } from './listedValues.ts'

const flagPairs: readonly (readonly [string, string])[] = [
  ['y', 'n'],
  ['t', 'f'],
  ['yes', 'no'],
  ['true', 'false'],
  ['j', 'n'],
  ['1', '0'],
]
/** Which of two words is the yes; null where they are no such pair. */
function flagOf(values: readonly string[]): Flag | null {
  if (values.length !== 2) return null
  for (const [yes, no] of flagPairs) {
    const [first, second] = [values.find((v) => v.toLowerCase() === yes), values.find((v) => v.toLowerCase() === no)]
    if (first !== undefined && second !== undefined) return { yes: first, no: second }
  }
  return null
}

/** The pair that one letter belongs to, in its case. */
function flagWith(letter: string): Flag | null {
  const pair = flagPairs.find((p) => p.includes(letter.toLowerCase()))
  const cased = (w: string) => (letter === letter.toUpperCase() ? w.toUpperCase() : w)
  return pair ? { yes: cased(pair[0]), no: cased(pair[1]) } : null
}

/** The first check that lists what the column may hold. */
function listOn(r: Relation, c: Column): { readonly name: string; readonly values: readonly string[] } | null {
  for (const k of r.checks) {
    const values = listedValues(k.expression.written, c.name)
    if (values) return { name: k.name, values }
  }
  return null
}

/** A check that lists the words of a text: an enumeration without a type of its own. The code has exactly these words. */
export function valueLists({ relations }: Context): readonly Finding[] {
  return eachColumn(relations, (r, c) => {
    const check = isText(c.type) ? listOn(r, c) : null
    if (!check || check.values.length < 2 || flagOf(check.values)) return null
    const subject = onColumn(r, c)
    const says = `check ${check.name} allows ${check.values.length} words: ${check.values.slice(0, 8).join(', ')}${check.values.length > 8 ? ' …' : ''}`
    return structureFinding('values', subject, 0.97, [fact('check lists them', says)], [{ facet: 'column.values', subject, value: [...check.values] }])
  })
}

const isLetter = remembered((type) => /^(char|character)(\(1\))?$/i.test(type))
const isDigit = remembered((type) => /^(tinyint\(1\)|bit\(1\))/i.test(type))

/** A yes or no kept as a letter or a small number. */
export function flags({ relations, catalog }: Context): readonly Finding[] {
  return eachColumn(relations, (r, c) => {
    const check = listOn(r, c)
    const listed = check && flagOf(check.values)
    const evidence = listed ? [fact('check lists two', `check ${check.name} allows ${check.values.join(' and ')}`)] : []
    const preset = isLetter(c.type) ? constantDefault(c) : null
    const byLetter = preset === null ? null : flagWith(preset)
    if (byLetter) evidence.push(fact('one letter', `${c.type} with the default '${preset}'`, 0.5))
    const byDigit = catalog.dialect === 'mysql' && isDigit(c.type) ? { yes: '1', no: '0' } : null
    if (byDigit) evidence.push(fact('one digit', `${c.type}, as this engine keeps yes and no`, 0.5))
    const value = listed ?? byLetter ?? byDigit
    const subject = onColumn(r, c)
    return value && structureFinding('flag', subject, listed ? 0.97 : 0.9, evidence, [{ facet: 'column.flag', subject, value }])
  })
}

/** Dates that are none: `0000-00-00` (MySQL manual, 13.2, "zero" values). No date of the code can hold them. */
export function zeroDates({ relations }: Context): readonly Finding[] {
  return eachColumn(relations, (r, c) => {
    const preset = c.default?.written.includes('0000-00-00') ? constantDefault(c) : null
    return preset?.startsWith('0000-00-00')
      ? structureFinding('zero date', onColumn(r, c), 1, [fact('default', `its default is ${preset}, which is no date`)])
      : null
  })
}
