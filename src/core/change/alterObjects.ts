// Objects of their own, changed in place: extensions, types, routines, tables as a whole, views.
import { type Column, isAddress, type Relation, type RelationAddress, type Routine } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { type Alteration, comment, fieldsApart, inPlace, lock, same, type Write, within } from './alteration.ts'
import type { Ground } from './needs.ts'
import { keyOf, type Part, type PartOf } from './parts.ts'
import type { Hazard, LockMode } from './plan.ts'
import { partText, work } from './statements.ts'
import { detached } from './step.ts'

export function alterExtension(a: PartOf<'extension'>, b: PartOf<'extension'>): readonly Alteration[] {
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
export function alterEnum(a: PartOf<'enum'>, b: PartOf<'enum'>): readonly Alteration[] | null {
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
          [`ALTER TYPE ${type} ADD VALUE IF NOT EXISTS ${pg.quoteLiteral(label)}${place};`],
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
export function alterComposite(a: PartOf<'composite'>, b: PartOf<'composite'>): readonly Alteration[] | null {
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
export function alterRoutine(a: PartOf<'routine'>, b: PartOf<'routine'>): readonly Alteration[] | null {
  const fields = fieldsApart(a.value, b.value)
  if (!within(fields, ['definition', 'comment', 'language']) || (a.value.kind === 'aggregate' && fields.includes('definition'))) return null
  const write = (x: Routine, y: Routine) => {
    const made = pg.routineDdl({ ...y, comment: null }).up.map((s) => s.replace(/^CREATE (?!OR REPLACE)/i, 'CREATE OR REPLACE '))
    return [...(same(x.definition, y.definition) && x.language === y.language ? [] : made), ...comment(pg.routineName(y), x, y)]
  }
  return [inPlace(a, b, write)]
}

/** What of a table as a whole can change while its rows stay where they are. */
function canStay(a: Relation, b: Relation, fields: readonly string[]): boolean {
  if (!within(fields, ['comment', 'unlogged', 'options', 'rowSecurity', 'replicaIdentity', 'accessMethod', 'foreign', 'partitionOf', 'kind', 'ofType']))
    return false
  const moved = fields.includes('partitionOf') || fields.includes('kind')
  if (moved && (a.kind === 'foreign table' || b.kind === 'foreign table' || a.partitionKey !== b.partitionKey)) return false
  if (a.ofType && b.ofType && fields.includes('ofType')) return false
  return a.foreign?.server === b.foreign?.server
}

const replicaWords = { default: 'DEFAULT', full: 'FULL', nothing: 'NOTHING', unknown: 'DEFAULT', index: 'DEFAULT' } as const

function rowSecurity(x: Relation, y: Relation): readonly string[] {
  if (x.rowSecurity === y.rowSecurity) return []
  const forced = y.rowSecurity === 'forced'
  return [
    `${pg.alterTable(y)} ${y.rowSecurity === 'off' ? 'DISABLE' : 'ENABLE'} ROW LEVEL SECURITY;`,
    ...((x.rowSecurity === 'forced') === forced ? [] : [`${pg.alterTable(y, true)} ${forced ? 'FORCE' : 'NO FORCE'} ROW LEVEL SECURITY;`]),
  ]
}

function writeShell(x: Relation, y: Relation): readonly string[] {
  const table = pg.quoteAddress(x)
  const alter = pg.alterTable(x, true)
  const attached = !same(x.partitionOf, y.partitionOf)
  return [
    ...(attached && x.partitionOf ? [`${pg.alterTable(x.partitionOf.parent, true)} DETACH PARTITION ${table};`] : []),
    ...(same(x.ofType, y.ofType) ? [] : [y.ofType ? `${alter} OF ${pg.quoteAddress(y.ofType)};` : `${alter} NOT OF;`]),
    ...(x.unlogged === y.unlogged ? [] : [`${alter} SET ${y.unlogged ? 'UNLOGGED' : 'LOGGED'};`]),
    ...(x.accessMethod === y.accessMethod ? [] : [`${alter} SET ACCESS METHOD ${pg.quoteIdent(y.accessMethod ?? 'heap')};`]),
    ...pg.optionChanges(x.options, y.options).map((o) => `${alter} ${o};`),
    ...(x.foreign && y.foreign ? pg.foreignOptionChanges(x, y) : []),
    ...(same(x.replicaIdentity, y.replicaIdentity) ? [] : [`${alter} REPLICA IDENTITY ${replicaWords[y.replicaIdentity.kind]};`]),
    ...rowSecurity(x, y),
    ...(attached && y.partitionOf ? pg.attachPartition(y) : []),
    ...comment(`${pg.wordFor(y)} ${table}`, x, y),
  ]
}

/** What hangs on a table and is attached to its parent's, loose. */
const loosened = (g: Ground, on: Relation): Alteration['sets'] =>
  [...g.parts].flatMap(([key, p]) =>
    (p.kind === 'index' || p.kind === 'primary key' || p.kind === 'unique') && p.on.schema === on.schema && p.on.name === on.name && p.value.attachedTo !== null
      ? [[key, { ...p, value: { ...p.value, attachedTo: null } } as Part] as const]
      : [],
  )

/** A partition that gets another place is taken out first, and put in where all others have been taken out: bounds may not overlap meanwhile. */
function moveTable(a: PartOf<'table'>, b: PartOf<'table'>, ga: Ground): readonly Alteration[] | null {
  const free: PartOf<'table'> = { kind: 'table', value: detached(a.value) }
  const out = alterTableShell(a, free, ga)
  const back = alterTableShell(free, b, ga)
  if (!out || !back) return null
  const loose = loosened(ga, a.value)
  const whole = loose.flatMap(([key]) => [[key, ga.parts.get(key) ?? null] as const])
  return [
    ...out.map((x) => ({ ...x, says: 'is taken out for a moment', sets: [...x.sets, ...loose] })),
    ...back.map((x) => ({ ...x, says: 'is put in with its new bounds', late: true, sets: [...x.sets, ...whole] })),
  ]
}

/** Does it leave parents, and get none? Its columns and checks become its own (manual, ALTER TABLE, NO INHERIT). */
export const leavesParents = (a: Relation | undefined, b: Relation | undefined): boolean => {
  const stay = (p: RelationAddress) => a?.inherits.some((x) => isAddress(x, p)) === true
  return a !== undefined && b !== undefined && b.inherits.length < a.inherits.length && b.inherits.every(stay)
}

/** NO INHERIT of the parents that are gone; a column of several stays inherited while one of them has it. */
function leaving(a: PartOf<'table'>, b: PartOf<'table'>, ga: Ground): Alteration {
  const own = (p: PartOf<'column'> | PartOf<'check'>): Part => ({ ...p, value: { ...p.value, inherited: false } }) as Part
  const stay = b.value.inherits.flatMap((p) => ga.relation(p) ?? [])
  const inherited = (p: PartOf<'column'> | PartOf<'check'>) =>
    p.value.inherited && !stay.some((r) => (p.kind === 'column' ? r.columns : r.checks).some((x) => x.name === p.value.name))
  const sets = [...ga.parts].flatMap(([key, p]) =>
    (p.kind === 'column' || p.kind === 'check') && isAddress(p.on, a.value) && inherited(p) ? [[key, own(p)] as const] : [],
  )
  const gone = a.value.inherits.filter((p) => !b.value.inherits.some((x) => isAddress(x, p)))
  const say = (word: string) => gone.map((p) => `${pg.alterTable(a.value)} ${word} ${pg.quoteAddress(p)};`)
  const after: PartOf<'table'> = { kind: 'table', value: { ...a.value, inherits: b.value.inherits } }
  return {
    kind: 'table',
    says: `leaves ${gone.map(pg.quoteAddress).join(', ')}; its columns become its own`,
    up: work(
      say('NO INHERIT'),
      [lock(a.value, 'access exclusive'), ...gone.map((p) => lock(p, 'access share'))],
      [{ code: 'no-way-back', object: partText(a), because: 'on the way back its columns are both inherited and its own' }],
    ),
    down: say('INHERIT'),
    running: 'together',
    preChecks: [],
    sets: [[keyOf(a), after], ...sets],
  }
}

export function alterTableShell(a: PartOf<'table'>, b: PartOf<'table'>, ga: Ground): readonly Alteration[] | null {
  if (leavesParents(a.value, b.value)) {
    const rest = alterTableShell({ kind: 'table', value: { ...a.value, inherits: b.value.inherits } }, b, ga)
    return rest === null ? null : [leaving(a, b, ga), ...rest]
  }
  const fields = fieldsApart(a.value, b.value)
  if (!canStay(a.value, b.value, fields)) return null
  if (a.value.partitionOf && b.value.partitionOf && fields.includes('partitionOf')) return moveTable(a, b, ga)
  const table = pg.quoteAddress(a.value)
  const moved = fields.includes('partitionOf') || fields.includes('kind')
  const parents = moved ? [a.value.partitionOf, b.value.partitionOf].flatMap((p) => (p ? [p.parent] : [])) : []
  const strongest: LockMode = within(fields, ['comment', 'options']) ? 'share update exclusive' : 'access exclusive'
  const rewritten = fields.includes('unlogged') ? 'it is logged otherwise' : fields.includes('accessMethod') ? 'it is stored otherwise' : null
  const hazards: readonly Hazard[] = [
    ...(rewritten === null ? [] : [{ code: 'rewrites', object: table, because: rewritten } as const]),
    ...(b.value.partitionOf && moved ? [{ code: 'reads-all', object: table, because: 'its rows are tested against the bound' } as const] : []),
  ]
  const locks = [lock(a.value, strongest), ...parents.map((p) => lock(p, a.value.partitionOf ? 'access exclusive' : 'share update exclusive'))]
  return [inPlace(a, b, writeShell, locks, hazards)]
}

/** CREATE OR REPLACE VIEW keeps the columns there are and may add some behind them (manual, CREATE VIEW). */
export function alterView(a: PartOf<'view'>, b: PartOf<'view'>): readonly Alteration[] | null {
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
