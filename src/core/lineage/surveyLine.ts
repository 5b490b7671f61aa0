import type { Catalog, CensusLine, OwnOption, Reading, ScriptReading, SnapshotHash } from '../catalog/index.ts'

/** One survey as people look back on it. */
export interface SurveyLine {
  readonly hash: SnapshotHash
  readonly at: string
  readonly server: string
  readonly user: string
  readonly relations: number
  /** What this user could not see, and what the format does not describe. */
  readonly notReadable: number
  readonly unmodelled: number
  /** Is the structure the one of the survey before? */
  readonly same: boolean
}

/** What the newest survey read, reported and could not see. */
export interface SurveyCard {
  readonly hash: SnapshotHash
  readonly at: string
  readonly server: string
  readonly user: string
  /** What there is how many of. */
  readonly counts: readonly (readonly [string, number])[]
  readonly census: readonly CensusLine[]
  readonly unmodelled: readonly { readonly kind: string; readonly identity: string }[]
  readonly notReadable: readonly string[]
  readonly withGrants: number
  readonly ownOptions: readonly OwnOption[]
  readonly script: ScriptReading | null
}

export function surveyCard(hash: SnapshotHash, at: string, c: Catalog, reading: Reading): SurveyCard {
  const ofKind = (...kinds: readonly string[]) => c.relations.filter((r) => kinds.includes(r.kind)).length
  const within = (count: (r: Catalog['relations'][number]) => number) => c.relations.reduce((n, r) => n + count(r), 0)
  return {
    hash,
    at,
    server: reading.server,
    user: reading.user,
    counts: [
      // Scripts of engines without schemas have none.
      ...(c.schemas.length > 0 ? [['schemas', c.schemas.length] as const] : []),
      ['tables', ofKind('table', 'partitioned table')],
      ['partitions', ofKind('partition')],
      ['views', ofKind('view', 'materialized view')],
      ['columns', within((r) => r.columns.length)],
      ['foreign keys', within((r) => r.foreignKeys.length)],
      ['indexes', within((r) => r.indexes.length)],
      ['types', c.enums.length + c.domains.length + c.composites.length],
      ['sequences', c.sequences.length],
      ['routines', c.routines.length],
    ],
    census: reading.census,
    unmodelled: c.unmodelled,
    notReadable: reading.notReadable.map((r) => `${r.schema}.${r.name}`),
    withGrants: reading.withGrants,
    ownOptions: reading.ownOptions ?? [],
    script: reading.script ?? null,
  }
}

/** What of a source was not read or not understood, a sentence each; none where all of it was. */
export function unreadOf(reading: Reading): readonly string[] {
  const names = reading.notReadable.map((r) => `${r.schema}.${r.name}`)
  const some = names.slice(0, 3).join(', ')
  const { script } = reading
  return [
    ...(names.length > 0
      ? [
          `The rows of ${names.length === 1 ? 'one table' : `${names.length} tables`} may not be read by ${reading.user}: ${some}${names.length > 3 ? ` and ${names.length - 3} more` : ''}.`,
        ]
      : []),
    ...(script && script.structural > script.understood
      ? [`${script.structural - script.understood} of ${script.structural} statements about structure were not understood; the source lists them.`]
      : []),
  ]
}
