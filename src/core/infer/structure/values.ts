// Columns that hold one of a few words: checks that list them, and flags.
import type { Column, Relation } from '../../catalog/index.ts'
import type { Finding } from '../../model/index.ts'
import type { Context } from '../context.ts'
import { constantDefault, fact, isTable, isText, onColumn, structureFinding } from './common.ts'

const literal = `'((?:[^']|'')*)'(?:::[\\w ]+(?:\\(\\d+\\))?)?`
const unquoted = (text: string) => text.replaceAll("''", "'")

/** The words of a check that says which ones a column may hold, in the order they are written; null where it says anything else. */
export function listedValues(expression: string, column: string): readonly string[] | null {
  // Most checks list nothing: they are told before any pattern is made.
  if (!expression.includes("'") || !expression.includes(column)) return null
  const name = `\\(*"?${column.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}"?\\)*(?:::[\\w ]+(?:\\(\\d+\\))?)?\\)*`
  const text = expression.trim().replace(/^check\s*/i, '')
  const list = new RegExp(
    `^\\(*${name}\\s*(?:in\\s*\\(|=\\s*any\\s*\\(+\\s*array\\s*\\[)((?:\\s*${literal}\\s*,?)+)\\]?[)\\]]*(?:::[\\w ]+\\[\\])?\\)*$`,
    'i',
  ).exec(text)
  const each = list ? (list[1] as string) : orChain(text, name)
  if (each === null) return null
  const found = [...each.matchAll(new RegExp(literal, 'g'))].map((m) => unquoted(m[1] as string))
  return found.length > 0 ? [...new Set(found)] : null
}

/** `a = 'x' or a = 'y'`, as a list. */
function orChain(text: string, name: string): string | null {
  const parts = text.replace(/^\(+|\)+$/g, '').split(/\)?\s+or\s+\(?/i)
  const one = new RegExp(`^\\(*${name}\\s*=\\s*(${literal})\\)*$`, 'i')
  const values = parts.map((p) => one.exec(p.trim())?.[1] ?? null)
  return parts.length > 1 && values.every((v) => v !== null) ? values.join(', ') : null
}

const flagPairs: readonly (readonly [string, string])[] = [
  ['y', 'n'],
  ['t', 'f'],
  ['yes', 'no'],
  ['true', 'false'],
  ['j', 'n'],
  ['0', '1'],
]
const isFlag = (values: readonly string[]) => {
  const lower = values.map((v) => v.toLowerCase())
  return values.length === 2 && flagPairs.some((p) => p.every((v) => lower.includes(v)))
}

const checksOn = (r: Relation, c: Column) =>
  r.checks.flatMap((k) => {
    const values = listedValues(k.expression.written, c.name)
    return values ? [{ name: k.name, values }] : []
  })

/** A check that lists the words of a text: an enumeration without a type of its own. The code has exactly these words. */
export function valueLists({ relations }: Context): readonly Finding[] {
  return relations.filter(isTable).flatMap((r) =>
    r.columns.flatMap((c) => {
      const [check] = isText(c.type) ? checksOn(r, c) : []
      if (!check || check.values.length < 2 || isFlag(check.values)) return []
      const subject = onColumn(r, c)
      const says = `check ${check.name} allows ${check.values.length} words: ${check.values.slice(0, 8).join(', ')}${check.values.length > 8 ? ' …' : ''}`
      return [structureFinding('values', subject, 0.97, [fact('check lists them', says)], [{ facet: 'column.values', subject, value: [...check.values] }])]
    }),
  )
}

/** A yes or no kept as a letter or a small number. */
export function flags({ relations, catalog }: Context): readonly Finding[] {
  return relations.filter(isTable).flatMap((r) =>
    r.columns.flatMap((c) => {
      const [check] = checksOn(r, c)
      const byCheck = check && isFlag(check.values) ? [fact('check lists two', `check ${check.name} allows ${check.values.join(' and ')}`)] : []
      const preset = constantDefault(c)
      const letter = /^(char|character)(\(1\))?$/i.test(c.type) && preset !== null && /^[yntfj01]$/i.test(preset)
      const byType = letter ? [fact('one letter', `${c.type} with the default '${preset}'`, 0.5)] : []
      const tiny =
        catalog.dialect === 'mysql' && /^(tinyint\(1\)|bit\(1\))/i.test(c.type) ? [fact('one digit', `${c.type}, as this engine keeps yes and no`, 0.5)] : []
      const evidence = [...byCheck, ...byType, ...tiny]
      return evidence.length === 0 ? [] : [structureFinding('flag', onColumn(r, c), byCheck.length > 0 ? 0.97 : 0.9, evidence)]
    }),
  )
}

/** Dates that are none: `0000-00-00` (MySQL manual, 13.2, "zero" values). No date of the code can hold them. */
export function zeroDates({ relations }: Context): readonly Finding[] {
  return relations.filter(isTable).flatMap((r) =>
    r.columns.flatMap((c) => {
      const preset = constantDefault(c)
      return preset?.startsWith('0000-00-00')
        ? [structureFinding('zero date', onColumn(r, c), 1, [fact('default', `its default is ${preset}, which is no date`)])]
        : []
    }),
  )
}
