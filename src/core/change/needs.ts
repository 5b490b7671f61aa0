// What each part needs to be there first, within its own catalog: what a plan's order and its rebuilding follow.
import type { Catalog, Dependency, IndexColumn, Relation, RelationAddress } from '../catalog/index.ts'
import { quoteIdent } from '../dialect/postgres/index.ts'
import { remembered } from '../memo/memo.ts'
import { wordsBeforeBrackets } from '../text/scan.ts'
import type { Conversion, Conversions } from './conversion.ts'
import {
  columnKey,
  type HangingPart,
  hangingKey,
  hangs,
  isTable,
  keyOf,
  type Part,
  type PartOf,
  type Parts,
  relationKey,
  routineKey,
  schemaKey,
  sequenceKey,
  typeKey,
} from './parts.ts'
import { isParsed } from './rewriteTexts.ts'

/**
 * Names that occur in a text of SQL, in literals too (`nextval('field.crate_seq')`): more rather than fewer, since what is needed
 * and not seen makes a plan fail, and what is seen and not needed only moves a step.
 */
export const wordsOf = remembered((text: string): ReadonlySet<string> => {
  const found = new Set<string>()
  for (const [run] of text.matchAll(/[\p{L}_][\p{L}\p{N}_$]*/gu)) {
    found.add(run)
    found.add(run.toLowerCase())
  }
  for (const [, quoted] of text.matchAll(/"((?:[^"]|"")+)"/g)) found.add((quoted as string).replaceAll('""', '"'))
  return found
}, 50_000)

/** The texts of a part that name other objects, as one. */
export function textOf(p: Part): string {
  switch (p.kind) {
    case 'column':
      return [p.value.type, p.value.generated?.expression.written ?? ''].join(' ')
    case 'default':
      return p.value.expression.written
    case 'table':
      return p.value.partitionKey ?? ''
    case 'view':
      return p.value.definition?.written ?? ''
    case 'check':
      return p.value.expression.written
    case 'trigger':
    case 'rule':
      return p.value.definition.written
    case 'policy':
      return [p.value.using?.written ?? '', p.value.check?.written ?? ''].join(' ')
    case 'index':
    case 'exclusion': {
      const elements: readonly { readonly column: string | null; readonly expression: { readonly written: string } | null }[] =
        p.kind === 'index' ? p.value.columns : p.value.elements
      const written = elements.map((e) => (e.column === null ? (e.expression?.written ?? '') : `"${e.column.replaceAll('"', '""')}"`))
      const include = p.value.include.map((c) => `"${c.replaceAll('"', '""')}"`)
      return [...written, ...include, p.value.predicate?.written ?? ''].join(' ')
    }
    default:
      return ''
  }
}

/** A dependency's key among the parts. */
export function dependencyKey(d: Dependency): string {
  switch (d.kind) {
    case 'relation':
      return relationKey(d)
    case 'type':
      return typeKey(d)
    case 'sequence':
      return sequenceKey(d)
    case 'routine':
      return routineKey(d.schema, d.name)
    case 'extension':
      return keyOf({ kind: 'extension', value: { name: d.name, schema: '', version: '', comment: null } })
    default:
      return keyOf({ kind: 'object', value: { kind: d.kind, schema: d.schema, name: d.name, definition: [], comment: null, dependsOn: [] } })
  }
}

/** The part of a dependency's name that stands in a text: `area` of `area(integer)`. */
const simpleName = (d: Dependency): string => {
  const head = d.name.split(/[ (]/)[0] as string
  return head.startsWith('"') ? head.slice(1, -1).replaceAll('""', '"') : head
}

/** One catalog with what the needs of its parts are looked up in. */
export interface Ground {
  readonly parts: Parts
  readonly needsOf: (p: Part) => readonly string[]
  readonly relation: (a: RelationAddress) => Relation | undefined
  /** Partitions and children by INHERITS, one level down. */
  readonly childrenOf: (a: RelationAddress) => readonly Relation[]
  /** What somebody said on turning the values of a column into another type's; null where nobody did. */
  readonly conversion: (column: PartOf<'column'>) => Conversion | null
}

export function groundOf(catalog: Catalog, parts: Parts, conversions: Conversions = new Map()): Ground {
  const relations = new Map(catalog.relations.map((r) => [relationKey(r), r]))
  const named = new Map<string, string[]>()
  const put = (name: string, key: string) => {
    const list = named.get(name)
    if (list) list.push(key)
    else named.set(name, [key])
  }
  for (const r of catalog.relations) put(r.name, relationKey(r))
  for (const r of catalog.routines) put(r.name, routineKey(r.schema, `${r.name}(${r.argumentTypes})`))
  const children = new Map<string, Relation[]>()
  for (const r of catalog.relations)
    for (const parent of [...r.inherits, ...(r.partitionOf ? [r.partitionOf.parent] : [])]) {
      const key = relationKey(parent)
      children.set(key, [...(children.get(key) ?? []), r])
    }
  const finder: Finder = { relations, named, parts }
  const known = new Map<Part, readonly string[]>()
  return {
    parts,
    relation: (a) => relations.get(relationKey(a)),
    childrenOf: (a) => children.get(relationKey(a)) ?? [],
    conversion: (column) => conversions.get(keyOf(column)) ?? null,
    needsOf: (p) => {
      const before = known.get(p)
      if (before) return before
      const own = keyOf(p)
      const found = [...new Set(needs(p, finder))].filter((k) => k !== own && parts.has(k))
      known.set(p, found)
      return found
    },
  }
}

interface Finder {
  readonly relations: ReadonlyMap<string, Relation>
  readonly named: ReadonlyMap<string, readonly string[]>
  readonly parts: Parts
}

/** Relations and routines whose name occurs. */
const mentioned = (words: ReadonlySet<string>, f: Finder): readonly string[] => [...words].flatMap((w) => f.named.get(w) ?? [])

/** Routines that a text calls: what an index calls is its own need, and no table's. */
const calledIn = (text: string, f: Finder): readonly string[] =>
  wordsBeforeBrackets(text, (c) => /[\p{L}\p{N}_"$.]/u.test(c)).flatMap((called) => {
    const [name, schema] = called
      .split('.')
      .toReversed()
      .map((part) => part.replaceAll('"', ''))
    const keys = (f.named.get(name ?? '') ?? []).filter((k) => k.startsWith('routine\u0000'))
    return schema === undefined ? keys : keys.filter((k) => k.startsWith(`routine\u0000${schema}\u0000`))
  })

/** Columns of a relation whose name occurs. */
const columnsIn = (words: ReadonlySet<string>, r: Relation): readonly string[] =>
  r.columns.flatMap((c) => (words.has(c.name) ? [isTable(r) ? columnKey(r, c.name) : relationKey(r)] : []))

function needs(p: Part, f: Finder): readonly string[] {
  switch (p.kind) {
    case 'schema':
    case 'unmodelled':
      return []
    case 'extension':
      return [schemaKey(p.value.schema)]
    case 'enum':
    case 'sequence':
      return [schemaKey(p.value.schema)]
    case 'routine':
      return [
        schemaKey(p.value.schema),
        ...p.value.dependsOn.map(dependencyKey),
        ...(isParsed(p.value) ? columnsOfObject({ definition: [p.value.definition], dependsOn: p.value.dependsOn }, f) : []),
      ]
    case 'domain':
    case 'composite':
    case 'range':
      return [schemaKey(p.value.schema), ...p.value.dependsOn.map(dependencyKey)]
    case 'object':
      return [...(p.value.schema === '' ? [] : [schemaKey(p.value.schema)]), ...p.value.dependsOn.map(dependencyKey), ...columnsOfObject(p.value, f)]
    case 'owner':
      return [
        sequenceKey(p.value),
        ...(p.value.ownedBy ? [columnKey({ schema: p.value.ownedBy.schema, name: p.value.ownedBy.table }, p.value.ownedBy.column)] : []),
      ]
    case 'table':
      return needsOfTable(p.value, f)
    case 'view':
      return needsOfView(p.value, f)
    default:
      return needsOfHanging(p, f)
  }
}

/** Statistics of columns, column lists of publications, bodies of routines that are kept as parsed. */
function columnsOfObject(
  o: { readonly definition: readonly { readonly written: string }[]; readonly dependsOn: readonly Dependency[] },
  f: Finder,
): readonly string[] {
  const words = wordsOf(o.definition.map((d) => d.written).join(' '))
  return o.dependsOn.flatMap((d) => {
    const r = d.kind === 'relation' ? f.relations.get(relationKey(d)) : undefined
    return r ? columnsIn(words, r) : []
  })
}

function needsOfTable(r: Relation, f: Finder): readonly string[] {
  const whole = f.relations.get(relationKey(r)) ?? r
  // What no column and no constraint names belongs to the table: an extension, an operator class, the key of partitions.
  const words = r.dependsOn.length === 0 ? null : wordsOf(JSON.stringify({ ...whole, dependsOn: [], partitionKey: null }))
  return [
    schemaKey(r.schema),
    ...(r.partitionOf ? [relationKey(r.partitionOf.parent)] : []),
    ...r.inherits.map(relationKey),
    ...(r.ofType ? [typeKey(r.ofType)] : []),
    ...r.dependsOn.filter((d) => d.kind === 'server' || d.kind === 'access method' || words?.has(simpleName(d)) === false).map(dependencyKey),
  ]
}

function needsOfView(r: Relation, f: Finder): readonly string[] {
  const text = r.definition?.written ?? ''
  const words = wordsOf(text)
  return [
    schemaKey(r.schema),
    ...r.dependsOn.map(dependencyKey),
    ...r.dependsOn.flatMap((d) => {
      const of = d.kind === 'relation' ? f.relations.get(relationKey(d)) : undefined
      if (!of) return []
      // GROUP BY the primary key makes the view depend on it (manual, SELECT, GROUP BY Clause).
      const key = isTable(of) && /\bGROUP BY\b/i.test(text) ? [hangingKey('primary key', of, '')] : []
      return [...(text.includes('*') ? of.columns.map((c) => columnKey(of, c.name)) : columnsIn(words, of)), ...key]
    }),
  ]
}

function needsOfHanging(p: HangingPart, f: Finder): readonly string[] {
  const r = f.relations.get(relationKey(p.on))
  if (!r) return [relationKey(p.on)]
  const words = wordsOf(textOf(p))
  const own = [relationKey(r), ...columnsIn(words, r)]
  const others = r.dependsOn.filter((d) => words.has(simpleName(d))).map(dependencyKey)
  switch (p.kind) {
    case 'column':
      return [
        relationKey(r),
        ...(p.value.generated ? columnsIn(wordsOf(p.value.generated.expression.written), r) : []),
        ...others,
        ...collationOf(p.value.collation),
      ]
    case 'default':
      return [relationKey(r), columnKey(r, p.value.column), ...others]
    case 'primary key':
    case 'unique':
      return [relationKey(r), ...[...p.value.columns, ...p.value.include].map((c) => columnKey(r, c))]
    case 'reference': {
      const target = { schema: p.value.target.schema, name: p.value.target.table }
      return [
        relationKey(r),
        relationKey(target),
        ...p.value.columns.map((c) => columnKey(r, c)),
        ...p.value.target.columns.map((c) => columnKey(target, c)),
        ...keysOver(f.relations.get(relationKey(target)), p.value.target.columns),
      ]
    }
    case 'check':
      return [...own, ...others]
    case 'index':
    case 'exclusion': {
      const elements: readonly IndexColumn[] = p.kind === 'index' ? p.value.columns : p.value.elements
      const used = new Set([
        ...elements.map((e) => e.operatorClass?.name ?? ''),
        ...(p.kind === 'exclusion' ? p.value.elements.map((e) => e.operator.name) : []),
      ])
      const classes = r.dependsOn.filter((d) => used.has(simpleName(d)))
      return [...own, ...others, ...calledIn(textOf(p), f), ...classes.map(dependencyKey), ...elements.flatMap((e) => collationOf(e.collation))]
    }
    case 'replica identity':
      return [relationKey(r), hangingKey('index', r, p.value.index)]
    case 'policy':
    case 'rule':
    case 'trigger':
      return [...own, ...others, ...mentioned(words, f), ...[...words].flatMap((w) => (f.named.get(w) ?? []).flatMap((k) => columnsNamed(k, words, f)))]
    default:
      return unreachable(p)
  }
}

/** Columns of another relation that a rule or policy names. */
function columnsNamed(key: string, words: ReadonlySet<string>, f: Finder): readonly string[] {
  const r = f.relations.get(key)
  return r ? columnsIn(words, r) : []
}

const collationOf = (c: RelationAddress | null): readonly string[] =>
  c === null
    ? []
    : [keyOf({ kind: 'object', value: { kind: 'collation', schema: c.schema, name: quoteIdent(c.name), definition: [], comment: null, dependsOn: [] } })]

/** Keys and unique indexes that a reference to these columns may rest on (manual, CREATE TABLE, REFERENCES). */
function keysOver(r: Relation | undefined, columns: readonly string[]): readonly string[] {
  if (!r) return []
  const same = (of: readonly (string | null)[]) => of.length === columns.length && of.every((c) => c !== null && columns.includes(c))
  return [
    ...(r.primaryKey && same(r.primaryKey.columns) ? [hangingKey('primary key', r, '')] : []),
    ...r.uniques.filter((u) => same(u.columns)).map((u) => hangingKey('unique', r, u.name)),
    ...r.indexes.filter((x) => x.unique && x.predicate === null && same(x.columns.map((c) => c.column))).map((x) => hangingKey('index', r, x.name)),
  ]
}

/** Parts of a table that are made in one statement with it. */
export const withTable = (p: Part): boolean =>
  hangs(p) && (p.kind === 'column' || p.kind === 'default' || p.kind === 'primary key' || p.kind === 'unique' || p.kind === 'check')

function unreachable(p: never): never {
  throw new Error(`a part of no known kind: ${JSON.stringify(p)}`)
}
