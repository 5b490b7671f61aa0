// The migration between two Catalogs: what differs, in an order that works, with the way back (manual 5.14, Dependency Tracking).
import { type Catalog, canonicalText, compareCatalogs, compareText, hashText, isWritten, sortCatalog } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { type PlanResult, searchPathOf } from './baseline.ts'
import type { Conversions } from './conversion.ts'
import { groundOf, withTable } from './needs.ts'
import { type Change, changes, hangingOn, type Making } from './nodesBetween.ts'
import { orderByDependency } from './order.ts'
import { assemble, type HangingPart, hangingKey, hangs, keyOf, type Part, type Parts, partsOf, relationKey } from './parts.ts'
import { type Plan, type Step, searchPathSetting } from './plan.ts'
import { type Rename, renamed, renameProblem } from './renames.ts'
import { afterRefresh, partText } from './statements.ts'
import { statuses } from './status.ts'

export interface ChangeOptions {
  readonly title: string
  /** In the order in which they are carried out. */
  readonly renames?: readonly Rename[]
  readonly conversions?: Conversions
  /** Statements that were agreed to, each before the first step with the pre-check of that id. */
  readonly cleanings?: readonly { readonly check: string; readonly sql: string; readonly says: string }[]
}

export interface Changed {
  readonly plan: Plan
  /** The catalog that the plan leads to: the wished one, but for what `plan.leaves` tells. */
  readonly reaches: Catalog
}

export type ChangeResult = { readonly ok: true; readonly changed: Changed } | Extract<PlanResult, { ok: false }>

/** What is only true of a catalog as a whole, and is not part of a change. */
const comparable = (c: Catalog): Catalog => ({
  ...c,
  relations: c.relations.map((r) => ({ ...r, dependsOn: [] })),
  domains: c.domains.map((r) => ({ ...r, dependsOn: [] })),
  composites: c.composites.map((r) => ({ ...r, dependsOn: [] })),
  ranges: c.ranges.map((r) => ({ ...r, dependsOn: [] })),
  routines: c.routines.map((r) => ({ ...r, dependsOn: [] })),
  objects: c.objects.map((r) => ({ ...r, dependsOn: [] })),
  unmodelled: [],
})

/**
 * The plan from one PostgreSQL catalog to another. Equal catalogs give a plan without steps. Renames are those that are given and no
 * others. A cycle of needs is refused with its members. O(parts × needs + steps log steps).
 */
export function changePlan(from: Catalog, to: Catalog, o: ChangeOptions): ChangeResult {
  if (from.dialect !== 'postgresql' || to.dialect !== 'postgresql')
    return { ok: false, problem: { code: 'dialect', dialect: from.dialect === 'postgresql' ? to.dialect : from.dialect } }
  const start = sortCatalog(from)
  const end = sortCatalog(to)
  const first = renaming(start, o.renames ?? [])
  if ('problem' in first) return { ok: false, problem: { code: 'rename', because: first.problem } }
  const ga = groundOf(first.catalog, partsOf(first.catalog), o.conversions)
  const gb = groundOf(end, partsOf(end))
  const found = statuses(ga, gb)
  const stuck = [...found.of].flatMap(([key, s]) => {
    const part = gb.parts.get(key)
    return s.what === 'anew' && part?.kind === 'table' ? [{ object: partText(part), because: s.because }] : []
  })
  if (stuck.length > 0) return { ok: false, problem: { code: 'rebuild', tables: stuck } }
  const making = (deferred: ReadonlySet<string>): Making => ({ ga, gb, statuses: found, deferred, added: places(gb.parts) })
  let m = making(new Set())
  let list = changes(m)
  let ordered = order(list, m)
  if (!ordered.ok) {
    m = making(new Set(ordered.stuck.filter((c) => c.phase === 'make' && gb.parts.get(c.key)?.kind === 'table').map((c) => c.key)))
    list = changes(m)
    ordered = order(list, m)
  }
  if (!ordered.ok) return { ok: false, problem: { code: 'cycle', members: ordered.stuck.map((c) => `${c.object} ${c.says}`) } }
  const searchPath = isWritten(end) ? searchPathOf(end) : []
  const steps = numbered(cleaned([...first.changes, ...ordered.order], o.cleanings ?? []), searchPathSetting({ searchPath }, true))
  const parts = new Map<string, Part>(partsOf(start))
  for (const s of steps)
    for (const [key, p] of s.sets)
      if (p === null) parts.delete(key)
      else parts.set(key, p)
  const reaches = closed(assemble('postgresql', parts), end)
  return {
    ok: true,
    changed: {
      reaches,
      plan: {
        format: 'pelvok.plan/1',
        dialect: 'postgresql',
        title: o.title,
        from: hashText(canonicalText(start)),
        to: hashText(canonicalText(reaches)),
        searchPath,
        steps,
        notSupported: end.unmodelled.filter((u) => !start.unmodelled.some((w) => w.kind === u.kind && w.identity === u.identity)),
        leaves: compareCatalogs(comparable(end), comparable(reaches)).map((d) =>
          d.field.endsWith('columns order')
            ? `${d.object}: its columns stand in the order ${d.is}, not ${d.was}; no statement moves a column`
            : `${d.object} ${d.field}: stays ${d.is ?? 'absent'}, where ${d.was ?? 'nothing'} was wished`,
        ),
      },
    },
  }
}

/** Dependencies, and texts the server has printed, are those of the wished catalog where its parts are. */
function closed(reached: Catalog, end: Catalog): Catalog {
  const needs = new Map(end.relations.map((r) => [relationKey(r), r]))
  const kept = <T extends { readonly dependsOn: unknown }>(list: readonly T[], wished: readonly T[], name: (o: T) => string): readonly T[] => {
    const by = new Map(wished.map((o) => [name(o), o]))
    return list.map((o) => ({ ...o, dependsOn: by.get(name(o))?.dependsOn ?? o.dependsOn }))
  }
  const named = (o: { readonly schema: string; readonly name: string }) => `${o.schema}\u0000${o.name}`
  return sortCatalog({
    ...reached,
    relations: reached.relations.map((r) => ({ ...r, dependsOn: needs.get(relationKey(r))?.dependsOn ?? r.dependsOn })),
    domains: kept(reached.domains, end.domains, named),
    composites: kept(reached.composites, end.composites, named),
    ranges: kept(reached.ranges, end.ranges, named),
    routines: kept(reached.routines, end.routines, (r) => `${named(r)}(${r.argumentTypes})`),
    objects: kept(reached.objects, end.objects, (x) => `${x.kind}\u0000${named(x)}`),
    unmodelled: end.unmodelled,
  })
}

/** Where each column stands in its wished table. */
function places(parts: Parts): ReadonlyMap<string, number> {
  return new Map([...parts].flatMap(([key, p]) => (p.kind === 'column' ? [[key, p.place] as const] : [])))
}

/** Parts that are others after a change of the whole catalog. */
function partsApart(a: Parts, b: Parts): readonly (readonly [string, Part | null])[] {
  const text = (p: Part | undefined) => JSON.stringify(p ?? null)
  return [...new Set([...a.keys(), ...b.keys()])].flatMap((key) => (text(a.get(key)) === text(b.get(key)) ? [] : [[key, b.get(key) ?? null] as const]))
}

type Renaming = { readonly catalog: Catalog; readonly changes: readonly Change[] } | { readonly problem: string }

function renaming(start: Catalog, renames: readonly Rename[]): Renaming {
  let catalog = start
  const list: Change[] = []
  for (const r of renames) {
    const problem = renameProblem(catalog, r)
    if (problem !== null) return { problem }
    const next = sortCatalog(renamed(catalog, r))
    list.push(renameStep(catalog, next, r))
    catalog = next
  }
  return { catalog, changes: list }
}

function renameStep(before: Catalog, after: Catalog, r: Rename): Change {
  const table = r.of === 'relation' ? r.from : r.relation
  const relation = before.relations.find((x) => x.schema === table.schema && x.name === table.name)
  const word = relation ? pg.wordFor(relation) : 'TABLE'
  const column = (a: string, b: string) => [`${`ALTER ${word}`} ${pg.quoteAddress(table)} RENAME COLUMN ${pg.quoteIdent(a)} TO ${pg.quoteIdent(b)};`]
  const up = r.of === 'relation' ? pg.renameRelation(r.from, r.to, word) : column(r.from, r.to)
  const down = r.of === 'relation' ? pg.renameRelation(r.to, r.from, word) : column(r.to, r.from)
  return {
    key: '',
    phase: 'alter',
    rank: 0,
    kind: 'rename',
    object: r.of === 'relation' ? `${word.toLowerCase()} ${pg.quoteAddress(r.from)}` : `column ${pg.quoteAddress(table)}.${pg.quoteIdent(r.from)}`,
    says: `becomes ${r.of === 'relation' ? pg.quoteAddress(r.to) : pg.quoteIdent(r.to)}; rows stay`,
    up: {
      sql: up,
      locks: [{ relation: pg.quoteAddress(table), mode: 'access exclusive' }],
      hazards: [{ code: 'waits', object: pg.quoteAddress(table), what: 'statements that name it as it was fail from here on' }],
    },
    down,
    running: 'together',
    preChecks: [],
    probe: null,
    sets: partsApart(partsOf(before), partsOf(after)),
  }
}

/** Names that a part takes from others: of relations and indexes in a schema, of types in a schema, of constraints of a table. */
function takes(p: Part): readonly string[] {
  const inSchema = (schema: string, name: string) => `r\u0000${schema}\u0000${name}`
  const asType = (schema: string, name: string) => `t\u0000${schema}\u0000${name}`
  if (p.kind === 'table' || p.kind === 'view') return [inSchema(p.value.schema, p.value.name), asType(p.value.schema, p.value.name)]
  if (p.kind === 'sequence') return [inSchema(p.value.schema, p.value.name)]
  if (p.kind === 'enum' || p.kind === 'domain' || p.kind === 'range') return [asType(p.value.schema, p.value.name)]
  if (p.kind === 'composite') return [inSchema(p.value.schema, p.value.name), asType(p.value.schema, p.value.name)]
  if (p.kind === 'column') return p.value.identity?.sequence ? [inSchema(p.value.identity.sequence.schema, p.value.identity.sequence.name)] : []
  if (!hangs(p) || !('name' in p.value)) return []
  const ofTable = `c\u0000${p.on.schema}\u0000${p.on.name}\u0000${p.value.name}`
  if (p.kind === 'index') return [inSchema(p.on.schema, p.value.name)]
  if (p.kind === 'primary key' || p.kind === 'unique' || p.kind === 'exclusion') return [inSchema(p.on.schema, p.value.name), ofTable]
  return p.kind === 'check' || p.kind === 'reference' ? [ofTable] : []
}

interface Chain {
  drop: Change[]
  make: Change[]
  alter: Change[]
}

type Ordered = ReturnType<typeof orderByDependency<Change>>

/** Steps in an order in which each finds what it needs. */
function order(list: readonly Change[], m: Making): Ordered {
  const { ga, gb } = m
  const chains = new Map<string, Chain>()
  /** Where a part is made or dropped with another: the key that has the steps. */
  const where = new Map<string, string>()
  for (const c of list) {
    const chain = chains.get(c.key) ?? { drop: [], make: [], alter: [] }
    chains.set(c.key, chain)
    chain[c.phase === 'drop' || c.phase === 'aside' ? 'drop' : c.phase === 'make' ? 'make' : 'alter'].push(c)
    if (c.phase !== 'aside' && c.phase !== 'alter')
      for (const [key, p] of c.sets)
        if (key !== c.key && !where.has(`${p === null ? 'drop' : 'make'} ${key}`)) where.set(`${p === null ? 'drop' : 'make'} ${key}`, c.key)
  }
  const needs = new Map<Change, Set<Change>>(list.map((c) => [c, new Set()]))
  const behind = (later: Change | undefined, earlier: Change | undefined) => {
    if (later && earlier && later !== earlier) needs.get(later)?.add(earlier)
  }
  const made = (key: string) => chains.get(chains.get(key)?.make.length ? key : (where.get(`make ${key}`) ?? key))?.make ?? []
  const dropped = (key: string) => chains.get(chains.get(key)?.drop.length ? key : (where.get(`drop ${key}`) ?? key))?.drop ?? []
  const altered = (key: string) => chains.get(key)?.alter.filter((c) => c.phase === 'alter') ?? []
  /** The step after which a changed or new part can be used: of a column before its rows are checked for null, unless a key waits for that. */
  const usable = (steps: readonly Change[], by: Part | undefined, of: Part | undefined): Change | undefined => {
    // A partition, and what is made with it, can be used before it is attached.
    if (steps[0]?.kind === 'table') return steps[0]
    if (of?.kind !== 'column' || by?.kind === 'primary key') return steps.at(-1)
    const at = steps.findIndex((c) => c.running !== 'together')
    return at < 0 ? steps.at(-1) : (steps[Math.max(0, at - 1)] ?? steps[0])
  }

  for (const [key, chain] of chains) {
    const a = ga.parts.get(key)
    const b = gb.parts.get(key)
    // Within one part: dropped, made, changed, in the order of the list.
    const all = [...chain.drop, ...chain.make, ...chain.alter.filter((c) => c.phase === 'alter')]
    for (let i = 1; i < all.length; i += 1) behind(all[i], all[i - 1])
    const forget = chain.alter.find((c) => c.phase === 'forget')
    if (forget) {
      for (const [k, s] of m.statuses.of)
        if (s.what === 'alter' || s.what === 'anew' || s.what === 'drop')
          if (ga.parts.has(k) && ga.needsOf(ga.parts.get(k) as Part).includes(key)) {
            for (const c of [...dropped(k), ...altered(k)]) behind(forget, c)
          }
      behind(forget, chain.make.at(-1))
    }
    if (a) {
      for (const need of [...ga.needsOf(a), ...(chain.drop.length > 0 ? droppedNeeds(a, m) : [])]) {
        // Dropped before what it rests on is dropped or changed; changed before what it rested on is dropped.
        for (const c of chain.drop) {
          const below = dropped(need)[0]
          if (below !== c && !(below && c.key === below.key)) behind(below, c)
          behind(altered(need)[0], c)
        }
        const isAside = m.statuses.aside.has(need)
        if (!isAside) for (const c of chain.alter) if (c.phase === 'alter') behind(dropped(need)[0], c)
        const wanted = chains.get(need)?.alter.find((c) => c.phase === 'forget')
        for (const c of [...chain.drop, ...chain.alter]) behind(wanted, c)
        if (isAside) for (const c of chain.alter) behind(c, dropped(need)[0])
      }
    }
    if (b) {
      const steps = [...chain.make, ...chain.alter.filter((c) => c.phase === 'alter')]
      for (const need of [...gb.needsOf(b), ...insideNeeds(b, m)]) {
        const of = gb.parts.get(need)
        for (const c of steps) {
          if (!made(need).includes(c)) behind(c, usable(made(need), b, of))
          behind(c, usable(altered(need), b, of))
        }
      }
    }
  }
  for (const [later, earlier] of m.statuses.after) {
    const first = (key: string) => made(key)[0] ?? altered(key)[0]
    const last = (key: string) => (altered(key).length > 0 ? altered(key) : made(key).length > 0 ? made(key) : dropped(key)).at(-1)
    const l = first(later)
    const e = last(earlier)
    // Carried along: the steps of both are the same ones.
    if (l && e && l.key !== e.key) behind(l, e)
  }
  attachLast(list, m, made, behind)
  freeNames(list, m, behind)
  const ranked = list.map((c, i) => ({ c, i })).sort((x, y) => x.c.rank - y.c.rank || textOrder(x.c, y.c, m) || x.i - y.i)
  return orderByDependency(
    ranked.map((x) => x.c),
    (c) => needs.get(c) ?? [],
  )
}

/** What the parts need that are made within a new table. */
function insideNeeds(b: Part, m: Making): readonly string[] {
  if (b.kind === 'column') return [m.gb.parts.get(hangingKey('default', b.on, b.value.name))].flatMap((p) => (p ? m.gb.needsOf(p) : []))
  if (b.kind !== 'table' || m.statuses.of.get(keyOf(b))?.what !== 'make') return []
  const deferred = m.deferred.has(keyOf(b))
  const own = hangingOn(m.gb, b.value).filter((p) => withTable(p) && !(deferred && (p.kind === 'default' || p.kind === 'check')))
  return own.flatMap((p) => m.gb.needsOf(p)).filter((key) => !key.startsWith(`column\u0000${b.value.schema}\u0000${b.value.name}\u0000`))
}

/** What the parts need that are dropped with a relation or a column. */
function droppedNeeds(a: Part, m: Making): readonly string[] {
  const inside =
    a.kind === 'table' || a.kind === 'view'
      ? m.statuses.of.get(keyOf(a))?.what === 'drop'
        ? hangingOn(m.ga, a.value)
        : []
      : a.kind === 'column'
        ? [m.ga.parts.get(hangingKey('default', a.on, a.value.name))].filter((p) => p !== undefined)
        : []
  const own = a.kind === 'table' || a.kind === 'view' ? a.value : null
  return inside.flatMap((p) => m.ga.needsOf(p)).filter((key) => own === null || !key.startsWith(`column\u0000${own.schema}\u0000${own.name}\u0000`))
}

/** Columns in the order of their table, everything else by name: the same catalogs give the same steps. */
function textOrder(a: Change, b: Change, m: Making): number {
  const [x, y] = [m.gb.parts.get(a.key), m.gb.parts.get(b.key)]
  if (x?.kind === 'column' && y?.kind === 'column' && x.on.schema === y.on.schema && x.on.name === y.on.name) return x.place - y.place
  return compareText(a.key, b.key)
}

/**
 * A new partition is attached when its indexes are there and its parent has the columns and rules it is to have, and before its parent
 * gets indexes; one that is dropped goes before its parent is changed.
 */
function attachLast(
  list: readonly Change[],
  m: Making,
  made: (key: string) => readonly Change[],
  behind: (later: Change | undefined, earlier: Change | undefined) => void,
): void {
  const byTable = new Map<string, { readonly part: HangingPart; readonly change: Change }[]>()
  for (const c of list) {
    const part = m.gb.parts.get(c.key) ?? m.ga.parts.get(c.key)
    if (!part || !hangs(part)) continue
    const key = relationKey(part.on)
    byTable.set(key, [...(byTable.get(key) ?? []), { part, change: c }])
  }
  const on = (key: string) => byTable.get(key) ?? []
  for (const c of list) {
    if (c.phase === 'drop') {
      const gone = m.ga.parts.get(c.key)
      if (gone?.kind === 'table' && gone.value.partitionOf) for (const x of on(relationKey(gone.value.partitionOf.parent))) behind(x.change, c)
      continue
    }
    const p = m.gb.parts.get(c.key)
    if (p?.kind !== 'table' || !p.value.partitionOf || c.phase !== 'make' || !c.says.startsWith('becomes')) continue
    const parent = relationKey(p.value.partitionOf.parent)
    for (const x of on(c.key)) if (x.part.kind === 'index' && x.change.phase === 'make') behind(c, x.change)
    for (const x of on(parent)) {
      if (x.part.kind === 'column' || x.part.kind === 'check') behind(c, x.change)
      else if (x.change.phase === 'make' && (x.part.kind === 'index' || x.part.kind === 'reference' || x.part.kind === 'trigger')) behind(x.change, c)
    }
    behind(c, made(parent)[0])
  }
}

/** A name is taken once it is free. */
function freeNames(list: readonly Change[], m: Making, behind: (later: Change, earlier: Change) => void): void {
  const freed = new Map<string, { readonly by: Change; readonly key: string }[]>()
  for (const c of list)
    for (const [key, p] of c.sets) {
      const was = p === null ? m.ga.parts.get(key) : undefined
      if (was) for (const name of takes(was)) freed.set(name, [...(freed.get(name) ?? []), { by: c, key }])
    }
  for (const c of list) {
    if (c.phase !== 'make') continue
    for (const [key, p] of c.sets)
      if (p) for (const name of takes(p)) for (const f of freed.get(name) ?? []) if (f.by !== c && f.key !== key && f.by.key !== c.key) behind(c, f.by)
  }
}

/** Rows are cleaned before the step that they would stop; what the step asked beforehand is answered by that, and is not asked any more. */
function cleaned(list: readonly Change[], cleanings: NonNullable<ChangeOptions['cleanings']>): readonly Change[] {
  if (cleanings.length === 0) return list
  return list.flatMap((c) => {
    const own = cleanings.filter((k) => c.preChecks.some((p) => p.id === k.check))
    if (own.length === 0) return [c]
    const steps = own.map(
      (k): Change => ({
        key: '',
        phase: 'alter',
        rank: 0,
        kind: 'rows',
        object: `rows before ${c.object}`,
        says: k.says,
        up: {
          sql: [k.sql],
          locks: [],
          hazards: [
            { code: 'loses-data', object: `rows before ${c.object}`, what: k.says },
            { code: 'no-way-back', object: `rows before ${c.object}`, because: 'what the rows held is not kept' },
          ],
        },
        down: [],
        running: 'alone',
        preChecks: [],
        probe: null,
        sets: [],
      }),
    )
    return [...steps, { ...c, preChecks: c.preChecks.filter((p) => !own.some((k) => k.check === p.id)) }]
  })
}

/** Steps with their numbers, and consecutive ones that may in one transaction. */
function numbered(list: readonly Change[], path: string): readonly Step[] {
  // What fills a materialized view ran under the reader's own search path.
  const placed = (sql: readonly string[]) => sql.map((text) => (text === afterRefresh ? path : text))
  let transaction = 0
  let open = false
  return list.map((c, i): Step => {
    if (c.running === 'together' && !open) transaction += 1
    if (c.running === 'alone') transaction += 1
    open = c.running === 'together'
    return {
      number: i + 1,
      kind: c.kind,
      object: c.object,
      says: c.says,
      up: placed(c.up.sql),
      down: placed(c.down),
      transaction: c.running === 'outside' ? null : transaction,
      locks: merged(c.up.locks),
      hazards: c.up.hazards,
      preChecks: c.preChecks,
      probe: c.probe,
      sets: c.sets,
    }
  })
}

/** One lock per relation, the strongest. */
function merged(locks: Step['locks']): Step['locks'] {
  return locks.filter((l, i) => !locks.some((o, j) => o.relation === l.relation && (stronger(o.mode, l.mode) || (o.mode === l.mode && j < i))))
}

const strength = ['access share', 'row share', 'row exclusive', 'share update exclusive', 'share', 'share row exclusive', 'exclusive', 'access exclusive']
const stronger = (a: string, b: string) => strength.indexOf(a) > strength.indexOf(b)
