// The SQL that makes, drops or changes one part, with every lock it takes and what it does to rows (manual, part VI; tablecmds.c, AlterTableGetLockLevel).

import { type Column, definedText, type Index, type KeyConstraint, plainIndex, type Relation, type RelationAddress } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { wordsBeforeBrackets } from '../text/scan.ts'
import type { Ground } from './needs.ts'
import type { HangingPart, Part, PartOf } from './parts.ts'
import type { Hazard, Lock, LockMode, StepKind } from './plan.ts'
import { hasRules } from './valueChange.ts'

export interface Work {
  readonly sql: readonly string[]
  readonly locks: readonly Lock[]
  readonly hazards: readonly Hazard[]
}

/** The relation that a part's commands name: its own, with all that hangs on it. */
const whole = (on: RelationAddress, g: Ground): Relation => {
  const r = g.relation(on)
  if (!r) throw new Error(`no relation ${on.schema}.${on.name} in the catalog of its parts`)
  return r
}

const lock = (a: RelationAddress, mode: LockMode): Lock => ({ relation: pg.quoteAddress(a), mode })
export const work = (sql: readonly string[], locks: readonly Lock[] = [], hazards: readonly Hazard[] = []): Work => ({ sql, locks, hazards })
const exclusive = (a: RelationAddress) => [lock(a, 'access exclusive')]

/** The table with its partitions and children: a command without ONLY reaches them all. */
const family = (on: RelationAddress, g: Ground, mode: LockMode = 'access exclusive'): readonly Lock[] => [
  lock(on, mode),
  ...g.childrenOf(on).flatMap((r) => family(r, g, mode)),
]

const targetOf = (p: PartOf<'reference'>) => ({ schema: p.value.target.schema, name: p.value.target.table })
const indexAddress = (on: RelationAddress, name: string) => pg.quoteAddress({ schema: on.schema, name })
const constraintOn = (on: RelationAddress, name: string) => `CONSTRAINT ${pg.quoteIdent(name)} ON ${pg.quoteAddress(on)}`

/** What people call a part. */
export function partText(p: Part): string {
  switch (p.kind) {
    case 'schema':
    case 'extension':
      return `${p.kind} ${pg.quoteIdent(p.value.name)}`
    case 'enum':
    case 'composite':
      return `type ${pg.quoteAddress(p.value)}`
    case 'range':
      return `range type ${pg.quoteAddress(p.value)}`
    case 'domain':
    case 'sequence':
      return `${p.kind} ${pg.quoteAddress(p.value)}`
    case 'owner':
      return `owner of sequence ${pg.quoteAddress(p.value)}`
    case 'object':
      return definedText(p.value)
    case 'routine':
      return `${p.value.kind} ${pg.quoteAddress(p.value)}(${p.value.argumentTypes})`
    case 'table':
      return `${p.value.foreign ? 'foreign table' : 'table'} ${pg.quoteAddress(p.value)}`
    case 'view':
      return `${p.value.kind} ${pg.quoteAddress(p.value)}`
    case 'column':
      return `column ${pg.quoteAddress(p.on)}.${pg.quoteIdent(p.value.name)}`
    case 'default':
      return `default of ${pg.quoteAddress(p.on)}.${pg.quoteIdent(p.value.column)}`
    case 'primary key':
      return `primary key of ${pg.quoteAddress(p.on)}`
    case 'unique':
      return `unique constraint ${pg.quoteIdent(p.value.name)} of ${pg.quoteAddress(p.on)}`
    case 'reference':
      return `foreign key ${pg.quoteIdent(p.value.name)} of ${pg.quoteAddress(p.on)}`
    case 'check':
      return `check ${pg.quoteIdent(p.value.name)} of ${pg.quoteAddress(p.on)}`
    case 'index':
      return `index ${indexAddress(p.on, p.value.name)}`
    case 'exclusion':
      return `exclusion ${pg.quoteIdent(p.value.name)} of ${pg.quoteAddress(p.on)}`
    case 'replica identity':
      return `replica identity of ${pg.quoteAddress(p.on)}`
    case 'policy':
    case 'trigger':
    case 'rule':
      return `${p.kind} ${pg.quoteIdent(p.value.name)} on ${pg.quoteAddress(p.on)}`
    case 'unmodelled':
      return `${p.value.kind} ${p.value.identity}`
    default:
      return unreachable(p)
  }
}

export const stepKindOf = {
  schema: 'schema',
  extension: 'extension',
  enum: 'type',
  domain: 'type',
  composite: 'type',
  range: 'type',
  object: 'object',
  sequence: 'sequence',
  owner: 'owner',
  routine: 'routine',
  table: 'table',
  view: 'view',
  column: 'column',
  default: 'defaults',
  'primary key': 'key',
  unique: 'key',
  reference: 'reference',
  check: 'check',
  index: 'index',
  exclusion: 'exclusion',
  'replica identity': 'index',
  policy: 'policy',
  trigger: 'trigger',
  rule: 'rule',
  unmodelled: 'object',
} as const satisfies Record<Part['kind'], StepKind>

/** Relations that a view reads. */
const readBy = (r: Relation, g: Ground): readonly Lock[] =>
  r.dependsOn.flatMap((d) => (d.kind === 'relation' && g.relation(d) ? [lock(d, 'access share')] : []))

/** CREATE of a part that is made on its own. Tables are made with their columns, keys and checks; see `makeTable`. */
export function make(p: Part, g: Ground): Work {
  const { value } = p
  switch (p.kind) {
    case 'schema':
      return work(pg.schemaDdl(p.value).up)
    case 'extension':
      return work(pg.extensionDdl(p.value).up, [], [{ code: 'needs-extension-files', object: partText(p), version: p.value.version }])
    case 'enum':
      return work(pg.enumDdl(p.value).up)
    case 'domain':
      return work(pg.domainDdl(p.value).up)
    case 'composite':
      return work(pg.compositeDdl(p.value).up)
    case 'range':
      return work(pg.rangeDdl(p.value).up)
    case 'object':
      return work(pg.definedDdl(p.value).up)
    case 'sequence':
      return work(pg.sequenceDdl(p.value).up)
    case 'owner': {
      const ddl = pg.sequenceOwnerDdl({ ...p.value } as Parameters<typeof pg.sequenceOwnerDdl>[0])
      return work(ddl.up, p.value.ownedBy ? [lock({ schema: p.value.ownedBy.schema, name: p.value.ownedBy.table }, 'access share')] : [])
    }
    case 'routine':
      return work(pg.routineDdl(p.value).up)
    case 'table':
      return makeTable(whole(p.value, g), g, false)
    case 'view': {
      const r = whole(p.value, g)
      const fill = r.kind === 'materialized view' ? refresh(r) : []
      return work([pg.createView(r), ...(r.kind === 'view' ? pg.viewDefaults(r) : []), ...pg.relationComments(r), ...fill], readBy(r, g))
    }
    case 'unmodelled':
      return work([])
    default:
      return makeHanging(p, g, value)
  }
}

/** A materialized view is filled under the reader's own search path: functions it calls may rely on it. */
const ownSearchPath = 'SET LOCAL search_path = DEFAULT;'
const refresh = (r: Relation) => [ownSearchPath, `REFRESH MATERIALIZED VIEW ${pg.quoteAddress(r)};`, afterRefresh]
/** Stands for the plan's own setting; see `script.ts`. */
export const afterRefresh = 'SET LOCAL search_path = pg_catalog;'

function makeHanging(p: HangingPart, g: Ground, _: unknown): Work {
  const r = whole(p.on, g)
  const alter = pg.alterTable(p.on)
  switch (p.kind) {
    case 'column':
      return addColumn(p, r, null, g)
    case 'default':
      return work(
        [
          `ALTER ${r.kind === 'view' ? 'VIEW' : 'TABLE ONLY'} ${pg.quoteAddress(r)} ALTER COLUMN ${pg.quoteIdent(p.value.column)} SET DEFAULT ${pg.reparsable(p.value.expression.written)};`,
        ],
        exclusive(r),
      )
    case 'primary key':
    case 'unique':
      return addKey(p, r, g)
    case 'reference':
      return work(
        [pg.addForeignKey(r, p.value), ...pg.partComment('CONSTRAINT', r, p.value)],
        [...family(r, g, 'share row exclusive'), ...family(targetOf(p), g, 'share row exclusive')],
      )
    case 'check':
      return work(
        [`${alter} ADD ${pg.checkClause(p.value)};`, ...pg.partComment('CONSTRAINT', r, p.value)],
        p.value.inheritable ? family(r, g) : exclusive(r),
        p.value.validated ? [{ code: 'reads-all', object: pg.quoteAddress(r), because: `check ${p.value.name} is tested on every row` }] : [],
      )
    case 'index':
      return work(
        [...pg.createIndex(r, p.value), ...pg.attachIndex(r, p.value), ...pg.indexComment(r, p.value)],
        [lock(r, 'share'), ...(p.value.attachedTo !== null && r.partitionOf ? [lock(r.partitionOf.parent, 'access share')] : [])],
      )
    case 'exclusion':
      return work(pg.addExclusion(r, p.value), exclusive(r), [{ code: 'reads-all', object: pg.quoteAddress(r), because: 'its index is built under the lock' }])
    case 'replica identity':
      return work(pg.replicaIndex({ ...r, replicaIdentity: { kind: 'index', index: p.value.index } }), exclusive(r))
    case 'policy':
      return work(pg.createPolicy(r, p.value), exclusive(r))
    case 'trigger':
      return work([...pg.createDefined(r, p.value, 'TRIGGER'), ...pg.partComment('TRIGGER', r, p.value)], family(r, g, 'share row exclusive'))
    case 'rule':
      return work([...pg.createDefined(r, p.value, 'RULE'), ...pg.partComment('RULE', r, p.value)], exclusive(r))
    default:
      return unreachable(p)
  }
}

/** Functions whose value is the same for the whole statement: a default that calls only these is worked out once (manual, ALTER TABLE, Notes; pg_proc.provolatile). */
const steady =
  /^(now|current_timestamp|current_date|current_time|localtimestamp|localtime|transaction_timestamp|statement_timestamp|current_user|session_user|user|current_setting|lower|upper|make_date|make_interval|md5|round|coalesce|array)$/i

/** Must a default be worked out for every row? */
export function isVolatile(expression: string): boolean {
  return wordsBeforeBrackets(expression, (c) => /[\w"$.]/.test(c)).some((called) => !steady.test(called.replace(/^pg_catalog\./, '')))
}

/** Does it call a routine of the schema? Its body may find its tables by the reader's own search path. */
const callsOwn = (expression: string): boolean =>
  wordsBeforeBrackets(expression, (c) => /[\w"$.]/.test(c)).some((called) => called.includes('.') && !called.startsWith('pg_catalog.'))

/** ADD COLUMN with its default, where it has one. */
export function addColumn(p: PartOf<'column'>, r: Relation, withDefault: PartOf<'default'> | null, g: Ground): Work {
  const c: Column = { ...p.value, default: withDefault?.value.expression ?? null }
  const because = c.identity
    ? 'every row gets a number'
    : c.generated?.kept === 'stored'
      ? 'its value is worked out for every row'
      : c.default && isVolatile(c.default.written)
        ? 'its default is worked out for every row'
        : hasRules(c.type, g)
          ? `the rules of ${c.type} are tested on every row`
          : null
  const bare = pg.newColumnLike(c)
  const add = `${pg.alterTable(p.on)} ADD COLUMN ${pg.columnClause(r, c, true)};`
  return work(
    [
      ...(c.default && callsOwn(c.default.written) ? [ownSearchPath, add, afterRefresh] : [add]),
      ...pg.columnStorage(p.on, bare, c),
      ...pg.columnSettings(p.on, bare, c),
      ...(c.identity?.sequence && c.identity.comment !== null ? [pg.setComment(`SEQUENCE ${pg.quoteAddress(c.identity.sequence)}`, c.identity.comment)] : []),
    ],
    family(p.on, g),
    because === null ? [] : [{ code: 'rewrites', object: pg.quoteAddress(p.on), because }],
  )
}

function addKey(p: PartOf<'primary key'> | PartOf<'unique'>, r: Relation, g: Ground): Work {
  const k: KeyConstraint = p.value
  const word = p.kind === 'primary key' ? 'PRIMARY KEY' : 'UNIQUE'
  // On a partitioned table the keys of its partitions are taken where they match; they were made before.
  return work(
    [
      `${pg.alterTable(p.on)} ADD ${pg.keyClause(k, word)};`,
      ...(k.clustered ? [`${pg.alterTable(p.on)} CLUSTER ON ${pg.quoteIdent(k.name)};`] : []),
      ...(k.comment === null ? [] : [pg.setComment(constraintOn(p.on, k.name), k.comment)]),
      ...(k.indexComment === null ? [] : [pg.setComment(`INDEX ${indexAddress(p.on, k.name)}`, k.indexComment)]),
    ],
    family(r, g),
    [{ code: 'reads-all', object: pg.quoteAddress(r), because: 'its index is built under the lock' }],
  )
}

/** CREATE TABLE with columns, defaults, keys and checks; `later`: without defaults and checks, which follow where something they call needs the table. */
export function makeTable(r: Relation, g: Ground, later: boolean): Work {
  const parents = r.inherits.flatMap((a) => g.relation(a) ?? [])
  return work(
    [
      pg.createTable(r, { defaultsAndChecks: later }),
      ...pg.attachPartition(r),
      ...pg.inheritedColumns(r, parents),
      ...pg.tableSettings(r),
      ...(later ? [] : pg.relationComments(r)),
    ],
    [...r.inherits, ...(r.partitionOf ? [r.partitionOf.parent] : [])].map((a) => lock(a, 'share update exclusive')),
  )
}

/** DROP of a part. */
export function drop(p: Part, g: Ground): Work {
  switch (p.kind) {
    case 'schema':
      return work(pg.schemaDdl(p.value).down)
    case 'extension':
      return work(pg.extensionDdl(p.value).down)
    case 'enum':
    case 'composite':
    case 'range':
      return work([`DROP TYPE ${pg.quoteAddress(p.value)};`])
    case 'domain':
      return work([`DROP DOMAIN ${pg.quoteAddress(p.value)};`])
    case 'object':
      return work(pg.definedDdl(p.value).down)
    case 'sequence':
      return work(pg.sequenceDdl(p.value).down)
    case 'owner':
      return work([`ALTER SEQUENCE ${pg.quoteAddress(p.value)} OWNED BY NONE;`])
    case 'routine':
      return work(pg.routineDdl(p.value).down)
    case 'table':
      return work(
        [pg.dropRelation(p.value)],
        [...exclusive(p.value), ...(p.value.partitionOf ? exclusive(p.value.partitionOf.parent) : [])],
        [{ code: 'loses-data', object: partText(p), what: 'every row of it' }],
      )
    case 'view':
      return work([pg.dropRelation(p.value)], exclusive(p.value))
    case 'unmodelled':
      return work([])
    default:
      return dropHanging(p, g)
  }
}

function dropHanging(p: HangingPart, g: Ground): Work {
  const alter = pg.alterTable(p.on)
  switch (p.kind) {
    case 'column':
      return work(
        [`${alter} DROP COLUMN ${pg.quoteIdent(p.value.name)};`],
        family(p.on, g),
        p.value.generated ? [] : [{ code: 'loses-data', object: partText(p), what: 'what it holds' }],
      )
    case 'default':
      return work(
        [
          `ALTER ${g.relation(p.on)?.kind === 'view' ? 'VIEW' : 'TABLE ONLY'} ${pg.quoteAddress(p.on)} ALTER COLUMN ${pg.quoteIdent(p.value.column)} DROP DEFAULT;`,
        ],
        exclusive(p.on),
      )
    case 'primary key':
    case 'unique':
    case 'check':
    case 'exclusion':
      return work([`${alter} DROP CONSTRAINT ${pg.quoteIdent(p.value.name)};`], family(p.on, g))
    case 'reference':
      return work([`${alter} DROP CONSTRAINT ${pg.quoteIdent(p.value.name)};`], [...family(p.on, g), ...family(targetOf(p), g)])
    case 'index':
      return work([`DROP INDEX ${indexAddress(p.on, p.value.name)};`], family(p.on, g))
    case 'replica identity':
      return work([`ALTER TABLE ONLY ${pg.quoteAddress(p.on)} REPLICA IDENTITY DEFAULT;`], exclusive(p.on))
    case 'policy':
      return work([`DROP POLICY ${pg.quoteIdent(p.value.name)} ON ${pg.quoteAddress(p.on)};`], exclusive(p.on))
    case 'trigger':
      return work([`DROP TRIGGER ${pg.quoteIdent(p.value.name)} ON ${pg.quoteAddress(p.on)};`], exclusive(p.on))
    case 'rule':
      return work([`DROP RULE ${pg.quoteIdent(p.value.name)} ON ${pg.quoteAddress(p.on)};`], exclusive(p.on))
    default:
      return unreachable(p)
  }
}

export const isIndexOfPartitioned = (p: PartOf<'index'>, g: Ground): boolean => whole(p.on, g).partitionKey !== null
/** Does an index stand on a table whose rows it can be built on without keeping writers out? */
export const canBeConcurrent = (p: PartOf<'index'>, g: Ground): boolean => !isIndexOfPartitioned(p, g) && whole(p.on, g).foreign === null

/** CREATE INDEX CONCURRENTLY and what follows it (manual, CREATE INDEX, Building Indexes Concurrently). */
export function makeConcurrently(p: PartOf<'index'>, g: Ground): Work {
  const r = whole(p.on, g)
  const [create, ...rest] = pg.createIndex(r, p.value)
  return work(
    [
      (create as string).replace(/^CREATE (UNIQUE )?INDEX /, 'CREATE $1INDEX CONCURRENTLY '),
      ...rest,
      ...pg.attachIndex(r, p.value),
      ...pg.indexComment(r, p.value),
    ],
    [lock(r, 'share update exclusive'), ...(p.value.attachedTo !== null && r.partitionOf ? [lock(r.partitionOf.parent, 'access share')] : [])],
  )
}

/** A catalog query that tells how far the building of an index came. */
export const indexProbe = (schema: string, name: string): string =>
  `select case when i.indexrelid is null then 'not done' when i.indisvalid and i.indisready then 'done' else 'half done' end from (select pg_catalog.to_regclass(${pg.quoteLiteral(pg.quoteAddress({ schema, name }))}) as oid) n left join pg_catalog.pg_index i on i.indexrelid = n.oid`

/** A catalog query that tells whether an index is gone. */
export const goneProbe = (a: RelationAddress): string =>
  `select case when pg_catalog.to_regclass(${pg.quoteLiteral(pg.quoteAddress(a))}) is null then 'done' else 'not done' end`

export const indexOf = (k: KeyConstraint, unique: boolean): Index =>
  plainIndex(k.name, k.columns, { unique, include: k.include, nullsNotDistinct: k.nullsNotDistinct, options: k.options })

function unreachable(p: never): never {
  throw new Error(`a part of no known kind: ${JSON.stringify(p)}`)
}
