// Types whose values a language has no exact word for: what each way to hold them keeps, and what it loses.
import type { Catalog, Dialect } from '../../catalog/index.ts'
import type { Neutral } from '../../dialect/neutral.ts'
import { neutralType } from '../../dialect/neutralTypes.ts'
import { keptWith } from '../../memo/memo.ts'
import { type Alternative, type Finding, findingId, type TypeTarget } from '../../model/index.ts'
import type { Context } from '../context.ts'
import { fact, isTable } from './common.ts'

export interface Way {
  readonly target: TypeTarget
  /** What it keeps, and what is lost. */
  readonly says: string
}
type Ways = readonly [Way, ...Way[]]

/** By what the values are; the proposal first. */
const byKind: Partial<Readonly<Record<Neutral['kind'], Ways>>> = {
  bigint: [
    { target: 'bigint', says: 'bigint: every value exactly; JSON has no word for it' },
    { target: 'number', says: 'number: plain arithmetic; beyond 9,007,199,254,740,991 digits are lost' },
    { target: 'string', says: 'text: every value exactly; no arithmetic' },
  ],
  decimal: [
    { target: 'string', says: 'text: every digit; no arithmetic without a library' },
    { target: 'number', says: 'number: plain arithmetic; beyond 15 digits, and for most fractions, digits are lost' },
  ],
  instant: [
    { target: 'Date', says: 'Date: arithmetic and formats, with the microseconds beside it; infinity is refused when read' },
    { target: 'string', says: 'text: to the microsecond, as the database prints it' },
  ],
  'local datetime': [
    { target: 'string', says: 'text: as the database prints it, in no zone' },
    { target: 'Date', says: 'Date: read in the zone of the program, which may be another than it was written in' },
  ],
  date: [
    { target: 'string', says: 'text, YYYY-MM-DD: the same day everywhere' },
    { target: 'Date', says: 'Date: midnight in the zone of the program, which is another day in others' },
  ],
  json: [
    { target: 'JsonValue', says: 'what it stands for: numbers beyond 15 digits lose some, and of keys that come twice one is lost' },
    { target: 'string', says: 'text: as the database prints it, digit by digit; to be parsed by whoever reads it' },
  ],
}

/** By how the engine spells the type, for those whose values are printed; PostgreSQL manual, chapter 8, and MySQL manual, chapter 13. */
const bySpelling: readonly (readonly [RegExp, Ways])[] = [
  [
    /^money$/,
    [
      { target: 'string', says: 'text: as the database prints it, with the currency sign and the marks of its locale (lc_monetary)' },
      { target: 'number', says: 'number: plain arithmetic; the sign and marks have to be taken off, and beyond 15 digits some are lost' },
    ],
  ],
  [
    /^(bit|bit varying|varbit)\b(?!\(1\))/i,
    [
      { target: 'string', says: 'text of zeros and ones: every bit, the leading zeros too' },
      { target: 'bigint', says: 'bigint: arithmetic on bits; how many leading zeros there were is lost' },
      { target: 'number', says: 'number: arithmetic on bits; beyond 53 of them some are lost, and so are leading zeros' },
    ],
  ],
  [
    /^(int4|int8|num|ts|tstz|date)(multi)?range$/,
    [{ target: 'string', says: 'text, such as [1,10): both bounds and whether they belong to it; nothing compares or overlaps in the code' }],
  ],
  [
    /^(point|line|lseg|box|path|polygon|circle)$|^([\w"]+\.)?(geometry|geography|raster|linestring|multi\w+|geometrycollection)\b/i,
    [{ target: 'string', says: 'as the database prints it: every coordinate; to be taken apart by whoever reads it' }],
  ],
]

const listWays: Ways = [
  { target: 'string', says: 'a list of its elements: where they begin to count is lost, and one of several dimensions is refused when read (manual, 8.15)' },
]

/** The ways to hold values of a native type or a domain, the proposal first; none where its own word in the code is exact. */
export function waysOf(catalog: Catalog, type: string): readonly Way[] {
  const domain = domainsOf(catalog).get(type)
  return ways(catalog.dialect, domain ?? type)
}

function ways(dialect: Dialect, type: string): readonly Way[] {
  const spelled = bySpelling.find(([of]) => of.test(type))
  if (spelled) return spelled[1]
  return byKind[neutralType(dialect, type, () => false).kind] ?? []
}

/** What domains are over, by how a column spells them. */
const domainsOf = keptWith((catalog: Catalog): ReadonlyMap<string, string> => {
  const plain = (name: string) => (/^[a-z_][a-z0-9_$]*$/.test(name) ? name : `"${name.replaceAll('"', '""')}"`)
  return new Map(catalog.domains.map((d) => [`${plain(d.schema)}.${plain(d.name)}`, d.type]))
})

/**
 * One finding per native type or domain that several ways can hold, or whose one way loses something, for all of its columns. Those that lose
 * nothing that matters need no ruling.
 */
export function typeFindings({ relations, catalog }: Context): readonly Finding[] {
  const columns = new Map<string, { n: number; readonly first: string[] }>()
  for (const r of relations.filter(isTable)) {
    for (const c of r.columns) {
      const of = columns.get(c.type) ?? { n: 0, first: [] }
      columns.set(c.type, of)
      of.n += 1
      if (of.n <= 4) of.first.push(`${r.name}.${c.name}`)
    }
  }
  return [...columns].flatMap(([type, holders]): readonly Finding[] => {
    const isList = type.endsWith('[]')
    const list = isList ? listWays : waysOf(catalog, type)
    const subject = `type:${type}`
    const used = `${holders.n} ${holders.n === 1 ? 'column' : 'columns'}: ${holders.first.join(', ')}${holders.n > 4 ? ' …' : ''}`
    const alternatives = list.map(
      (w, i): Alternative => ({
        key: isList ? 'a list' : w.target,
        confidence: i === 0 ? (list.length === 1 ? 1 : 0.92) : Math.round((0.08 / (list.length - 1)) * 1000) / 1000,
        // Where there is one way, nothing is said that could be said otherwise.
        edits: list.length === 1 ? [] : [{ facet: 'type.target', subject, value: w.target }],
        evidence: [fact('what is kept', w.says, 0), ...(i === 0 ? [fact('used by', used, 0)] : [])],
      }),
    )
    const [first, ...rest] = alternatives
    return first ? [{ id: findingId('structure', subject), kind: 'structure', topic: 'type', subject, alternatives: [first, ...rest] }] : []
  })
}
