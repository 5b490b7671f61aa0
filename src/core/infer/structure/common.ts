// What the files of this folder share: a table they look at, and how they word what they found.
import { type Column, columnsText, type Relation, relationText } from '../../catalog/index.ts'
import { remembered } from '../../memo/memo.ts'
import { type Alternative, type Evidence, type Finding, findingId } from '../../model/index.ts'

export const topics = [
  'type',
  'no key',
  'assigned key',
  'repeated columns',
  'change time',
  'soft delete',
  'version',
  'tenant',
  'tree',
  'ordering',
  'values',
  'flag',
  'lookup table',
  'key and value',
  'history',
  'reference without index',
  'type mismatch',
  'duplicate index',
  'duplicate constraint',
  'nullable unique',
  'zero date',
  'prefix',
  'names alike',
] as const
export type StructureTopic = (typeof topics)[number]

/** A fact for it, stronger or weaker; an own word for what kind of fact. */
export const fact = (kind: string, says: string, weight = 1): Evidence => ({ kind, weight, says })

/** `yes` first, or `no` first where it is unlikelier than not. Ids begin with the topic, so that one subject can have several; `name` tells those of one topic apart. */
export function structureFinding(
  topic: StructureTopic,
  subject: string,
  confidence: number,
  evidence: readonly Evidence[],
  edits: Alternative['edits'] = [],
  name = '',
): Finding {
  const yes: Alternative = { key: 'yes', confidence, edits, evidence }
  const no: Alternative = { key: 'no', confidence: Math.round((1 - confidence) * 1000) / 1000, edits: [], evidence: [] }
  return {
    id: findingId('structure', `${topic}:${subject}${name === '' ? '' : `/${name}`}`),
    kind: 'structure',
    topic,
    subject,
    alternatives: confidence >= 0.5 ? [yes, no] : [no, yes],
  }
}

export const onColumn = (r: Relation, c: Pick<Column, 'name'>): string => columnsText(r, [c.name])
export const onColumns = (r: Relation, columns: readonly string[]): string => columnsText(r, [...columns].sort())
export const onTable = (r: Relation): string => relationText(r)

export const isTable = (r: Relation): boolean => r.kind === 'table' || r.kind === 'partitioned table'

/** What is found on the columns of tables, in their order. */
export function eachColumn(relations: readonly Relation[], of: (r: Relation, c: Column) => Finding | null): readonly Finding[] {
  const found: Finding[] = []
  for (const r of relations) {
    if (!isTable(r)) continue
    for (const c of r.columns) {
      const finding = of(r, c)
      if (finding) found.push(finding)
    }
  }
  return found
}

/** Kinds of types by their spelling, in whatever engine. */
export const isMoment = remembered((type) => /^(timestamp|datetime|date\b)/i.test(type))
export const isInteger = remembered((type) => /^(small|big|medium|tiny)?int(eger)?\b|^(small|big)?serial\b|^number\b/i.test(type))
export const isText = remembered((type) => /^(character|char|varchar|nvarchar|text|citext|tinytext|mediumtext|longtext|clob)/i.test(type))

/** A constant default as it is written, without casts and quotes; null where there is none or it is computed. */
export function constantDefault(c: Column): string | null {
  const written = c.default?.written ?? null
  if (written === null) return null
  const quoted = /^\(*'((?:[^']|'')*)'(?:::[\w\s".()[\]]+|\)*)$/.exec(written)
  if (quoted) return (quoted[1] as string).replaceAll("''", "'")
  return /^\(*-?[\d.]+\)*$/.test(written) ? written.replace(/[()]/g, '') : null
}
