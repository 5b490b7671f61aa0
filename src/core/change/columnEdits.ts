// Edits that reach further than the thing they name: types, what is made of values, and what is dropped with all that hangs on it.
import { type Catalog, columnText, isAddress, type Relation, relationText } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { viewLineages } from '../views/index.ts'
import type { Conversion } from './conversion.ts'
import { family, find, get, getColumn, put, putColumn, Refusal, type State, written } from './editState.ts'
import { groundOf, textOf, wordsOf } from './needs.ts'
import { columnKey, hangs, type Part, partsOf } from './parts.ts'
import type { EditOf } from './schemaEdit.ts'

/** The text of a default without the cast that the server wrote behind a constant. */
const uncast = (text: string) => text.replace(/^('(?:[^']|'')*')::[\w\s".()[\]]+$/, '$1')

export function retype(s: State, r: Relation, n: string, type: string, conversion: Conversion | null): void {
  const c = getColumn(r, n)
  if (c.type === type) return
  if (c.generated) throw new Refusal(`${columnText(relationText(r), n)} is a generated column`)
  if (r.partitionOf) throw new Refusal(`${relationText(r)} is a partition; change ${relationText(r.partitionOf.parent)}`)
  if (r.partitionKey && wordsOf(r.partitionKey).has(n)) throw new Refusal(`${n} is in the partition key`)
  putColumn(s, r, n, (x) => ({ ...x, type, collation: null, storage: null, default: x.default && written(uncast(x.default.written)) }))
  if (conversion) s.conversions.set(columnKey(r, n), conversion)
  retypeViews(s, r, n, type)
}

/** Views give the column on: what comes from it alone has its type, what is computed of it the server says. */
function retypeViews(s: State, r: Relation, n: string, type: string): void {
  const lineages = viewLineages(s.catalog)
  for (const v of s.catalog.relations) {
    if (v.kind !== 'view' && v.kind !== 'materialized view') continue
    const lineage = lineages.get(relationText(v))
    const from = v.columns.filter((x) => {
      const origin = lineage?.columns.get(x.name)
      return origin && isAddress(origin.relation, r) && origin.column === n
    })
    const reads = wordsOf(v.definition?.written ?? '').has(n) || from.length > 0
    if (!reads) continue
    put(s, { ...v, columns: v.columns.map((x) => (from.includes(x) ? { ...x, type } : x)), definition: v.definition && { ...v.definition, canonical: null } })
  }
}

/** Checks that say no more than which values a column may have. */
const valueChecks = (r: Relation, n: string) =>
  r.checks.filter((k) => r.columns.every((c) => c.name === n || !wordsOf(k.expression.written).has(c.name)) && wordsOf(k.expression.written).has(n))

export function enumerate(s: State, e: EditOf<'make enumerated'>): void {
  const r = get(s.catalog, e.table)
  const type = pg.quoteAddress(e.type)
  const c = getColumn(r, e.column)
  if (c.type === type) return
  const before = s.catalog.enums.find((t) => isAddress(t, e.type))
  if (before && e.labels.some((l) => !before.labels.includes(l))) throw new Refusal(`the type ${type} has other values`)
  if (!before && [...s.catalog.domains, ...s.catalog.composites, ...s.catalog.ranges, ...s.catalog.relations].some((t) => isAddress(t, e.type)))
    throw new Refusal(`the name ${type} is taken`)
  if (!before) s.catalog = { ...s.catalog, enums: [...s.catalog.enums, { schema: e.type.schema, name: e.type.name, labels: e.labels, comment: null }] }
  const gone = new Set(valueChecks(r, e.column).map((k) => k.name))
  put(s, { ...r, checks: r.checks.filter((k) => !gone.has(k.name)), dependsOn: [...r.dependsOn, { kind: 'type', schema: e.type.schema, name: e.type.name }] })
  retype(s, get(s.catalog, e.table), e.column, type, null)
  putColumn(s, get(s.catalog, e.table), e.column, (x) =>
    x.default && /^'(?:[^']|'')*'$/.test(x.default.written) ? { ...x, default: { written: `${x.default.written}::${type}`, canonical: null } } : x,
  )
}

export function flag(s: State, e: EditOf<'make boolean'>): void {
  const r = get(s.catalog, e.table)
  const c = getColumn(r, e.column)
  if (c.type === 'boolean') return
  const [column, yes, no] = [pg.quoteIdent(e.column), pg.quoteLiteral(e.yes), pg.quoteLiteral(e.no)]
  const gone = new Set(valueChecks(r, e.column).map((k) => k.name))
  const constant = c.default && uncast(c.default.written).replace(/^'(.*)'$/, '$1')
  if (c.default && constant !== e.yes && constant !== e.no) throw new Refusal(`the default ${c.default.written} is neither ${e.yes} nor ${e.no}`)
  put(s, {
    ...r,
    checks: r.checks.filter((k) => !gone.has(k.name)),
    columns: r.columns.map((x) =>
      x.name === e.column && c.default
        ? { ...x, default: { written: constant === e.yes ? 'true' : 'false', canonical: constant === e.yes ? 'true' : 'false' } }
        : x,
    ),
  })
  const back = pg.typeFamily(c.type)
  retype(s, get(s.catalog, e.table), e.column, 'boolean', {
    up: `CASE ${column}::text WHEN ${yes} THEN true WHEN ${no} THEN false END`,
    down: `CASE WHEN ${column} THEN ${yes} WHEN NOT ${column} THEN ${no} END${back === 'character varying' || back === 'text' ? '' : `::${c.type}`}`,
    misfit: `t.${column}::text not in (${yes}, ${no})`,
  })
}

/** Parts that would have to go with a column and say more than it: somebody has to decide on them first. */
export function dropColumn(s: State, e: EditOf<'drop column'>): void {
  const r = get(s.catalog, e.table)
  if (!r.columns.some((c) => c.name === e.column)) return
  if (r.partitionKey && wordsOf(r.partitionKey).has(e.column)) throw new Refusal(`${e.column} is in the partition key`)
  const parts = partsOf(s.catalog)
  const ground = groundOf(s.catalog, parts)
  const key = columnKey(r, e.column)
  const rests = [...parts.values()].filter((p) => ground.needsOf(p).includes(key))
  const other = rests.find(
    (p) =>
      !hangs(p) || p.kind === 'trigger' || p.kind === 'policy' || p.kind === 'rule' || p.kind === 'column' || (p.kind === 'reference' && !isAddress(p.on, r)),
  )
  if (other && other.kind !== 'owner') throw new Refusal(`${describe(other)} needs it; change that first`)
  const named = (p: Part) => (hangs(p) && 'name' in p.value ? p.value.name : '')
  const gone = (kind: Part['kind']) => new Set(rests.filter((p) => p.kind === kind).map(named))
  for (const x of family(s.catalog, r)) {
    put(s, {
      ...x,
      columns: x.columns.filter((c) => c.name !== e.column),
      primaryKey: x.primaryKey?.columns.includes(e.column) ? null : x.primaryKey,
      uniques: x.uniques.filter((u) => !u.columns.includes(e.column) && !u.include.includes(e.column)),
      foreignKeys: x.foreignKeys.filter((k) => !k.columns.includes(e.column)),
      checks: x.checks.filter((k) => !gone('check').has(k.name)),
      indexes: x.indexes.filter((i) => !wordsOf(textOf({ kind: 'index', on: x, value: i })).has(e.column)),
      exclusions: x.exclusions.filter((i) => !gone('exclusion').has(i.name)),
    })
  }
  const owned = (q: Catalog['sequences'][number]) => q.ownedBy?.schema === r.schema && q.ownedBy.table === r.name && q.ownedBy.column === e.column
  s.catalog = { ...s.catalog, sequences: s.catalog.sequences.filter((q) => !owned(q)) }
}

export function dropTable(s: State, e: EditOf<'drop table'>): void {
  const r = find(s.catalog, e.table)
  if (!r) return
  get(s.catalog, e.table)
  const own = new Set(family(s.catalog, r).map(relationText))
  const refers = s.catalog.relations.find(
    (x) => !own.has(relationText(x)) && x.foreignKeys.some((k) => own.has(relationText({ schema: k.target.schema, name: k.target.table }))),
  )
  if (refers) throw new Refusal(`${relationText(refers)} refers to it; drop that reference first`)
  const reads = [...s.catalog.relations, ...s.catalog.routines].find(
    (x) => !own.has(relationText(x)) && x.dependsOn.some((d) => d.kind === 'relation' && own.has(relationText(d))),
  )
  if (reads) throw new Refusal(`${relationText(reads)} needs it; change that first`)
  const owned = (q: Catalog['sequences'][number]) => q.ownedBy && own.has(relationText({ schema: q.ownedBy.schema, name: q.ownedBy.table }))
  s.catalog = {
    ...s.catalog,
    relations: s.catalog.relations.filter((x) => !own.has(relationText(x))),
    sequences: s.catalog.sequences.filter((q) => !owned(q)),
    objects: s.catalog.objects.filter((o) => !(o.kind === 'statistics object' && o.dependsOn.some((d) => d.kind === 'relation' && own.has(relationText(d))))),
  }
}

const describe = (p: Part): string =>
  'schema' in p.value && 'name' in p.value
    ? `${p.kind} ${relationText(p.value)}`
    : hangs(p) && 'name' in p.value
      ? `${p.kind} ${p.value.name} of ${relationText(p.on)}`
      : p.kind
