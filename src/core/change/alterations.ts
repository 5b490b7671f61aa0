// How a part that stays becomes another: in place, by one or more steps, each with its way back; or not at all, and then it is made anew.
import type { Column, KeyConstraint, Relation, RelationAddress, Routine } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import type { Ground } from './needs.ts'
import { type HangingPart, hangingKey, keyOf, type Part, type PartOf } from './parts.ts'
import type { Hazard, Lock, LockMode, PreCheck, StepKind } from './plan.ts'
import { nullCheck, typeCheck } from './preChecks.ts'
import { partText, stepKindOf, type Work, work } from './statements.ts'

/** Where a step runs: with its neighbours in one transaction, in one of its own, or in none. */
export type Running = 'together' | 'alone' | 'outside'

export interface Alteration {
  readonly kind: StepKind
  readonly says: string
  readonly up: Work
  readonly down: readonly string[]
  readonly running: Running
  readonly preChecks: readonly PreCheck[]
  readonly sets: readonly (readonly [string, Part | null])[]
}

const lock = (a: RelationAddress, mode: LockMode): Lock => ({ relation: pg.quoteAddress(a), mode })

/** The same value whatever order its keys came in; expressions by what the server prints, where both have that. */
export function same(a: unknown, b: unknown): boolean {
  if (a === b) return true
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null || Array.isArray(a) !== Array.isArray(b)) return false
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((x, i) => same(x, b[i]))
  const [left, right] = [a as Record<string, unknown>, b as Record<string, unknown>]
  if ('canonical' in left && 'written' in left && 'written' in right) {
    const by = left['canonical'] !== null && right['canonical'] !== null ? 'canonical' : 'written'
    return left[by] === right[by]
  }
  const keys = Object.keys(left)
  return keys.length === Object.keys(right).length && keys.every((k) => same(left[k], right[k]))
}

/** Fields that follow from the rest of the catalog. */
const followed: ReadonlySet<string> = new Set(['dependsOn'])

/** Fields of two values that are not the same. */
export function fieldsApart(a: object, b: object): readonly string[] {
  return Object.keys(a).filter((k) => !followed.has(k) && !same((a as Record<string, unknown>)[k], (b as Record<string, unknown>)[k]))
}

const within = (fields: readonly string[], allowed: readonly string[]) => fields.every((f) => allowed.includes(f))

/** Partitions and children of a table, with their own. */
export function descendantsOf(on: RelationAddress, g: Ground): readonly Relation[] {
  return g.childrenOf(on).flatMap((c) => [c, ...descendantsOf(c, g)])
}

/** Keys of partitions that are attached to one, under the name it gets. */
function attachedUnder(p: PartOf<'primary key'> | PartOf<'unique'>, name: string, g: Ground): readonly (readonly [string, Part])[] {
  return g.childrenOf(p.on).flatMap((r) => {
    const key = p.kind === 'primary key' ? r.primaryKey : r.uniques.find((u) => u.attachedTo === p.value.name)
    const child = key && g.parts.get(hangingKey(p.kind, r, p.kind === 'primary key' ? '' : key.name))
    return child?.kind === p.kind ? [[keyOf(child), { ...child, value: { ...child.value, attachedTo: name } } as Part] as const] : []
  })
}

/** The part's own state, and that of the same part of every descendant that a command reaches as well. */
export function reaching<P extends HangingPart>(p: P, g: Ground, of: (child: P, r: Relation) => P | null): readonly (readonly [string, Part | null])[] {
  const own = keyOf(p).split('\u0000')
  return descendantsOf(p.on, g).flatMap((r) => {
    const key = [own[0], r.schema, r.name, ...own.slice(3)].join('\u0000')
    const child = g.parts.get(key)
    return child && child.kind === p.kind ? [[key, of(child as P, r)] as const] : []
  })
}

type Write<K extends Part['kind']> = (a: PartOf<K>['value'], b: PartOf<K>['value']) => readonly string[]

/** One step both ways by the same writer. */
function inPlace<K extends Part['kind']>(
  a: PartOf<K>,
  b: PartOf<K>,
  write: Write<K>,
  locks: readonly Lock[] = [],
  hazards: readonly Hazard[] = [],
): Alteration {
  const [x, y] = [a.value as PartOf<K>['value'], b.value as PartOf<K>['value']]
  return {
    kind: stepKindOf[a.kind],
    says: `${wordsFor(fieldsApart(a.value, b.value))} changes`,
    up: work(write(x, y), locks, hazards),
    down: write(y, x),
    running: 'together',
    preChecks: [],
    sets: [[keyOf(b), b]],
  }
}

const wordsFor = (fields: readonly string[]) =>
  fields.length === 0 ? 'nothing' : fields.map((f) => f.replace(/[A-Z]/g, (c) => ` ${c.toLowerCase()}`)).join(', ')

const comment = (target: string, a: { readonly comment: string | null }, b: { readonly comment: string | null }) =>
  a.comment === b.comment ? [] : [pg.setComment(target, b.comment)]

/** The alterations that lead from one part to the other of the same key; null where it has to be made anew. */
export function alterations(a: Part, b: Part, ga: Ground, gb: Ground): readonly Alteration[] | null {
  if (a.kind !== b.kind) return null
  const fields = fieldsApart(a.value, b.value)
  switch (a.kind) {
    case 'schema': {
      const to = b as typeof a
      return [inPlace(a, to, (x, y) => comment(`SCHEMA ${pg.quoteIdent(a.value.name)}`, x, y))]
    }
    case 'extension':
      return alterExtension(a, b as typeof a)
    case 'enum':
      return alterEnum(a, b as typeof a)
    case 'domain': {
      const to = b as typeof a
      if (fields.includes('type') || fields.includes('collation')) return null
      const read: readonly Hazard[] = [{ code: 'reads-all', object: partText(a), because: 'its rules are tested on every column that has it' }]
      return [inPlace(a, to, pg.domainChange, [], fields.includes('checks') || fields.includes('nullable') ? read : [])]
    }
    case 'composite':
      return alterComposite(a, b as typeof a)
    case 'range':
      return within(fields, ['comment']) ? [inPlace(a, b as typeof a, (x, y) => comment(`TYPE ${pg.quoteAddress(a.value)}`, x, y))] : null
    case 'object':
      return within(fields, ['comment']) ? [inPlace(a, b as typeof a, (x, y) => comment(pg.definedName(a.value), x, y))] : null
    case 'sequence':
      return [
        inPlace(a, b as typeof a, (x, y) => [
          ...(same(x.options, y.options) ? [] : [`ALTER SEQUENCE ${pg.quoteAddress(x)} AS ${y.options.type} ${pg.allClauses(y.options)};`]),
          ...(x.unlogged === y.unlogged ? [] : [`ALTER SEQUENCE ${pg.quoteAddress(x)} SET ${y.unlogged ? 'UNLOGGED' : 'LOGGED'};`]),
          ...comment(`SEQUENCE ${pg.quoteAddress(x)}`, x, y),
        ]),
      ]
    case 'owner':
      return [inPlace(a, b as typeof a, (_, y) => pg.sequenceOwnerDdl(y as Parameters<typeof pg.sequenceOwnerDdl>[0]).up)]
    case 'routine':
      return alterRoutine(a, b as typeof a)
    case 'table':
      return alterTableShell(a, b as typeof a)
    case 'view':
      return alterView(a, b as typeof a)
    case 'column':
      return alterColumn(a, b as typeof a, ga, gb)
    case 'default':
      return [
        inPlace(
          a,
          b as typeof a,
          (_, y) => [
            `ALTER ${ga.relation(a.on)?.kind === 'view' ? 'VIEW' : 'TABLE ONLY'} ${pg.quoteAddress(a.on)} ALTER COLUMN ${pg.quoteIdent(y.column)} SET DEFAULT ${pg.reparsable(y.expression.written)};`,
          ],
          [lock(a.on, 'access exclusive')],
        ),
      ]
    case 'unmodelled':
      return []
    default:
      return alterHanging(a, b as HangingPart, fields, ga, gb)
  }
}

function alterHanging(
  a: Exclude<HangingPart, { kind: 'column' | 'default' }>,
  b: HangingPart,
  fields: readonly string[],
  g: Ground,
  gb: Ground,
): readonly Alteration[] | null {
  const on = pg.quoteAddress(a.on)
  const constraint = (name: string) => `CONSTRAINT ${pg.quoteIdent(name)} ON ${on}`
  const index = (name: string) => pg.quoteAddress({ schema: a.on.schema, name })
  const mild = [lock(a.on, 'share update exclusive')]
  switch (a.kind) {
    case 'primary key':
    case 'unique': {
      if (!within(fields, ['name', 'comment', 'indexComment', 'clustered', 'options', 'attachedTo'])) return null
      const to = b as typeof a
      const write = (x: KeyConstraint, y: KeyConstraint) => [
        ...(x.name === y.name ? [] : [`${pg.alterTable(a.on)} RENAME CONSTRAINT ${pg.quoteIdent(x.name)} TO ${pg.quoteIdent(y.name)};`]),
        ...pg.optionChanges(x.options, y.options).map((o) => `ALTER INDEX ${index(y.name)} ${o};`),
        ...(x.clustered === y.clustered ? [] : [`${pg.alterTable(a.on)} ${y.clustered ? `CLUSTER ON ${pg.quoteIdent(y.name)}` : 'SET WITHOUT CLUSTER'};`]),
        ...comment(constraint(y.name), x, y),
        ...(x.indexComment === y.indexComment ? [] : [pg.setComment(`INDEX ${index(y.name)}`, y.indexComment)]),
      ]
      const step = inPlace<'unique'>(a as PartOf<'unique'>, to as PartOf<'unique'>, write, fields.includes('name') ? [lock(a.on, 'access exclusive')] : mild)
      return [{ ...step, sets: [...step.sets, ...attachedUnder(a, to.value.name, g)] }]
    }
    case 'index': {
      if (!within(fields, ['comment', 'clustered', 'options', 'statistics', 'attachedTo'])) return null
      return [
        inPlace(
          a,
          b as typeof a,
          (x, y) => [
            ...pg.optionChanges(x.options, y.options).map((o) => `ALTER INDEX ${index(y.name)} ${o};`),
            ...[...new Set([...x.statistics, ...y.statistics].map((s) => s.position))].flatMap((position) => {
              const target = y.statistics.find((s) => s.position === position)?.target ?? -1
              return target === (x.statistics.find((s) => s.position === position)?.target ?? -1)
                ? []
                : [`ALTER INDEX ${index(y.name)} ALTER COLUMN ${position} SET STATISTICS ${target};`]
            }),
            ...(x.clustered === y.clustered ? [] : [`${pg.alterTable(a.on)} ${y.clustered ? `CLUSTER ON ${pg.quoteIdent(y.name)}` : 'SET WITHOUT CLUSTER'};`]),
            ...comment(`INDEX ${index(y.name)}`, x, y),
          ],
          mild,
        ),
      ]
    }
    case 'exclusion':
      if (!within(fields, ['comment', 'indexComment', 'clustered'])) return null
      return [
        inPlace(
          a,
          b as typeof a,
          (x, y) => [
            ...(x.clustered === y.clustered ? [] : [`${pg.alterTable(a.on)} ${y.clustered ? `CLUSTER ON ${pg.quoteIdent(y.name)}` : 'SET WITHOUT CLUSTER'};`]),
            ...comment(constraint(y.name), x, y),
            ...(x.indexComment === y.indexComment ? [] : [pg.setComment(`INDEX ${index(y.name)}`, y.indexComment)]),
          ],
          mild,
        ),
      ]
    case 'reference': {
      const to = b as typeof a
      if (fields.includes('validated') && a.value.validated) return null
      if (!within(fields, ['comment', 'deferrable', 'validated', 'enforced'])) return null
      const partitioned = g.relation(a.on)?.partitionKey !== null
      if (fields.includes('validated') && partitioned) return null
      const deferring = { no: 'NOT DEFERRABLE', 'initially immediate': 'DEFERRABLE INITIALLY IMMEDIATE', 'initially deferred': 'DEFERRABLE INITIALLY DEFERRED' }
      const target = { schema: a.value.target.schema, name: a.value.target.table }
      const soft = { ...to, value: { ...to.value, validated: a.value.validated, enforced: a.value.enforced } }
      const first = inPlace(
        a,
        soft,
        (x, y) => [
          ...(x.deferrable === y.deferrable ? [] : [`${pg.alterTable(a.on)} ALTER CONSTRAINT ${pg.quoteIdent(y.name)} ${deferring[y.deferrable]};`]),
          ...comment(constraint(y.name), x, y),
        ],
        fields.includes('deferrable') ? [lock(a.on, 'access exclusive'), lock(target, 'access exclusive')] : mild,
      )
      return [
        ...(first.up.sql.length > 0 ? [first] : []),
        ...(fields.includes('validated')
          ? [
              validateReference({ ...soft, value: { ...soft.value, validated: true } }, [
                `${pg.alterTable(a.on)} DROP CONSTRAINT ${pg.quoteIdent(to.value.name)};`,
                pg.addForeignKey(gb.relation(a.on) as Relation, { ...soft.value, validated: false }),
                ...comment(constraint(to.value.name), { comment: null }, soft.value),
              ]),
            ]
          : []),
      ]
    }
    case 'check': {
      const to = b as typeof a
      if (!within(fields, ['comment', 'validated', 'inherited']) || (fields.includes('validated') && a.value.validated)) return null
      const soft = { ...to, value: { ...to.value, validated: a.value.validated } }
      const first = inPlace(a, soft, (x, y) => comment(constraint(y.name), x, y), mild)
      return [
        ...(first.up.sql.length > 0 ? [first] : []),
        ...(fields.includes('validated')
          ? [
              validateCheck(to, g, [
                `${pg.alterTable(a.on)} DROP CONSTRAINT ${pg.quoteIdent(to.value.name)};`,
                `${pg.alterTable(a.on)} ADD ${pg.checkClause({ ...to.value, validated: false })};`,
                ...comment(constraint(to.value.name), { comment: null }, to.value),
              ]),
            ]
          : []),
      ]
    }
    case 'replica identity':
      return [
        inPlace(a, b as typeof a, (_, y) => [`ALTER TABLE ONLY ${on} REPLICA IDENTITY USING INDEX ${pg.quoteIdent(y.index)};`], [
          lock(a.on, 'access exclusive'),
        ]),
      ]
    case 'policy':
      return within(fields, ['comment'])
        ? [inPlace(a, b as typeof a, (x, y) => comment(`POLICY ${pg.quoteIdent(x.name)} ON ${on}`, x, y), [lock(a.on, 'access exclusive')])]
        : null
    case 'trigger':
    case 'rule': {
      if (!within(fields, ['comment', 'fires'])) return null
      const word = a.kind === 'trigger' ? 'TRIGGER' : 'RULE'
      const fires = { origin: 'ENABLE', replica: 'ENABLE REPLICA', always: 'ENABLE ALWAYS', disabled: 'DISABLE' }
      return [
        inPlace<'trigger'>(
          a as PartOf<'trigger'>,
          b as PartOf<'trigger'>,
          (x, y) => [
            ...(x.fires === y.fires ? [] : [`${pg.alterTable(a.on)} ${fires[y.fires]} ${word} ${pg.quoteIdent(y.name)};`]),
            ...comment(`${word} ${pg.quoteIdent(y.name)} ON ${on}`, x, y),
          ],
          [lock(a.on, word === 'TRIGGER' ? 'share row exclusive' : 'access exclusive')],
        ),
      ]
    }
    default:
      return unreachable(a)
  }
}

/**
 * VALIDATE CONSTRAINT lets others read and write meanwhile (manual, ALTER TABLE, VALIDATE CONSTRAINT). What was checked cannot be
 * unchecked: `down` is empty where a step before takes the whole constraint away on the way back.
 */
export function validateReference(to: PartOf<'reference'>, down: readonly string[] = []): Alteration {
  const target = { schema: to.value.target.schema, name: to.value.target.table }
  return {
    kind: 'validate',
    says: 'rows that are there already are checked',
    up: work(
      [`${pg.alterTable(to.on)} VALIDATE CONSTRAINT ${pg.quoteIdent(to.value.name)};`],
      [lock(to.on, 'share update exclusive'), lock(target, 'row share')],
      [{ code: 'reads-all', object: pg.quoteAddress(to.on), because: 'every value is looked up in the table it refers to; reading and writing go on' }],
    ),
    down,
    running: 'alone',
    preChecks: [],
    sets: [[keyOf(to), to]],
  }
}

/** The same of a check, with those of its descendants. */
export function validateCheck(to: PartOf<'check'>, g: Ground, down: readonly string[] = []): Alteration {
  const valid = (p: PartOf<'check'>): PartOf<'check'> => ({ ...p, value: { ...p.value, validated: true } })
  return {
    kind: 'validate',
    says: 'rows that are there already are checked',
    up: work(
      [`${pg.alterTable(to.on)} VALIDATE CONSTRAINT ${pg.quoteIdent(to.value.name)};`],
      [lock(to.on, 'share update exclusive')],
      [{ code: 'reads-all', object: pg.quoteAddress(to.on), because: 'the check is tested on every row; reading and writing go on' }],
    ),
    down,
    running: 'alone',
    preChecks: [],
    sets: [[keyOf(to), valid(to)], ...reaching(to, g, valid)],
  }
}

function alterExtension(a: PartOf<'extension'>, b: PartOf<'extension'>): readonly Alteration[] {
  const name = `EXTENSION ${pg.quoteIdent(a.value.name)}`
  const write: Write<'extension'> = (x, y) => [
    ...(x.schema === y.schema ? [] : [`ALTER ${name} SET SCHEMA ${pg.quoteIdent(y.schema)};`]),
    ...(x.version === y.version || y.version === '' ? [] : [`ALTER ${name} UPDATE TO ${pg.quoteLiteral(y.version)};`]),
    ...comment(name, x, y),
  ]
  return [
    inPlace(a, b, write, [], a.value.version === b.value.version ? [] : [{ code: 'needs-extension-files', object: partText(a), version: b.value.version }]),
  ]
}

/** ADD VALUE where every label stays, in order: each alone in its step, since it cannot be used before it is committed (manual, ALTER TYPE, Notes). */
function alterEnum(a: PartOf<'enum'>, b: PartOf<'enum'>): readonly Alteration[] | null {
  const type = pg.quoteAddress(a.value)
  const said = inPlace({ ...a, value: { ...b.value, comment: a.value.comment } }, b, (x, y) => comment(`TYPE ${type}`, x, y))
  if (a.value.labels.some((l, i, all) => !b.value.labels.includes(l) || (i > 0 && b.value.labels.indexOf(all[i - 1] as string) > b.value.labels.indexOf(l))))
    return null
  let labels = a.value.labels
  const added = b.value.labels
    .filter((l) => !a.value.labels.includes(l))
    .map((label): Alteration => {
      const at = b.value.labels.indexOf(label)
      const before = b.value.labels[at - 1]
      const place = before === undefined ? (labels[0] === undefined ? '' : ` BEFORE ${pg.quoteLiteral(labels[0])}`) : ` AFTER ${pg.quoteLiteral(before)}`
      labels = before === undefined ? [label, ...labels] : labels.flatMap((l) => (l === before ? [l, label] : [l]))
      return {
        kind: 'type',
        says: `gets the value ${pg.quoteLiteral(label)}`,
        up: work(
          [`ALTER TYPE ${type} ADD VALUE ${pg.quoteLiteral(label)}${place};`],
          [],
          [{ code: 'no-way-back', object: partText(a), because: 'a value cannot be taken out of an enumerated type again' }],
        ),
        down: [],
        running: 'alone',
        preChecks: [],
        sets: [[keyOf(b), { ...a, value: { ...a.value, labels } }]],
      }
    })
  return [...added, ...(said.up.sql.length > 0 ? [said] : [])]
}

/** Attributes can be added at the end, and taken away, even where columns have the type (manual, ALTER TYPE). */
function alterComposite(a: PartOf<'composite'>, b: PartOf<'composite'>): readonly Alteration[] | null {
  const kept = a.value.attributes.filter((x) => b.value.attributes.some((y) => y.name === x.name))
  const type = pg.quoteAddress(a.value)
  const bare = (x: (typeof kept)[number] | undefined) => x && { ...x, comment: null }
  if (!kept.every((x, i) => same(bare(x), bare(b.value.attributes[i])))) return null
  const write: Write<'composite'> = (x, y) => [
    ...x.attributes.filter((o) => !y.attributes.some((n) => n.name === o.name)).map((o) => `ALTER TYPE ${type} DROP ATTRIBUTE ${pg.quoteIdent(o.name)};`),
    ...y.attributes
      .filter((n) => !x.attributes.some((o) => o.name === n.name))
      .map((n) => `ALTER TYPE ${type} ADD ATTRIBUTE ${pg.quoteIdent(n.name)} ${n.type}${pg.collate(n.collation)};`),
    ...y.attributes.flatMap((n) => {
      const before = x.attributes.find((o) => o.name === n.name)?.comment ?? null
      return before === n.comment ? [] : [pg.setComment(`COLUMN ${type}.${pg.quoteIdent(n.name)}`, n.comment)]
    }),
    ...comment(`TYPE ${type}`, x, y),
  ]
  // On the way back they go to the end, too: only what was added can be taken away in place.
  if (kept.length < a.value.attributes.length && !same(kept.map(bare), a.value.attributes.slice(0, kept.length).map(bare))) return null
  const gone = a.value.attributes.filter((x) => !kept.includes(x))
  return [
    inPlace(a, b, write, [], gone.length > 0 ? [{ code: 'loses-data', object: partText(a), what: `what ${gone.map((x) => x.name).join(', ')} holds` }] : []),
  ]
}

/** CREATE OR REPLACE where callers cannot tell (manual, CREATE FUNCTION, Notes). */
function alterRoutine(a: PartOf<'routine'>, b: PartOf<'routine'>): readonly Alteration[] | null {
  const fields = fieldsApart(a.value, b.value)
  if (!within(fields, ['definition', 'comment', 'language']) || (a.value.kind === 'aggregate' && fields.includes('definition'))) return null
  const write = (x: Routine, y: Routine) => {
    const made = pg.routineDdl({ ...y, comment: null }).up.map((s) => s.replace(/^CREATE (?!OR REPLACE)/i, 'CREATE OR REPLACE '))
    return [...(same(x.definition, y.definition) && x.language === y.language ? [] : made), ...comment(pg.routineName(y), x, y)]
  }
  return [inPlace(a, b, write)]
}

function alterTableShell(a: PartOf<'table'>, b: PartOf<'table'>): readonly Alteration[] | null {
  const fields = fieldsApart(a.value, b.value)
  if (!within(fields, ['comment', 'unlogged', 'options', 'rowSecurity', 'replicaIdentity', 'accessMethod', 'foreign', 'partitionOf', 'kind', 'ofType']))
    return null
  const attached = fields.includes('partitionOf') || fields.includes('kind')
  const kinds = new Set([a.value.kind, b.value.kind])
  if (attached && (kinds.has('foreign table') || a.value.partitionKey !== b.value.partitionKey)) return null
  if (a.value.foreign && b.value.foreign ? a.value.foreign.server !== b.value.foreign.server : a.value.foreign !== b.value.foreign) return null
  if (a.value.ofType && b.value.ofType && fields.includes('ofType')) return null
  const table = pg.quoteAddress(a.value)
  const alter = pg.alterTable(a.value, true)
  const replica = { default: 'DEFAULT', full: 'FULL', nothing: 'NOTHING', unknown: 'DEFAULT', index: 'DEFAULT' } as const
  const write = (x: Relation, y: Relation) => [
    ...(x.partitionOf && !same(x.partitionOf, y.partitionOf) ? [`${pg.alterTable(x.partitionOf.parent, true)} DETACH PARTITION ${table};`] : []),
    ...(same(x.ofType, y.ofType) ? [] : [y.ofType ? `${alter} OF ${pg.quoteAddress(y.ofType)};` : `${alter} NOT OF;`]),
    ...(x.unlogged === y.unlogged ? [] : [`${alter} SET ${y.unlogged ? 'UNLOGGED' : 'LOGGED'};`]),
    ...(x.accessMethod === y.accessMethod ? [] : [`${alter} SET ACCESS METHOD ${pg.quoteIdent(y.accessMethod ?? 'heap')};`]),
    ...pg.optionChanges(x.options, y.options).map((o) => `${alter} ${o};`),
    ...(x.foreign && y.foreign ? pg.foreignOptionChanges(x, y) : []),
    ...(same(x.replicaIdentity, y.replicaIdentity) ? [] : [`${alter} REPLICA IDENTITY ${replica[y.replicaIdentity.kind]};`]),
    ...(x.rowSecurity === y.rowSecurity
      ? []
      : [
          `${pg.alterTable(y)} ${y.rowSecurity === 'off' ? 'DISABLE' : 'ENABLE'} ROW LEVEL SECURITY;`,
          ...((x.rowSecurity === 'forced') === (y.rowSecurity === 'forced')
            ? []
            : [`${alter} ${y.rowSecurity === 'forced' ? 'FORCE' : 'NO FORCE'} ROW LEVEL SECURITY;`]),
        ]),
    ...(y.partitionOf && !same(x.partitionOf, y.partitionOf) ? pg.attachPartition(y) : []),
    ...comment(`${pg.wordFor(y)} ${table}`, x, y),
  ]
  const parents = [a.value.partitionOf, b.value.partitionOf].flatMap((p) => (p && attached ? [p.parent] : []))
  const strongest: LockMode = within(fields, ['comment', 'options']) ? 'share update exclusive' : 'access exclusive'
  const rewritten = fields.includes('unlogged') ? 'it is logged otherwise' : fields.includes('accessMethod') ? 'it is stored otherwise' : null
  return [
    inPlace(
      a,
      b,
      write,
      [lock(a.value, strongest), ...parents.map((p) => lock(p, a.value.partitionOf ? 'access exclusive' : 'share update exclusive'))],
      [
        ...(rewritten === null ? [] : [{ code: 'rewrites', object: table, because: rewritten } as const]),
        ...(b.value.partitionOf && attached ? [{ code: 'reads-all', object: table, because: 'its rows are tested against the bound' } as const] : []),
      ],
    ),
  ]
}

/** CREATE OR REPLACE VIEW keeps the columns there are and may add some behind them (manual, CREATE VIEW). */
function alterView(a: PartOf<'view'>, b: PartOf<'view'>): readonly Alteration[] | null {
  const fields = fieldsApart(a.value, b.value)
  if (fields.includes('kind')) return null
  const name = `${a.value.kind === 'view' ? 'VIEW' : 'MATERIALIZED VIEW'} ${pg.quoteAddress(a.value)}`
  const bare = (c: Column) => ({ ...c, comment: null, default: null })
  const columnsSame = same(a.value.columns.map(bare), b.value.columns.map(bare))
  const queried = fields.includes('definition') || !columnsSame
  const grows = a.value.columns.length <= b.value.columns.length && a.value.columns.every((c, i) => same(bare(c), bare(b.value.columns[i] as Column)))
  if (!within(fields, ['definition', 'columns', 'comment', 'options', 'accessMethod', 'unlogged'])) return null
  if (queried && (a.value.kind !== 'view' || !grows || b.value.columns.length !== a.value.columns.length)) return null
  if (a.value.kind !== 'view' && fields.includes('accessMethod')) return null
  const write: Write<'view'> = (x, y) => [
    ...(same(x.definition, y.definition) ? [] : [pg.createView({ ...y, options: x.options }).replace(/^CREATE VIEW/, 'CREATE OR REPLACE VIEW')]),
    ...pg.viewOptions(y, x),
    ...y.columns.flatMap((c) => {
      const before = x.columns.find((o) => o.name === c.name)
      const column = `${pg.quoteAddress(y)} ALTER COLUMN ${pg.quoteIdent(c.name)}`
      return [
        ...(before && !same(before.default, c.default)
          ? [`ALTER VIEW ${column} ${c.default ? `SET DEFAULT ${pg.reparsable(c.default.written)}` : 'DROP DEFAULT'};`]
          : []),
        ...(before && before.comment !== c.comment ? [pg.setComment(`COLUMN ${pg.quoteAddress(y)}.${pg.quoteIdent(c.name)}`, c.comment)] : []),
      ]
    }),
    ...comment(name, x, y),
  ]
  return [inPlace(a, b, write, [lock(a.value, queried || fields.includes('columns') ? 'access exclusive' : 'share update exclusive')])]
}

/** Does ALTER TYPE leave the rows as they are stored (manual, ALTER TABLE, Notes; tablecmds.c, ATColumnChangeRequiresRewrite)? */
export function keepsRows(from: string, to: string): boolean {
  const [a, b] = [pg.typeFamily(from), pg.typeFamily(to)]
  const limit = (t: string) => /\((\d+)(?:,(\d+))?\)/.exec(t)
  const [la, lb] = [limit(from), limit(to)]
  if (from.endsWith('[]') || to.endsWith('[]')) return false
  if (a === 'character varying' && b === 'character varying') return lb === null || (la !== null && Number(lb[1]) >= Number(la[1]))
  if (a === 'character varying' && b === 'text') return true
  if (a === 'text' && b === 'character varying') return lb === null
  if (a === 'numeric' && b === 'numeric') return lb === null || (la !== null && Number(lb[1]) >= Number(la[1]) && (lb[2] ?? '0') === (la[2] ?? '0'))
  return a === 'cidr' && b === 'inet'
}

function alterColumn(a: PartOf<'column'>, b: PartOf<'column'>, ga: Ground, gb: Ground): readonly Alteration[] | null {
  const [x, y] = [a.value, b.value]
  const fields = fieldsApart(x, y)
  // What is worked out from others is worked out anew; only the rule can be taken off in place.
  if (fields.includes('generated') && (y.generated !== null || x.generated?.kept !== 'stored')) return null
  if (fields.includes('onUpdate') || fields.includes('inherited')) return null
  if (x.generated && (fields.includes('type') || fields.includes('collation'))) return null
  const at = (value: Column): PartOf<'column'> => ({ ...a, value })
  const steps: Alteration[] = []
  let now = x
  if (fields.includes('generated')) {
    const next = { ...now, generated: null }
    steps.push({
      kind: 'column',
      says: 'is worked out no more; what it holds stays',
      up: work(
        [`${pg.alterTable(a.on)} ALTER COLUMN ${pg.quoteIdent(x.name)} DROP EXPRESSION;`],
        [lock(a.on, 'access exclusive')],
        [{ code: 'no-way-back', object: partText(a), because: 'a column that is there cannot be made a generated one' }],
      ),
      down: [],
      running: 'together',
      preChecks: [],
      sets: [[keyOf(a), at(next)], ...reaching(a, ga, (c) => ({ ...c, value: { ...c.value, generated: null } }))],
    })
    now = next
  }
  if (fields.includes('type') || fields.includes('collation')) {
    const next = { ...now, type: y.type, collation: y.collation, storage: null }
    steps.push(typeStep(at(now), at(next), ga, gb))
    now = next
  }
  if (now.nullable !== y.nullable) {
    steps.push(...nullSteps(at(now), y.nullable, ga))
    now = { ...now, nullable: y.nullable }
  }
  const rest = inPlace(
    at(now),
    b,
    (p, q) => [...(p.storage === q.storage ? [] : pg.columnStorage(a.on, p, q)), ...pg.identityChange(a.on, p, q), ...pg.columnSettings(a.on, p, q)],
    [
      lock(
        a.on,
        same({ ...now, comment: null, statisticsTarget: null, options: [] }, { ...y, comment: null, statisticsTarget: null, options: [] })
          ? 'share update exclusive'
          : 'access exclusive',
      ),
    ],
  )
  if (rest.up.sql.length > 0) steps.push({ ...rest, sets: [[keyOf(b), { ...b, place: a.place }]] })
  return steps
}

function typeStep(a: PartOf<'column'>, b: PartOf<'column'>, ga: Ground, gb: Ground): Alteration {
  const to = (value: Column): Column => ({ ...value, type: b.value.type, collation: b.value.collation, storage: null })
  const stays = keepsRows(a.value.type, b.value.type)
  const check = typeCheck(a, b, ga, gb)
  const tables = [a.on, ...descendantsOf(a.on, ga).map((r) => ({ schema: r.schema, name: r.name }))]
  return {
    kind: 'column',
    says: `type ${a.value.type} becomes ${b.value.type}`,
    up: work(
      [pg.columnType(a.on, b.value, ga.conversion(a)?.up ?? pg.conversion(a.value, b.value))],
      tables.map((t) => lock(t, 'access exclusive')),
      [
        ...(stays ? [] : [{ code: 'rewrites', object: pg.quoteAddress(a.on), because: `${a.value.type} is stored otherwise than ${b.value.type}` } as const]),
        ...(check?.narrows ? [{ code: 'narrows', object: partText(a), what: check.narrows } as const] : []),
      ],
    ),
    down: [pg.columnType(a.on, a.value, ga.conversion(a)?.down ?? pg.conversion(b.value, a.value))],
    running: 'together',
    preChecks: check ? check.checks : [],
    sets: [[keyOf(a), b], ...reaching(a, ga, (c) => ({ ...c, value: to(c.value) }))],
  }
}

/** A name for a check that is there for a while only; it fits into 63 bytes and is free on its table. */
export const passingName = (column: string): string =>
  `pelvok_${[...column]
    .slice(0, 24)
    .join('')
    .replace(/[^\p{L}\p{N}_]/gu, '_')
    .slice(0, 24)}_is_there`

/**
 * SET NOT NULL reads the whole table under its lock, unless a validated check says there is nothing to read (manual, ALTER TABLE,
 * SET NOT NULL): a check that is not validated, its validation while others go on, and then the rule itself.
 */
function nullSteps(a: PartOf<'column'>, nullable: boolean, g: Ground): readonly Alteration[] {
  const column = pg.quoteIdent(a.value.name)
  const alter = pg.alterTable(a.on)
  const exclusive = [lock(a.on, 'access exclusive'), ...descendantsOf(a.on, g).map((r) => lock(r, 'access exclusive'))]
  const to = (c: PartOf<'column'>): PartOf<'column'> => ({ ...c, value: { ...c.value, nullable } })
  const column_ = { kind: 'column', running: 'together', preChecks: [] } as const
  const sets = [[keyOf(a), to(a)] as const, ...reaching(a, g, to)]
  if (nullable)
    return [
      {
        ...column_,
        says: 'accepts null',
        up: work([`${alter} ALTER COLUMN ${column} DROP NOT NULL;`], exclusive),
        down: [`${alter} ALTER COLUMN ${column} SET NOT NULL;`],
        sets,
      },
    ]
  const name = passingName(a.value.name)
  const check = (on: RelationAddress, validated: boolean, inherited: boolean): PartOf<'check'> => ({
    kind: 'check',
    on,
    value: {
      name,
      expression: { written: `(${column} IS NOT NULL)`, canonical: `(${column} IS NOT NULL)` },
      validated,
      inheritable: true,
      inherited,
      comment: null,
    },
  })
  const checks = (validated: boolean) =>
    [check(a.on, validated, false), ...descendantsOf(a.on, g).map((r) => check({ schema: r.schema, name: r.name }, validated, true))].map(
      (p) => [hangingKey('check', p.on, name), p] as const,
    )
  const dropCheck = `${alter} DROP CONSTRAINT ${pg.quoteIdent(name)};`
  const addCheck = `${alter} ADD CONSTRAINT ${pg.quoteIdent(name)} CHECK (${column} IS NOT NULL) NOT VALID;`
  return [
    {
      kind: 'check',
      running: 'together',
      says: 'no new nulls: a check that does not look at the rows there are',
      up: work([addCheck], exclusive, [{ code: 'fails-on-rows', object: partText(a), what: 'rows where it is null would stop the next step' }]),
      down: [dropCheck],
      preChecks: [nullCheck(a)],
      sets: checks(false),
    },
    {
      kind: 'validate',
      running: 'alone',
      says: 'rows that are there already are checked for null',
      up: work(
        [`${alter} VALIDATE CONSTRAINT ${pg.quoteIdent(name)};`],
        [lock(a.on, 'share update exclusive')],
        [{ code: 'reads-all', object: pg.quoteAddress(a.on), because: 'the check is tested on every row; reading and writing go on' }],
      ),
      down: [],
      preChecks: [],
      sets: checks(true),
    },
    {
      ...column_,
      says: 'accepts null no more',
      up: work([`${alter} ALTER COLUMN ${column} SET NOT NULL;`, dropCheck], exclusive),
      down: [`${alter} ALTER COLUMN ${column} DROP NOT NULL;`, addCheck],
      sets: [...sets, ...checks(true).map(([key]) => [key, null] as const)],
    },
  ]
}

function unreachable(p: never): never {
  throw new Error(`a part of no known kind: ${JSON.stringify(p)}`)
}
