// Which values of one type have a place in another: as a condition where the rows can be asked, and in words.
import * as pg from '../dialect/postgres/index.ts'

/** What a change of type gives up. */
export interface Misfit {
  /** True for the values that do not fit; null where the change refuses none and makes all of them coarser. */
  readonly when: string | null
  readonly says: string
}

/** By type: the least and the greatest value, and how many digits that is (manual, table 8.2). */
const integers: Readonly<Record<string, { readonly least: string; readonly most: string; readonly digits: number }>> = {
  smallint: { least: '-32768', most: '32767', digits: 5 },
  integer: { least: '-2147483648', most: '2147483647', digits: 10 },
  bigint: { least: '-9223372036854775808', most: '9223372036854775807', digits: 19 },
}
const numbers = new Set(['smallint', 'integer', 'bigint', 'numeric', 'real', 'double precision'])
const texts = new Set(['character varying', 'character', 'text', 'bpchar'])
/** Characters of the longest value as text. */
const longest: Readonly<Record<string, number>> = { smallint: 6, integer: 11, bigint: 20, boolean: 5, uuid: 36 }
/** Digits that are kept for sure (manual 8.1.3). */
const floats: Readonly<Record<string, number>> = { real: 6, 'double precision': 15 }

const uuid = "'^(([0-9a-fA-F]{4}-?){7}[0-9a-fA-F]{4}|\\{([0-9a-fA-F]{4}-?){7}[0-9a-fA-F]{4}\\})$'"
const whole = "'^\\s*[-+]?[0-9]+\\s*$'"
const decimal = "'^\\s*[-+]?([0-9]+\\.?[0-9]*|\\.[0-9]+)([eE][-+]?[0-9]+)?\\s*$'"
const yesNo = "'t', 'tr', 'tru', 'true', 'y', 'ye', 'yes', 'on', '1', 'f', 'fa', 'fal', 'fals', 'false', 'n', 'no', 'of', 'off', '0'"

/** Digits before and behind the point of a `numeric(p,s)`; null without a limit. */
function digitsOf(type: string): { readonly before: number; readonly behind: number } | null {
  const limit = /\((\d+)(?:,(-?\d+))?\)/.exec(type)
  if (!limit) return null
  const behind = Number(limit[2] ?? 0)
  return { before: Number(limit[1]) - behind, behind }
}

/** `numeric(p,s)` rounds what is finer, and refuses what is greater; not-a-number fits (manual 8.1.2). */
function decimals(from: string, to: string, n: string): Misfit | null {
  const limit = digitsOf(to)
  if (!limit) return null
  const { before, behind } = limit
  const had = integers[pg.typeFamily(from)] ? { before: integers[pg.typeFamily(from)]?.digits ?? 0, behind: 0 } : digitsOf(from)
  if (had && had.before <= before && had.behind <= behind) return null
  return {
    when: `${n} <> 'NaN' and (pg_catalog.abs(${n}) >= 10::numeric ^ ${before} or ${n} <> pg_catalog.round(${n}, ${behind}))`,
    says: `only ${before + behind} digits fit, ${behind} of them behind the point`,
  }
}

function numbersInto(from: string, to: string, c: string): Misfit | null {
  const [a, b] = [pg.typeFamily(from), pg.typeFamily(to)]
  const [had, has] = [integers[a], integers[b]]
  // A float turned into a numeric straight away keeps 15 digits of its 17; as text it keeps them all.
  const n = floats[a] === undefined ? `${c}::numeric` : `${c}::text::numeric`
  if (has) {
    if (had && had.digits <= has.digits) return null
    const broken = had ? '' : ` or ${n} <> pg_catalog.trunc(${n})`
    return { when: `${had ? c : n} not between ${has.least} and ${has.most}${broken}`, says: `only whole numbers from ${has.least} to ${has.most} fit` }
  }
  if (b === 'numeric') return decimals(from, to, n)
  const kept = floats[b]
  if (kept !== undefined) {
    const enough = had ? had.digits <= kept : (floats[a] ?? Number.POSITIVE_INFINITY) <= kept
    return enough ? null : { when: null, says: `digits behind the ${kept}th are not kept` }
  }
  return b === 'boolean' ? { when: null, says: 'every number but 0 becomes true' } : null
}

function textsInto(to: string, column: string): Misfit | null {
  const c = `${column}::text`
  const family = pg.typeFamily(to)
  const range = integers[family]
  if (range) {
    return {
      when: `case when ${c} ~ ${whole} then ${c}::numeric not between ${range.least} and ${range.most} else true end`,
      says: `only whole numbers from ${range.least} to ${range.most} fit`,
    }
  }
  if (family === 'numeric') {
    const fits = decimals('numeric', to, `${c}::numeric`)
    return fits
      ? { when: `case when ${c} ~ ${decimal} then ${fits.when} else true end`, says: `only numbers fit, and ${fits.says}` }
      : { when: `${c} !~ ${decimal}`, says: 'only numbers fit' }
  }
  if (floats[family] !== undefined) return { when: `${c} !~ ${decimal}`, says: 'only numbers fit' }
  if (family === 'uuid') return { when: `${c} !~ ${uuid}`, says: 'only UUIDs fit' }
  if (family === 'boolean') return { when: `pg_catalog.lower(pg_catalog.btrim(${c})) not in (${yesNo})`, says: 'only words for yes and no fit' }
  return null
}

/** Fractions of a second that a time type keeps; six where it does not say (manual 8.5). */
const fractions = (type: string) => Number(/\((\d)\)/.exec(type)?.[1] ?? 6)

function moments(from: string, to: string): Misfit | null {
  const [a, b] = [pg.typeFamily(from), pg.typeFamily(to)]
  if (!/^time/.test(a)) return null
  if (b === 'date') return { when: null, says: 'the time of day is given up' }
  if (!/^time/.test(b)) return null
  if (a.startsWith('timestamp') && !b.startsWith('timestamp')) return { when: null, says: 'the day is given up' }
  return fractions(to) < fractions(from) ? { when: null, says: 'seconds are rounded' } : null
}

/**
 * What a column of type `from` gives up as one of type `to`; both as the catalog writes types.
 * @param c the column as an expression
 * @param labels the values of `to` where it is an enumerated type
 * @returns null where every value fits, and where nobody can say beforehand
 */
export function misfit(from: string, to: string, c: string, labels: readonly string[] | null): Misfit | null {
  if (labels) return { when: `${c}::text not in (${labels.map(pg.quoteLiteral).join(', ')})`, says: `only ${labels.join(', ')} stay possible` }
  if (from.endsWith('[]') && to.endsWith('[]')) {
    const one = misfit(from.replace(/(\[\])+$/, ''), to.replace(/(\[\])+$/, ''), 'e.one', null)
    return one && { ...one, when: one.when && `exists (select from pg_catalog.unnest(${c}) e(one) where ${one.when})` }
  }
  if (from.endsWith('[]') || to.endsWith('[]')) return null
  const [a, b] = [pg.typeFamily(from), pg.typeFamily(to)]
  const length = /\((\d+)\)/.exec(to)?.[1]
  if (texts.has(b)) {
    if (length === undefined) return null
    const before = texts.has(a) ? Number(/\((\d+)\)/.exec(from)?.[1] ?? Number.POSITIVE_INFINITY) : (longest[a] ?? Number.POSITIVE_INFINITY)
    if (before <= Number(length)) return null
    return { when: `pg_catalog.length(${c}::text) > ${length}`, says: `texts of more than ${length} characters do not fit` }
  }
  if (numbers.has(a)) return numbersInto(from, to, c)
  return texts.has(a) ? textsInto(to, c) : moments(from, to)
}
