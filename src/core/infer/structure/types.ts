// Types whose values a language has no exact word for: what each way to hold them keeps, and what it loses.
import { neutralType } from '../../dialect/neutralTypes.ts'
import { type Alternative, type Finding, findingId, type TypeTarget } from '../../model/index.ts'
import type { Context } from '../context.ts'
import { fact, isTable } from './common.ts'

interface Way {
  readonly target: TypeTarget
  readonly says: string
}

/** The proposal first. */
const ways: Readonly<Record<string, readonly [Way, ...Way[]]>> = {
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
    { target: 'Date', says: 'Date: arithmetic and formats; microseconds are lost' },
    { target: 'string', says: 'text: to the microsecond, as the database prints it' },
  ],
  'local datetime': [
    { target: 'string', says: 'text: as the database prints it, in no zone' },
    { target: 'Date', says: 'Date: read in the zone of the program, which may be another than it was written in' },
  ],
}

/** One finding per native type that several ways can hold, for all of its columns. Those that lose nothing that matters need no ruling. */
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
    const neutral = neutralType(catalog.dialect, type, () => false)
    const list = neutral.kind === 'named' || neutral.kind === 'list' || neutral.kind === 'other' ? undefined : ways[neutral.kind]
    if (!list) return []
    const subject = `type:${type}`
    const used = `${holders.n} ${holders.n === 1 ? 'column' : 'columns'}: ${holders.first.join(', ')}${holders.n > 4 ? ' …' : ''}`
    const alternatives = list.map(
      (w, i): Alternative => ({
        key: w.target,
        confidence: i === 0 ? 0.92 : Math.round((0.08 / (list.length - 1)) * 1000) / 1000,
        edits: [{ facet: 'type.target', subject, value: w.target }],
        evidence: [fact('what is kept', w.says, 0), ...(i === 0 ? [fact('used by', used, 0)] : [])],
      }),
    )
    const [first, ...rest] = alternatives
    return first ? [{ id: findingId('structure', subject), kind: 'structure', topic: 'type', subject, alternatives: [first, ...rest] }] : []
  })
}
