// What a plan does first: objects get their new names, and numbers that are counted go on from where they are.
import { type Catalog, type Column, type Relation, type RelationAddress, type Sequence, sortCatalog } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { type Part, type Parts, partsOf } from './parts.ts'
import { isTaken, nameBefore, type Rename, renamed, renameProblem, resolvedRename } from './renames.ts'
import { isAddress } from './rewriteTexts.ts'
import { work } from './statements.ts'
import { type Change, change } from './step.ts'

export interface Renaming {
  readonly catalog: Catalog
  readonly changes: readonly Change[]
  /** All that were carried out, in order, with those by way of a passing name. */
  readonly renames: readonly Rename[]
}

/**
 * The catalog under its new names, with the steps that lead there: the given renames, in an order in which each name is free; the schemas that
 * tables move to; sequences that count for the same column under another name or as another kind.
 */
export function renaming(start: Catalog, end: Catalog, renames: readonly Rename[]): Renaming | { readonly problem: string } {
  const x: Going = { catalog: start, changes: [], done: [] }
  let waiting = [...renames]
  for (let r = waiting.shift(); r; r = waiting.shift()) {
    const problem = renameProblem(x.catalog, r)
    if (problem === null) {
      carryOut(x, r, end)
      continue
    }
    const blocker = waiting.find((w) => frees(w, r as Rename))
    if (!blocker || !isThere(x.catalog, r)) return { problem }
    if (renameProblem(x.catalog, blocker) === null) waiting = [blocker, r, ...waiting.filter((w) => w !== blocker)]
    else {
      // Two names are exchanged: one of them goes by a third.
      const [away, back] = byPassingName(r, x.catalog)
      carryOut(x, away, end)
      waiting = waiting.flatMap((w) => (w === blocker ? [w, back] : [w]))
    }
  }
  for (const h of handovers(x.catalog, end)) {
    x.changes.push(handoverStep(x.catalog, h))
    x.catalog = h.after
  }
  for (const r of followers(x.catalog, end)) carryOut(x, r, end)
  return { catalog: x.catalog, changes: x.changes, renames: x.done }
}

/** Rows are asked before the plan runs: pre-checks name tables and columns as they are called then. */
export function namesBefore(renames: readonly Rename[]): (c: Change) => Change {
  if (renames.length === 0) return (c) => c
  const back = (text: string) => renames.toReversed().reduce((now, r) => nameBefore(now, r), text)
  return (c) => ({
    ...c,
    // A cleaning is a step among the others: it finds the new names.
    preChecks: c.preChecks.map((p) => ({ ...p, count: back(p.count), sample: back(p.sample) })),
  })
}

interface Going {
  catalog: Catalog
  readonly changes: Change[]
  readonly done: Rename[]
}

function carryOut(x: Going, rename: Rename, end: Catalog): void {
  const r = resolvedRename(x.catalog, rename)
  if (!('relation' in r) && !x.catalog.schemas.some((s) => s.name === r.to.schema)) makeSchema(x, r.to.schema, end)
  const next = sortCatalog(renamed(x.catalog, r))
  x.changes.push(renameStep(x.catalog, next, r))
  x.catalog = next
  x.done.push(r)
}

/** The schema that something moves to is made before, and goes after that is back. */
function makeSchema(x: Going, name: string, end: Catalog): void {
  const value = end.schemas.find((s) => s.name === name)
  if (!value) return
  const next = sortCatalog({ ...x.catalog, schemas: [...x.catalog.schemas, value] })
  const [[key, part]] = partsApart(partsOf(x.catalog), partsOf(next)) as [readonly [string, Part]]
  x.changes.push(change(part, 'make', 0, 'is made', work(pg.schemaDdl(value).up), pg.schemaDdl(value).down, [[key, part]]))
  x.catalog = next
}

/** Parts that are others after a change of the whole catalog. */
function partsApart(a: Parts, b: Parts): readonly (readonly [string, Part | null])[] {
  const text = (p: Part | undefined) => JSON.stringify(p ?? null)
  return [...new Set([...a.keys(), ...b.keys()])].flatMap((key) => (text(a.get(key)) === text(b.get(key)) ? [] : [[key, b.get(key) ?? null] as const]))
}

const isThere = (c: Catalog, r: Rename): boolean =>
  'relation' in r
    ? c.relations.some((x) => isAddress(r.relation, x) && x.columns.some((k) => k.name === r.from)) ||
      c.enums.some((e) => isAddress(r.relation, e) && e.labels.includes(r.from))
    : isTaken(c, r.from)

/** Does the one take away what has the name that the other gives? */
const frees = (a: Rename, b: Rename): boolean =>
  'relation' in a ? 'relation' in b && isAddress(a.relation, b.relation) && a.from === b.to : !('relation' in b) && isAddress(a.from, b.to)

function byPassingName(r: Rename, c: Catalog): readonly [Rename, Rename] {
  const passing = (name: string, isFree: (n: string) => boolean): string => {
    const short = [...name].slice(0, 40).join('')
    for (let n = 0; ; n += 1) if (isFree(`${short}_passing${n === 0 ? '' : n}`)) return `${short}_passing${n === 0 ? '' : n}`
  }
  if ('relation' in r) {
    const over = passing(r.from, (n) => !isThere(c, { ...r, from: n }))
    return [
      { ...r, to: over },
      { ...r, from: over },
    ]
  }
  const over = { schema: r.from.schema, name: passing(r.from.name, (n) => !isTaken(c, { schema: r.from.schema, name: n })) }
  return [
    { ...r, to: over },
    { ...r, from: over },
  ]
}

function renameStep(before: Catalog, after: Catalog, r: Rename): Change {
  const { object, says, up, down, locked, waits } = renameSql(before, r)
  return {
    key: '',
    phase: 'alter',
    rank: 0,
    kind: 'rename',
    object,
    says,
    up: {
      sql: up,
      locks: locked === null ? [] : [{ relation: locked, mode: r.of === 'index' ? 'share update exclusive' : 'access exclusive' }],
      hazards: waits === null ? [] : [{ code: 'waits', object: waits, what: 'statements that name it as it was fail from here on' }],
    },
    down,
    running: 'together',
    preChecks: [],
    probe: null,
    sets: partsApart(partsOf(before), partsOf(after)),
  }
}

interface RenameSql {
  readonly object: string
  readonly says: string
  readonly up: readonly string[]
  readonly down: readonly string[]
  readonly locked: string | null
  readonly waits: string | null
}

function renameSql(c: Catalog, r: Rename): RenameSql {
  if (r.of === 'value') {
    const type = pg.quoteAddress(r.relation)
    const sql = (a: string, b: string) => [`ALTER TYPE ${type} RENAME VALUE ${pg.quoteLiteral(a)} TO ${pg.quoteLiteral(b)};`]
    const says = `value ${pg.quoteLiteral(r.from)} becomes ${pg.quoteLiteral(r.to)}; no row is written`
    return { object: `type ${type}`, says, up: sql(r.from, r.to), down: sql(r.to, r.from), locked: null, waits: `${type}, value ${pg.quoteLiteral(r.from)}` }
  }
  const table = 'relation' in r ? r.relation : r.from
  const relation = c.relations.find((x) => isAddress(table, x))
  const word = r.of === 'sequence' ? 'SEQUENCE' : r.of === 'index' ? 'INDEX' : relation ? pg.wordFor(relation) : 'TABLE'
  const name = pg.quoteAddress(table)
  if (r.of === 'column') {
    const sql = (a: string, b: string) => [`ALTER ${word} ${name} RENAME COLUMN ${pg.quoteIdent(a)} TO ${pg.quoteIdent(b)};`]
    const object = `column ${name}.${pg.quoteIdent(r.from)}`
    return { object, says: `becomes ${pg.quoteIdent(r.to)}; rows stay`, up: sql(r.from, r.to), down: sql(r.to, r.from), locked: name, waits: name }
  }
  const kept = r.of === 'sequence' ? 'it counts on from where it is' : r.of === 'index' ? 'nothing is built' : 'rows stay'
  return {
    object: `${word.toLowerCase()} ${name}`,
    says: `becomes ${pg.quoteAddress(r.to)}; ${kept}`,
    up: pg.renameRelation(r.from, r.to, word),
    down: pg.renameRelation(r.to, r.from, word),
    locked: name,
    // No statement of an application names an index.
    waits: r.of === 'index' ? null : name,
  }
}

/** A column whose numbers come from a sequence of its own, as a default before and as its identity after, or the other way round. */
interface Handover {
  readonly after: Catalog
  readonly table: Relation
  readonly column: Column
  readonly sequence: Sequence
  readonly identity: NonNullable<Column['identity']>
  readonly toIdentity: boolean
}

const nextOf = (s: RelationAddress): string => `nextval(${pg.quoteLiteral(pg.quoteAddress(s))}::regclass)`

/** Is it the plain default of a serial column? */
const counts = (c: Column, s: RelationAddress): boolean => {
  const text = c.default?.canonical ?? c.default?.written ?? ''
  return [nextOf(s), nextOf(s).replace('::regclass', ''), `nextval(${pg.quoteLiteral(s.name)})`, `nextval(${pg.quoteLiteral(s.name)}::regclass)`].includes(text)
}

const ownedOf = (c: Catalog, r: Relation, column: Column): Sequence | undefined =>
  c.sequences.find((s) => s.ownedBy?.schema === r.schema && s.ownedBy.table === r.name && s.ownedBy.column === column.name && counts(column, s))

function* handovers(start: Catalog, end: Catalog): Generator<Handover> {
  let c = start
  for (const was of start.relations) {
    const will = end.relations.find((x) => isAddress(was, x))
    if (!will || was.partitionOf || will.kind !== was.kind) continue
    for (const x of was.columns) {
      const y = will.columns.find((k) => k.name === x.name)
      const h = y && handover(c, end, was, x, will, y)
      if (!h) continue
      c = h.after
      yield h
    }
  }
}

function handover(c: Catalog, end: Catalog, was: Relation, x: Column, will: Relation, y: Column): Handover | null {
  const withColumn = (value: Partial<Column>): readonly Relation[] =>
    c.relations.map((r) => (isAddress(r, was) ? { ...r, columns: r.columns.map((k) => (k.name === x.name ? { ...k, ...value } : k)) } : r))
  if (x.identity === null && y.identity?.sequence) {
    const sequence = ownedOf(c, was, x)
    // A column that accepts null cannot be an identity column; one that others count by as well stays.
    const alone = sequence && c.relations.flatMap((r) => r.columns).filter((k) => (k.default?.written ?? '').includes(sequence.name)).length === 1
    if (!sequence || !alone || x.nullable || end.sequences.some((s) => isAddress(s, sequence))) return null
    const identity = { ...y.identity, sequence: { schema: sequence.schema, name: sequence.name }, options: sequence.options, comment: sequence.comment }
    const sequences = c.sequences.filter((s) => s !== sequence)
    return {
      after: sortCatalog({ ...c, sequences, relations: withColumn({ default: null, identity }) }),
      table: was,
      column: x,
      sequence,
      identity,
      toIdentity: true,
    }
  }
  const now = x.identity?.sequence
  if (!x.identity || !now || !x.identity.options || y.identity !== null || !ownedOf(end, will, y)) return null
  const sequence: Sequence = {
    ...now,
    options: x.identity.options,
    unlogged: was.unlogged,
    ownedBy: { schema: was.schema, table: was.name, column: x.name },
    comment: x.identity.comment,
  }
  const text = nextOf(sequence)
  const relations = withColumn({ identity: null, default: { written: text, canonical: text } })
  const after = sortCatalog({ ...c, sequences: [...c.sequences, sequence], relations })
  return { after, table: was, column: x, sequence, identity: x.identity, toIdentity: false }
}

/** The old one waits under a passing name until the new one has its position. */
function handoverStep(before: Catalog, h: Handover): Change {
  const table = pg.quoteAddress(h.table)
  const column = `${pg.alterTable(h.table, true)} ALTER COLUMN ${pg.quoteIdent(h.column.name)}`
  const name = pg.quoteAddress(h.sequence)
  const [away] = byPassingName({ of: 'sequence', from: h.sequence, to: h.sequence }, before)
  const passing = (away as Extract<Rename, { of: 'sequence' }>).to
  const waits = pg.quoteAddress(passing)
  const position = (to: string, from: string) => `SELECT pg_catalog.setval(${pg.quoteLiteral(to)}, last_value, is_called) FROM ${from};`
  const said = (comment: string | null) => (comment === null ? [] : [pg.setComment(`SEQUENCE ${name}`, comment)])
  const identityFrom = [
    `${column} DROP DEFAULT;`,
    `ALTER SEQUENCE ${name} OWNED BY NONE;`,
    `ALTER SEQUENCE ${name} RENAME TO ${pg.quoteIdent(passing.name)};`,
    `${column} ADD ${pg.identityClause(h.identity)};`,
    position(name, waits),
    `DROP SEQUENCE ${waits};`,
    ...said(h.identity.comment),
  ]
  const serialFrom = [
    ...pg.sequenceDdl({ ...h.sequence, ...passing, comment: null }).up,
    position(waits, name),
    `${column} DROP IDENTITY;`,
    `ALTER SEQUENCE ${waits} RENAME TO ${pg.quoteIdent(h.sequence.name)};`,
    ...pg.sequenceOwnerDdl(h.sequence).up,
    `${column} SET DEFAULT ${nextOf(h.sequence)};`,
    ...said(h.sequence.comment),
  ]
  return {
    key: '',
    phase: 'alter',
    rank: 0,
    kind: 'column',
    object: `column ${table}.${pg.quoteIdent(h.column.name)}`,
    says: `${h.toIdentity ? 'becomes an identity column' : 'counts by a sequence of its own'}; numbers go on from where they are`,
    up: { sql: h.toIdentity ? identityFrom : serialFrom, locks: [{ relation: table, mode: 'access exclusive' }], hazards: [] },
    down: h.toIdentity ? serialFrom : identityFrom,
    running: 'together',
    preChecks: [],
    probe: null,
    sets: partsApart(partsOf(before), partsOf(h.after)),
  }
}

/** Sequences that count for the same column under another name: nobody needs to be asked whether they are the same. */
function followers(c: Catalog, end: Catalog): readonly Rename[] {
  const free = (to: RelationAddress) => !isTaken(c, to)
  const owned = c.sequences.flatMap((s): readonly Rename[] => {
    const owner = s.ownedBy
    if (!owner || end.sequences.some((e) => isAddress(e, s))) return []
    const e = end.sequences.find((x) => x.ownedBy && x.schema === s.schema && JSON.stringify(x.ownedBy) === JSON.stringify(owner))
    return e && free(e) ? [{ of: 'sequence', from: { schema: s.schema, name: s.name }, to: { schema: e.schema, name: e.name } }] : []
  })
  const identities = c.relations.flatMap((r) => {
    const will = end.relations.find((x) => isAddress(r, x))
    return r.columns.flatMap((x): readonly Rename[] => {
      const [from, to] = [x.identity?.sequence, will?.columns.find((k) => k.name === x.name)?.identity?.sequence]
      return from && to && from.schema === to.schema && from.name !== to.name && free(to) ? [{ of: 'sequence', from, to }] : []
    })
  })
  return [...owned, ...identities]
}
