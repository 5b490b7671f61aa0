// What hangs on a table, changed in place: keys, indexes, references, checks, policies, triggers, rules.
import type { ForeignKey, Index, KeyConstraint, Relation, RelationAddress, Trigger } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { type Alteration, attachedUnder, comment, descendantsOf, inPlace, lock, reaching, within } from './alteration.ts'
import type { Ground } from './needs.ts'
import { type HangingPart, keyOf, type PartOf } from './parts.ts'
import { work } from './statements.ts'

type Hanging = Exclude<HangingPart, { kind: 'column' | 'default' }>
type Steps = readonly Alteration[] | null

/** `fields`: those of the two values that are not the same. Null where it has to be made anew. */
export function alterHanging(a: Hanging, b: HangingPart, fields: readonly string[], g: Ground, gb: Ground): Steps {
  const exclusive = [lock(a.on, 'access exclusive')]
  switch (a.kind) {
    case 'primary key':
    case 'unique':
      return within(fields, ['name', 'comment', 'indexComment', 'clustered', 'options', 'attachedTo']) ? alterKey(a, b as typeof a, g) : null
    case 'index':
      return within(fields, ['comment', 'clustered', 'options', 'statistics', 'attachedTo']) ? [alterIndex(a, b as typeof a)] : null
    case 'exclusion': {
      if (!within(fields, ['comment', 'indexComment', 'clustered'])) return null
      return [inPlace(a, b as typeof a, (x, y) => [...clustering(a.on, x, y), ...constraintComments(a.on, x, y)], mildly(a.on))]
    }
    case 'reference':
      return alterReference(a, b as typeof a, fields, g, gb)
    case 'check':
      return alterCheck(a, b as typeof a, fields, g)
    case 'replica identity':
      return [inPlace(a, b as typeof a, (_, y) => [`${pg.alterTable(a.on, true)} REPLICA IDENTITY USING INDEX ${pg.quoteIdent(y.index)};`], exclusive)]
    case 'policy': {
      const name = `POLICY ${pg.quoteIdent(a.value.name)} ON ${pg.quoteAddress(a.on)}`
      return within(fields, ['comment']) ? [inPlace(a, b as typeof a, (x, y) => comment(name, x, y), exclusive)] : null
    }
    case 'trigger':
    case 'rule':
      return within(fields, ['comment', 'fires']) ? [alterFiring(a, b as typeof a)] : null
    default:
      return unreachable(a)
  }
}

const mildly = (on: RelationAddress) => [lock(on, 'share update exclusive')]
const onTable = (on: RelationAddress, name: string) => `CONSTRAINT ${pg.quoteIdent(name)} ON ${pg.quoteAddress(on)}`
const indexText = (on: RelationAddress, name: string) => pg.quoteAddress({ schema: on.schema, name })

const clustering = (on: RelationAddress, x: { readonly clustered: boolean }, y: { readonly clustered: boolean; readonly name: string }): readonly string[] =>
  x.clustered === y.clustered ? [] : [`${pg.alterTable(on)} ${y.clustered ? `CLUSTER ON ${pg.quoteIdent(y.name)}` : 'SET WITHOUT CLUSTER'};`]

type Commented = Pick<KeyConstraint, 'name' | 'comment' | 'indexComment'>

const constraintComments = (on: RelationAddress, x: Commented, y: Commented): readonly string[] => [
  ...comment(onTable(on, y.name), x, y),
  ...(x.indexComment === y.indexComment ? [] : [pg.setComment(`INDEX ${indexText(on, y.name)}`, y.indexComment)]),
]

function alterKey(a: PartOf<'primary key'> | PartOf<'unique'>, b: typeof a, g: Ground): readonly Alteration[] {
  const write = (x: KeyConstraint, y: KeyConstraint) => [
    ...(x.name === y.name ? [] : [`${pg.alterTable(a.on)} RENAME CONSTRAINT ${pg.quoteIdent(x.name)} TO ${pg.quoteIdent(y.name)};`]),
    ...pg.optionChanges(x.options, y.options).map((o) => `ALTER INDEX ${indexText(a.on, y.name)} ${o};`),
    ...clustering(a.on, x, y),
    ...constraintComments(a.on, x, y),
  ]
  const locks = a.value.name === b.value.name ? mildly(a.on) : [lock(a.on, 'access exclusive')]
  const step = inPlace<'unique'>(a as PartOf<'unique'>, b as PartOf<'unique'>, write, locks)
  return [{ ...step, sets: [...step.sets, ...attachedUnder(a, b.value.name, g)] }]
}

function alterIndex(a: PartOf<'index'>, b: PartOf<'index'>): Alteration {
  const targetAt = (x: Index, position: number) => x.statistics.find((s) => s.position === position)?.target ?? -1
  const write = (x: Index, y: Index) => {
    const index = indexText(a.on, y.name)
    const positions = new Set([...x.statistics, ...y.statistics].map((s) => s.position))
    return [
      ...pg.optionChanges(x.options, y.options).map((o) => `ALTER INDEX ${index} ${o};`),
      ...[...positions].flatMap((n) => (targetAt(x, n) === targetAt(y, n) ? [] : [`ALTER INDEX ${index} ALTER COLUMN ${n} SET STATISTICS ${targetAt(y, n)};`])),
      ...clustering(a.on, x, y),
      ...comment(`INDEX ${index}`, x, y),
    ]
  }
  return inPlace(a, b, write, mildly(a.on))
}

const deferring = {
  no: 'NOT DEFERRABLE',
  'initially immediate': 'DEFERRABLE INITIALLY IMMEDIATE',
  'initially deferred': 'DEFERRABLE INITIALLY DEFERRED',
} as const

function alterReference(a: PartOf<'reference'>, b: PartOf<'reference'>, fields: readonly string[], g: Ground, gb: Ground): Steps {
  const validates = fields.includes('validated')
  if (!within(fields, ['comment', 'deferrable', 'validated', 'enforced'])) return null
  if (validates && (a.value.validated || g.relation(a.on)?.partitionKey !== null)) return null
  const target = { schema: a.value.target.schema, name: a.value.target.table }
  const soft = { ...b, value: { ...b.value, validated: a.value.validated, enforced: a.value.enforced } }
  const write = (x: ForeignKey, y: ForeignKey) => [
    ...(x.deferrable === y.deferrable ? [] : [`${pg.alterTable(a.on)} ALTER CONSTRAINT ${pg.quoteIdent(y.name)} ${deferring[y.deferrable]};`]),
    ...comment(onTable(a.on, y.name), x, y),
  ]
  const strong = [lock(a.on, 'access exclusive'), lock(target, 'access exclusive')]
  const first = inPlace(a, soft, write, fields.includes('deferrable') ? strong : mildly(a.on))
  const back = [
    `${pg.alterTable(a.on)} DROP CONSTRAINT ${pg.quoteIdent(b.value.name)};`,
    pg.addForeignKey(gb.relation(a.on) as Relation, { ...soft.value, validated: false }),
    ...comment(onTable(a.on, b.value.name), { comment: null }, soft.value),
  ]
  const validated = { ...soft, value: { ...soft.value, validated: true } }
  return [...(first.up.sql.length > 0 ? [first] : []), ...(validates ? [validateReference(validated, back)] : [])]
}

function alterCheck(a: PartOf<'check'>, b: PartOf<'check'>, fields: readonly string[], g: Ground): Steps {
  const validates = fields.includes('validated')
  if (!within(fields, ['comment', 'validated', 'inherited']) || (validates && a.value.validated)) return null
  const soft = { ...b, value: { ...b.value, validated: a.value.validated } }
  const first = inPlace(a, soft, (x, y) => comment(onTable(a.on, y.name), x, y), mildly(a.on))
  const back = [
    `${pg.alterTable(a.on)} DROP CONSTRAINT ${pg.quoteIdent(b.value.name)};`,
    `${pg.alterTable(a.on)} ADD ${pg.checkClause({ ...b.value, validated: false })};`,
    ...comment(onTable(a.on, b.value.name), { comment: null }, b.value),
  ]
  return [...(first.up.sql.length > 0 ? [first] : []), ...(validates ? [validateCheck(b, g, back)] : [])]
}

const fires = { origin: 'ENABLE', replica: 'ENABLE REPLICA', always: 'ENABLE ALWAYS', disabled: 'DISABLE' } as const

function alterFiring(a: PartOf<'trigger'> | PartOf<'rule'>, b: typeof a): Alteration {
  const word = a.kind === 'trigger' ? 'TRIGGER' : 'RULE'
  const write = (x: Trigger, y: Trigger) => [
    ...(x.fires === y.fires ? [] : [`${pg.alterTable(a.on)} ${fires[y.fires]} ${word} ${pg.quoteIdent(y.name)};`]),
    ...comment(`${word} ${pg.quoteIdent(y.name)} ON ${pg.quoteAddress(a.on)}`, x, y),
  ]
  return inPlace<'trigger'>(a as PartOf<'trigger'>, b as PartOf<'trigger'>, write, [
    lock(a.on, word === 'TRIGGER' ? 'share row exclusive' : 'access exclusive'),
  ])
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
      [to.on, ...descendantsOf(to.on, g)].map((t) => lock(t, 'share update exclusive')),
      [{ code: 'reads-all', object: pg.quoteAddress(to.on), because: 'the check is tested on every row; reading and writing go on' }],
    ),
    down,
    running: 'alone',
    preChecks: [],
    sets: [[keyOf(to), valid(to)], ...reaching(to, g, valid)],
  }
}

function unreachable(p: never): never {
  throw new Error(`a part of no known kind: ${JSON.stringify(p)}`)
}
