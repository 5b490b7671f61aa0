// Expression text that the server reads back as the very tree it printed.
import { nestsDeeply } from '../../text/scan.ts'

/**
 * PostgreSQL prints `varchar_column IN ('a', 'b')` as `(column)::text = ANY ((ARRAY['a'::character varying, …])::text[])`, and on
 * reading that text pushes the cast into the elements, which is another tree and prints differently: a schema recreated from
 * its own dump is not the same. Without the outer cast the server adds it again, unprinted, where it was. Only casts of an
 * array constructor directly under ANY or ALL are dropped; strings and quoted names are left alone. O(length).
 */
export const reparsable = (sql: string): string => eachCastArray(sql, (elements) => `(ARRAY[${elements}])`)

/**
 * What the server prints once it has read its own print of such an expression, as it does in a database restored from a dump: by this
 * text two schemas compare equal where one is the other's dump. O(length).
 */
export const asReadBack = (sql: string): string =>
  eachCastArray(
    sql,
    (elements) =>
      `(ARRAY[${topLevel(elements)
        .map((e) => `(${e})::text`)
        .join(', ')}])`,
  )

/** Replaces each `((ARRAY[…])::text[])` directly under ANY or ALL, given what stands in its brackets. */
function eachCastArray(sql: string, replace: (elements: string) => string): string {
  if (!sql.includes('((ARRAY[') || nestsDeeply(sql)) return sql
  let out = ''
  let from = 0
  for (let i = 0; i < sql.length; ) {
    const after = skipQuoted(sql, i)
    if (after > i) {
      i = after
      continue
    }
    const end = sql.startsWith('((ARRAY[', i) && /\b(?:ANY|ALL) $/.test(sql.slice(Math.max(0, i - 5), i)) ? castArrayEnd(sql, i) : null
    if (end === null) i += 1
    else {
      out += sql.slice(from, i) + replace(sql.slice(i + '((ARRAY['.length, end.array - 1))
      from = end.whole
      i = end.whole
    }
  }
  return out + sql.slice(from)
}

/** The parts between commas that stand in no brackets and no string. */
function topLevel(list: string): readonly string[] {
  const parts: string[] = []
  let depth = 0
  let from = 0
  for (let i = 0; i < list.length; ) {
    const after = skipQuoted(list, i)
    if (after > i) {
      i = after
      continue
    }
    const c = list[i]
    if (c === '(' || c === '[') depth += 1
    else if (c === ')' || c === ']') depth -= 1
    else if (c === ',' && depth === 0) {
      parts.push(list.slice(from, i).trim())
      from = i + 1
    }
    i += 1
  }
  return [...parts, list.slice(from).trim()]
}

/** For `((ARRAY[…])::text[])` at `at`: where the array constructor ends and where the whole ends; null where it is anything else. */
function castArrayEnd(sql: string, at: number): { readonly array: number; readonly whole: number } | null {
  let depth = 0
  for (let i = at + '((ARRAY'.length; i < sql.length; ) {
    const after = skipQuoted(sql, i)
    if (after > i) {
      i = after
      continue
    }
    if (sql[i] === '[') depth += 1
    if (sql[i] === ']') depth -= 1
    i += 1
    if (depth === 0) {
      const tail = ')::text[])'
      return sql.startsWith(tail, i) ? { array: i, whole: i + tail.length } : null
    }
  }
  return null
}

/** The index after the string or quoted name that starts at `i`; `i` where none does. */
function skipQuoted(sql: string, i: number): number {
  const quote = sql[i]
  if (quote !== "'" && quote !== '"') return i
  const escapes = quote === "'" && /(?:^|[^\w$])[eE]$/.test(sql.slice(Math.max(0, i - 2), i))
  for (let j = i + 1; j < sql.length; j += 1) {
    if (escapes && sql[j] === '\\') j += 1
    else if (sql[j] === quote) {
      if (sql[j + 1] !== quote) return j + 1
      j += 1
    }
  }
  return sql.length
}
