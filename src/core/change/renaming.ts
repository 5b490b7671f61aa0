// What a plan does first: objects get their new names, and numbers that are counted go on from where they are.
import { type Catalog, isAddress, type RelationAddress, sortCatalog } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { freeName } from './freeName.ts'
import { handovers } from './handovers.ts'
import { type Part, partsApart, partsOf } from './parts.ts'
import { isTaken, nameBefore, type Rename, renamed, renameProblem, resolvedRename } from './renames.ts'
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
  const handed = handovers(x.catalog, end)
  x.changes.push(...handed.changes)
  x.catalog = handed.catalog
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

const isThere = (c: Catalog, r: Rename): boolean =>
  'relation' in r
    ? c.relations.some((x) => isAddress(r.relation, x) && x.columns.some((k) => k.name === r.from)) ||
      c.enums.some((e) => isAddress(r.relation, e) && e.labels.includes(r.from))
    : isTaken(c, r.from)

/** Does the one take away what has the name that the other gives? */
const frees = (a: Rename, b: Rename): boolean =>
  'relation' in a ? 'relation' in b && isAddress(a.relation, b.relation) && a.from === b.to : !('relation' in b) && isAddress(a.from, b.to)

function byPassingName(r: Rename, c: Catalog): readonly [Rename, Rename] {
  if ('relation' in r) {
    const over = freeName(r.from, 'passing', (n) => isThere(c, { ...r, from: n }))
    return [
      { ...r, to: over },
      { ...r, from: over },
    ]
  }
  const over = { schema: r.from.schema, name: freeName(r.from.name, 'passing', (n) => isTaken(c, { schema: r.from.schema, name: n })) }
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
