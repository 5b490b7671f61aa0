// The migration from an empty database to a Catalog, in dependency order, with the way back.
import { type Catalog, canonicalText, type Dependency, emptyCatalog, hashText, isWritten, type Relation, sortCatalog } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { definedNode, keyOf, lastKinds, type Node, schemaKey, withShells } from './nodes.ts'
import { orderByDependency } from './order.ts'
import type { Hazard, Plan, Step, StepKind } from './plan.ts'

export type PlanResult = { readonly ok: true; readonly plan: Plan } | { readonly ok: false; readonly problem: PlanProblem }

/** Why there is no plan. */
export type PlanProblem =
  | { readonly code: 'cycle'; readonly members: readonly string[] }
  /** Migrations are written for PostgreSQL so far. */
  | { readonly code: 'dialect'; readonly dialect: Catalog['dialect'] }
  | { readonly code: 'rename'; readonly because: string }
  /** Types whose own functions need them: made in two steps, which only a baseline does. */
  | { readonly code: 'two steps'; readonly objects: readonly string[] }
  /** Columns whose values nobody can turn into those of the other type. */
  | { readonly code: 'values'; readonly columns: readonly { readonly object: string; readonly from: string; readonly to: string }[] }
  /** Tables that no statement turns into what is wished. */
  | { readonly code: 'rebuild'; readonly tables: readonly { readonly object: string; readonly because: string }[] }

export function describePlanProblem(p: PlanProblem): string {
  switch (p.code) {
    case 'cycle':
      return `no order of steps exists; these need each other: ${p.members.join(' -> ')}`
    case 'dialect':
      return `migrations are written for PostgreSQL so far, and this schema is of ${p.dialect === 'mysql' ? 'MySQL or MariaDB' : 'SQLite'}`
    case 'rename':
      return `a rename cannot be carried out: ${p.because}`
    case 'two steps':
      return `${p.objects.join(', ')} cannot be made, changed or dropped by a plan: its functions need it as much as it needs them, which only a baseline knows how to make`
    case 'values':
      return `nothing tells what values become: ${p.columns.map((c) => `${c.object} from ${c.from} to ${c.to}`).join('; ')}. Ask for the change of its type with an expression over the column, both ways`
    case 'rebuild':
      return `no statement changes ${p.tables.map((t) => `${t.object} (${t.because})`).join(', ')}: its rows would have to be copied, and with its place among other tables a plan does not do that`
    default:
      return unreachable(p)
  }
}

function unreachable(p: never): never {
  throw new Error(`a plan problem of no known code: ${JSON.stringify(p)}`)
}

/** A script's own texts name things as they please: the schema a database begins with comes first. */
export const searchPathOf = (c: Catalog): readonly string[] => c.schemas.map((s) => s.name).sort((a, b) => Number(b === 'public') - Number(a === 'public'))

const isTable = (r: Relation) => r.kind !== 'view' && r.kind !== 'materialized view'
const tableKey = (r: { readonly schema: string; readonly name: string }) => `relation ${r.schema}.${r.name}`

/** Languages whose functions load code into the server: only superusers create them (manual, CREATE FUNCTION, Notes; 42.1). */
const untrusted = new Set(['c', 'internal'])

/** Everything that can be needed by something else, in the order in which it is made where nothing forces another. */
function makers(c: Catalog, deferred: ReadonlySet<string>): readonly Node[] {
  const node = (kind: StepKind, key: string, object: string, needs: readonly string[], ddl: pg.Ddl, hazards: readonly Hazard[] = []): Node => ({
    kind,
    key,
    object,
    needs,
    up: ddl.up,
    down: ddl.down,
    hazards,
  })
  const inSchema = (o: { readonly schema: string; readonly dependsOn?: readonly Dependency[] }) => [schemaKey(o.schema), ...(o.dependsOn ?? []).map(keyOf)]
  const text = (o: { readonly schema: string; readonly name: string }) => pg.quoteAddress(o)
  const was = emptyCatalog(c.dialect)
  return [
    ...c.schemas.map((s) => {
      const existing = was.schemas.find((w) => w.name === s.name)
      return node(
        'schema',
        schemaKey(s.name),
        `schema ${pg.quoteIdent(s.name)}`,
        [],
        existing ? pg.publicSchemaDdl(existing.comment, s.comment) : pg.schemaDdl(s),
      )
    }),
    ...c.extensions.map((e) =>
      node(
        'extension',
        keyOf({ kind: 'extension', schema: '', name: e.name }),
        `extension ${pg.quoteIdent(e.name)}`,
        [schemaKey(e.schema)],
        pg.extensionDdl(e),
        [{ code: 'needs-extension-files', object: `extension ${e.name}`, version: e.version }],
      ),
    ),
    ...c.enums.map((t) => node('type', keyOf({ ...t, kind: 'type' }), `type ${text(t)}`, [schemaKey(t.schema)], pg.enumDdl(t))),
    ...c.objects.filter((o) => !lastKinds.has(o.kind)).map(definedNode),
    ...c.ranges.map((t) => node('type', keyOf({ kind: 'type', schema: t.schema, name: t.name }), `range type ${text(t)}`, inSchema(t), pg.rangeDdl(t))),
    ...c.composites.map((t) => node('type', keyOf({ ...t, kind: 'type' }), `type ${text(t)}`, inSchema(t), pg.compositeDdl(t))),
    ...c.domains.map((d) => node('type', keyOf({ ...d, kind: 'type' }), `domain ${text(d)}`, inSchema(d), pg.domainDdl(d))),
    ...c.sequences.map((s) => node('sequence', keyOf({ ...s, kind: 'sequence' }), `sequence ${text(s)}`, [schemaKey(s.schema)], pg.sequenceDdl(s))),
    ...c.routines.map((r) =>
      node(
        'routine',
        keyOf({ kind: 'routine', schema: r.schema, name: `${r.name}(${r.argumentTypes})` }),
        `${r.kind} ${text(r)}(${r.argumentTypes})`,
        inSchema(r),
        pg.routineDdl(r),
        untrusted.has(r.language)
          ? [{ code: 'needs-superuser', object: `${r.kind} ${text(r)}`, because: `its language "${r.language}" is not a trusted one` }]
          : [],
      ),
    ),
    ...c.relations.filter(isTable).flatMap((r) => tableNodes(r, c.relations, deferred.has(tableKey(r)))),
    ...c.relations
      .filter((r) => r.kind === 'view' || r.kind === 'materialized view')
      .map((r) =>
        node('view', tableKey(r), `${r.kind} ${text(r)}`, inSchema(r), {
          up: [pg.createView(r), ...(r.kind === 'view' ? pg.viewDefaults(r) : []), ...pg.relationComments(r)],
          down: [pg.dropRelation(r)],
        }),
      ),
  ]
}

/** One table; in a cycle its defaults and checks follow as a node of their own. */
function tableNodes(r: Relation, all: readonly Relation[], deferred: boolean): readonly Node[] {
  const object = `${r.foreign ? 'foreign table' : 'table'} ${pg.quoteAddress(r)}`
  const needs = r.dependsOn.map(keyOf)
  const early = deferred ? r.dependsOn.filter((d) => d.kind !== 'routine' && d.kind !== 'sequence' && d.kind !== 'relation').map(keyOf) : needs
  const parent = [...(r.partitionOf ? [r.partitionOf.parent] : []), ...r.inherits].map(tableKey)
  const parents = all.filter((p) => r.inherits.some((x) => x.schema === p.schema && x.name === p.name))
  const server = r.foreign ? [keyOf({ kind: 'server', schema: '', name: pg.quoteIdent(r.foreign.server) })] : []
  const later = { defaultsAndChecks: deferred }
  const table: Node = {
    kind: 'table',
    key: tableKey(r),
    object,
    needs: [schemaKey(r.schema), ...early, ...parent, ...server],
    up: [
      pg.createTable(r, later),
      ...pg.attachPartition(r),
      ...pg.inheritedColumns(r, parents),
      ...pg.tableSettings(r),
      ...(deferred ? [] : pg.relationComments(r)),
    ],
    down: [pg.dropRelation(r)],
    hazards: movedColumns(r, object),
  }
  if (!deferred) return [table]
  return [
    table,
    {
      kind: 'defaults',
      key: `defaults ${r.schema}.${r.name}`,
      object: `defaults of ${object}`,
      needs: [tableKey(r), ...needs],
      up: [...pg.addDeferred(r), ...pg.relationComments(r)],
      down: dropDeferred(r),
      hazards: [],
    },
  ]
}

/** INHERITS puts the parents' columns first, and no statement moves a column. */
function movedColumns(r: Relation, object: string): readonly Hazard[] {
  const own = r.columns.findIndex((c) => !c.inherited)
  const late = r.columns.filter((c, i) => c.inherited && own >= 0 && i > own)
  if (r.inherits.length === 0 || late.length === 0) return []
  return [
    {
      code: 'not-carried',
      object,
      what: `its inherited columns ${late.map((c) => c.name).join(', ')} stand behind its own ones in the source; here they come first`,
    },
  ]
}

function dropDeferred(r: Relation): readonly string[] {
  const alter = `ALTER TABLE ${pg.quoteAddress(r)}`
  return [
    ...r.checks.filter((c) => c.validated && !c.inherited).map((c) => `${alter} DROP CONSTRAINT ${pg.quoteIdent(c.name)};`),
    ...r.columns.flatMap((c) => (c.default ? [`${alter} ALTER COLUMN ${pg.quoteIdent(c.name)} DROP DEFAULT;`] : [])),
  ]
}

/**
 * What nothing else needs to exist, after everything is made. Indexes of partitions follow those of their parents, so
 * that they can be attached; references come last among constraints, which is what lets tables refer to each other in
 * a cycle (a knot); triggers and rules must not fire while the rest is made; materialized views are filled at the end.
 */
function followers(c: Catalog): readonly Node[] {
  const tables = c.relations.filter(isTable)
  const node = (kind: StepKind, object: string, up: readonly string[], down: readonly string[], hazards: readonly Hazard[] = []): Node => ({
    kind,
    key: '',
    object,
    needs: [],
    up,
    down,
    hazards,
  })
  const depth = (r: Relation): number => {
    const parent = r.partitionOf && tables.find((t) => t.schema === r.partitionOf?.parent.schema && t.name === r.partitionOf.parent.name)
    return parent ? 1 + depth(parent) : 0
  }
  const parentsFirst = tables.some((t) => t.partitionOf)
    ? tables
        .map((t, i) => ({ t, i, d: depth(t) }))
        .sort((a, b) => a.d - b.d || a.i - b.i)
        .map((x) => x.t)
    : tables
  const indexed = [...parentsFirst, ...c.relations.filter((r) => r.kind === 'materialized view')]
  const dropIndex = (r: Relation, name: string) => `DROP INDEX ${pg.quoteAddress({ schema: r.schema, name })};`
  return [
    ...c.sequences
      .filter((s) => s.ownedBy)
      .map((s) => {
        const ddl = pg.sequenceOwnerDdl(s)
        return node('owner', `owner of sequence ${pg.quoteAddress(s)}`, ddl.up, ddl.down)
      }),
    ...indexed.flatMap((r) =>
      r.indexes.map((x) =>
        node(
          'index',
          `index ${pg.quoteAddress({ schema: r.schema, name: x.name })}`,
          [...pg.createIndex(r, x), ...pg.attachIndex(r, x), ...pg.indexComment(r, x)],
          x.attachedTo === null ? [dropIndex(r, x.name)] : [],
        ),
      ),
    ),
    ...tables
      .filter((r) => r.replicaIdentity.kind === 'index')
      .map((r) =>
        node('index', `replica identity of ${pg.quoteAddress(r)}`, pg.replicaIndex(r), [`ALTER TABLE ONLY ${pg.quoteAddress(r)} REPLICA IDENTITY DEFAULT;`]),
      ),
    ...tables.flatMap((r) =>
      r.exclusions.map((x) =>
        node('exclusion', `exclusion ${pg.quoteIdent(x.name)} of ${pg.quoteAddress(r)}`, pg.addExclusion(r, x), [
          `ALTER TABLE ${pg.quoteAddress(r)} DROP CONSTRAINT ${pg.quoteIdent(x.name)};`,
        ]),
      ),
    ),
    ...tables.flatMap((r) =>
      r.foreignKeys.map((f) =>
        node(
          'reference',
          `foreign key ${pg.quoteIdent(f.name)} of ${pg.quoteAddress(r)}`,
          [pg.addForeignKey(r, f), ...pg.partComment('CONSTRAINT', r, f)],
          [`ALTER TABLE ${pg.quoteAddress(r)} DROP CONSTRAINT ${pg.quoteIdent(f.name)};`],
          f.enforced
            ? []
            : [
                {
                  code: 'not-carried',
                  object: `foreign key ${f.name}`,
                  what: 'the triggers that enforce it are disabled in the source; here they are enabled',
                },
              ],
        ),
      ),
    ),
    ...tables.flatMap((r) =>
      r.policies.map((p) =>
        node('policy', `policy ${pg.quoteIdent(p.name)} on ${pg.quoteAddress(r)}`, pg.createPolicy(r, p), [
          `DROP POLICY ${pg.quoteIdent(p.name)} ON ${pg.quoteAddress(r)};`,
        ]),
      ),
    ),
    ...c.relations.flatMap((r) =>
      r.rules.map((d) =>
        node(
          'rule',
          `rule ${pg.quoteIdent(d.name)} on ${pg.quoteAddress(r)}`,
          [...pg.createDefined(r, d, 'RULE'), ...pg.partComment('RULE', r, d)],
          [`DROP RULE ${pg.quoteIdent(d.name)} ON ${pg.quoteAddress(r)};`],
        ),
      ),
    ),
    ...c.relations.flatMap((r) =>
      r.triggers.map((d) =>
        node(
          'trigger',
          `trigger ${pg.quoteIdent(d.name)} on ${pg.quoteAddress(r)}`,
          [...pg.createDefined(r, d, 'TRIGGER'), ...pg.partComment('TRIGGER', r, d)],
          [`DROP TRIGGER ${pg.quoteIdent(d.name)} ON ${pg.quoteAddress(r)};`],
        ),
      ),
    ),
    ...c.relations
      .filter((r) => r.kind === 'materialized view')
      .map((r) => node('refresh', `rows of materialized view ${pg.quoteAddress(r)}`, [`REFRESH MATERIALIZED VIEW ${pg.quoteAddress(r)};`], [])),
    ...c.objects.filter((o) => lastKinds.has(o.kind) && o.kind !== 'event trigger').map(definedNode),
    ...c.objects.filter((o) => o.kind === 'event trigger').map(definedNode),
  ]
}

/**
 * The baseline of a PostgreSQL catalog: every modelled object, each after all it needs. A table in a cycle (its default calls
 * a function that takes the table) gets its defaults and checks later; a cycle without a table is refused with its members.
 * Materialized views are refreshed in the order they were made. O(objects log objects).
 */
export function baselinePlan(catalog: Catalog): PlanResult {
  if (catalog.dialect !== 'postgresql') return { ok: false, problem: { code: 'dialect', dialect: catalog.dialect } }
  const c = sortCatalog(catalog)
  const made = (deferred: ReadonlySet<string>) => withShells(c, makers(c, deferred))
  let nodes = made(new Set())
  const order = (list: readonly Node[]) => {
    const byKey = new Map(list.map((n) => [n.key, n]))
    return orderByDependency(list, (n) => n.needs.flatMap((k) => byKey.get(k) ?? []))
  }
  let ordered = order(nodes)
  if (!ordered.ok) {
    nodes = made(new Set(ordered.stuck.filter((n) => n.kind === 'table').map((n) => n.key)))
    ordered = order(nodes)
  }
  if (!ordered.ok) return { ok: false, problem: { code: 'cycle', members: ordered.stuck.map((n) => n.object) } }
  const placeOf = new Map(ordered.order.map((n, i) => [n.object, i]))
  const refreshOrder = (n: Node) => (n.kind === 'refresh' ? (placeOf.get(n.object.replace('rows of ', '')) ?? 0) : -1)
  const last = followers(c)
    .map((n, i) => ({ n, i }))
    .sort((a, b) => refreshOrder(a.n) - refreshOrder(b.n) || a.i - b.i)
    .map((x) => x.n)
  const all = [...ordered.order, ...last].filter((n) => n.up.length > 0)
  const steps = all.map(
    (n, i): Step => ({
      number: i + 1,
      kind: n.kind,
      object: n.object,
      says: 'is made',
      // Materialized views are filled under the reader's own search path, as the functions they call may rely on it.
      up: n.kind === 'refresh' ? ['SET LOCAL search_path = DEFAULT;', ...n.up] : n.up,
      down: n.down,
      transaction: 1,
      locks: [],
      hazards: n.hazards,
      preChecks: [],
      probe: null,
      sets: [],
    }),
  )
  return {
    ok: true,
    plan: {
      format: 'pelvok.plan/1',
      dialect: c.dialect,
      title: 'baseline',
      from: hashText(canonicalText(emptyCatalog(c.dialect))),
      to: hashText(canonicalText(c)),
      searchPath: isWritten(c) ? searchPathOf(c) : [],
      steps,
      notSupported: c.unmodelled,
      leaves: [],
    },
  }
}
