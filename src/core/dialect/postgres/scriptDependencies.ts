// What each object of a script needs to exist first, as pg_depend would say (manual 5.14): found by name.

import type { DefinedKind, DefinedObject, Dependency, RelationAddress } from '../../catalog/index.ts'
import type { Draft, DraftRelation } from '../../ddl/draft.ts'
import { type Call, callsIn, pathsIn } from '../../ddl/text.ts'
import { remembered } from '../../memo/memo.ts'
import { insideLastBrackets, wordsBeforeBrackets } from '../../text/scan.ts'
import { quoteAddress, quoteIdent } from './quote.ts'

type Add = (of: Dependency[], d: Dependency) => void

const add: Add = (of, d) => {
  if (!of.some((x) => x.kind === d.kind && x.schema === d.schema && x.name === d.name)) of.push(d)
}

const byName = <T extends { readonly name: string }>(list: Iterable<T>): ReadonlyMap<string, readonly T[]> => {
  const map = new Map<string, T[]>()
  for (const o of list) map.set(o.name, [...(map.get(o.name) ?? []), o])
  return map
}

const numberTypes = /^(smallint|integer|bigint|numeric|real|double precision|money)$/

/** Could an argument written so be of this type? By its looks only: an array, a number, a text. */
function fits(argument: string, type: string): boolean {
  const array = /^array\s*\[|\[\]\)?$/i.test(argument)
  if (array !== type.endsWith('[]')) return false
  if (/^-?[\d.]+$/.test(argument)) return numberTypes.test(type)
  return !(/^'/.test(argument) && numberTypes.test(type))
}

/** Which of several routines of one name a call means, as far as its arguments' texts tell. */
function overload(call: Call, list: readonly { readonly argumentTypes: string }[]): readonly number[] {
  const all = list.map((_, i) => i)
  const counted = all.filter((i) => (list[i]?.argumentTypes === '' ? 0 : (list[i]?.argumentTypes ?? '').split(', ').length) === call.arguments.length)
  const few = counted.length > 0 ? counted : all
  if (few.length < 2) return few
  const fit = few.filter((i) => (list[i]?.argumentTypes ?? '').split(', ').every((t, k) => fits(call.arguments[k] ?? '', t)))
  return fit.length > 0 ? fit : few
}

/** What names and texts of a draft mean, looked up once. */
interface Lookups {
  readonly typed: (of: Dependency[], type: string) => void
  readonly calls: (of: Dependency[], text: string | undefined) => void
  readonly queried: (of: Dependency[], from: { readonly schema: string }, query: string) => void
  readonly counted: (of: Dependency[], expression: string | undefined) => void
  readonly made: (of: Dependency[], aggregate: string) => void
  /** Objects of these kinds that a text names. */
  readonly texted: (of: Dependency[], kinds: ReadonlySet<DefinedKind>, text: string) => void
  /** Routines that a text names, called or not. */
  readonly routed: (of: Dependency[], text: string) => void
  readonly collated: (of: Dependency[], collation: RelationAddress) => void
}

function lookups(d: Draft): Lookups {
  const { lexis } = d.semantics
  const types = new Map<string, Dependency>()
  for (const t of [...d.enums.values(), ...d.domains.values(), ...d.composites.values()])
    types.set(quoteAddress(t), { kind: 'type', schema: t.schema, name: t.name })
  for (const r of d.ranges.values()) {
    types.set(quoteAddress(r), { kind: 'type', schema: r.schema, name: r.name })
    if (r.multirange) types.set(quoteAddress(r.multirange), { kind: 'type', schema: r.schema, name: r.name })
  }
  for (const o of d.objects.values()) if (o.kind === 'type') types.set(`${quoteIdent(o.schema)}.${o.name}`, { kind: 'type', schema: o.schema, name: o.name })
  for (const r of d.relations.values()) types.set(quoteAddress(r), { kind: 'relation', schema: r.schema, name: r.name })
  const routines = byName(d.routines.values())
  const relations = byName(d.relations.values())
  const counting = new Map([...d.sequences.values()].map((q) => [d.semantics.nextValue(q), q]))
  const routineNamed = (r: { schema: string; name: string; argumentTypes: string }): Dependency => ({
    kind: 'routine',
    schema: r.schema,
    name: `${r.name}(${r.argumentTypes})`,
  })
  const typed: Lookups['typed'] = (of, type) => {
    const found = types.get(type.endsWith('[]') ? type.slice(0, -2) : type)
    if (found) add(of, found)
  }
  /** Most expressions call nothing of the user's: told by a glance before they are read token by token. */
  const mayCall = remembered(
    (text) =>
      routines.size > 0 &&
      wordsBeforeBrackets(text.replaceAll('"', ' '), (c) => c > ' ' && c !== '.' && c !== '(').some(
        (name) => routines.has(name.toLowerCase()) || routines.has(name),
      ),
  )
  const calls: Lookups['calls'] = (of, text) => {
    if (text === undefined || !mayCall(text)) return
    for (const c of callsIn(text, lexis)) {
      const list = (routines.get(c.name) ?? []).filter((r) => c.schema === null || c.schema === r.schema)
      for (const i of overload(c, list)) add(of, routineNamed(list[i] as (typeof list)[number]))
    }
  }
  const queried: Lookups['queried'] = (of, r, query) => {
    calls(of, query)
    for (const p of pathsIn(query, lexis))
      for (const other of relations.get(p.name) ?? [])
        if (p.schema === other.schema || (p.schema === null && other.schema === r.schema)) add(of, { kind: 'relation', schema: other.schema, name: other.name })
  }
  const counted: Lookups['counted'] = (of, expression) => {
    const q = expression === undefined ? null : sequenceIn(expression, counting, d)
    if (q) add(of, { kind: 'sequence', schema: q.schema, name: q.name })
  }
  /** An aggregate is made of functions, which its own text names. */
  const made: Lookups['made'] = (of, aggregate) => {
    for (const p of pathsIn(aggregate, lexis)) for (const f of routines.get(p.name) ?? []) if (f.kind !== 'aggregate') add(of, routineNamed(f))
  }
  const objects = byName([...d.objects.values()].map((o) => ({ o, name: unquoted(o.name.split(/ USING | \(/, 1)[0] as string) })))
  const named = (of: Dependency[], kinds: ReadonlySet<DefinedKind>, name: string, schema: string | null) => {
    for (const { o } of objects.get(name) ?? [])
      if (kinds.has(o.kind) && (schema === null || schema === o.schema)) add(of, { kind: o.kind, schema: o.schema, name: o.name })
  }
  const texted: Lookups['texted'] = (of, kinds, text) => {
    for (const p of pathsIn(text, lexis)) named(of, kinds, p.name, p.schema)
    if (kinds.has('operator')) for (const sign of text.match(/[-+*/<>=~!@#%^&|`?]+/g) ?? []) named(of, operators, sign, null)
  }
  const routed: Lookups['routed'] = (of, text) => {
    for (const p of pathsIn(text, lexis)) for (const f of routines.get(p.name) ?? []) if (p.schema === null || p.schema === f.schema) add(of, routineNamed(f))
  }
  const collated: Lookups['collated'] = (of, c) => named(of, collations, c.name, c.schema)
  return { typed, calls, queried, counted, made, texted, routed, collated }
}

const operators: ReadonlySet<DefinedKind> = new Set(['operator'])
const operatorClasses: ReadonlySet<DefinedKind> = new Set(['operator class'])
const collations: ReadonlySet<DefinedKind> = new Set(['collation'])
const unquoted = (name: string) => (name.startsWith('"') ? name.slice(1, -1).replaceAll('""', '"') : name)

/** What the text of an object of each kind can name, besides its types and routines. */
const namedBy: Readonly<Partial<Record<DefinedKind, ReadonlySet<DefinedKind>>>> = {
  'operator class': new Set(['operator', 'operator family', 'access method']),
  'operator family': new Set(['operator', 'access method']),
  'text search dictionary': new Set(['text search template']),
  'text search configuration': new Set(['text search parser', 'text search dictionary']),
  server: new Set(['foreign-data wrapper']),
  transform: new Set(['language']),
}
/** Kinds whose text names routines without calling them. */
const withRoutines: ReadonlySet<DefinedKind> = new Set([
  'type',
  'conversion',
  'operator',
  'operator class',
  'operator family',
  'cast',
  'transform',
  'language',
  'access method',
  'text search parser',
  'text search template',
  'foreign-data wrapper',
  'event trigger',
])

/** An object that is kept as text: what its text and its name mention. */
function ofObject(d: Draft, o: DefinedObject, x: Lookups): Dependency[] {
  const of: Dependency[] = [...o.dependsOn]
  const text = o.definition.map((e) => e.written).join('\n')
  const itself = (n: Dependency) => n.kind === o.kind && n.schema === o.schema && n.name === o.name
  for (const type of typesIn(o)) x.typed(of, type)
  if (o.kind === 'operator class') for (const p of pathsIn(/\bFOR\s+TYPE\s+(\S+)/i.exec(text)?.[1] ?? '', d.semantics.lexis)) x.typed(of, typeOf(d, p))
  if (withRoutines.has(o.kind)) x.routed(of, text)
  const kinds = namedBy[o.kind]
  if (kinds) x.texted(of, kinds, text)
  return of.filter((n) => !itself(n) && !(o.kind === 'operator' && n.kind === 'operator'))
}

/** Types that the object's name is made of: operands, both ends of a cast. */
function typesIn(o: DefinedObject): readonly string[] {
  const inner = insideLastBrackets(o.name)
  if (o.kind === 'cast') return inner?.split(' AS ') ?? []
  if (o.kind === 'operator') return inner?.split(', ') ?? []
  if (o.kind === 'transform') return [/^FOR (.*) LANGUAGE /.exec(o.name)?.[1] ?? '']
  return []
}

const typeOf = (d: Draft, p: { readonly schema: string | null; readonly name: string }): string =>
  d.semantics.type({ schema: p.schema, name: p.name, quoted: true, parameters: [], suffix: '', array: false, written: p.name }, d, '')

const servers: ReadonlySet<DefinedKind> = new Set(['server'])

function ofRelation(r: DraftRelation, { typed, calls, queried, counted, texted, collated }: Lookups): Dependency[] {
  const of: Dependency[] = [...r.dependsOn]
  for (const c of r.columns) {
    typed(of, c.type)
    calls(of, c.default?.written)
    calls(of, c.generated?.expression.written)
    counted(of, c.default?.written)
    if (c.collation) collated(of, c.collation)
  }
  if (r.foreign) texted(of, servers, quoteIdent(r.foreign.server))
  for (const k of r.checks) calls(of, k.expression.written)
  for (const p of r.inherits) add(of, { kind: 'relation', schema: p.schema, name: p.name })
  if (r.definition) queried(of, r, r.definition.written)
  return of.filter((x) => !(x.kind === 'relation' && x.schema === r.schema && x.name === r.name))
}

/** Fills `dependsOn` of relations, domains, composites and routines. */
export function scriptDependencies(d: Draft): void {
  const x = lookups(d)
  for (const r of d.relations.values()) r.dependsOn = ofRelation(r, x)
  for (const o of d.domains.values()) {
    x.typed(o.dependsOn, o.type)
    for (const c of o.checks) x.calls(o.dependsOn, c.expression.written)
  }
  for (const o of d.domains.values()) if (o.collation) x.collated(o.dependsOn, o.collation)
  for (const r of d.ranges.values()) {
    x.typed(r.dependsOn, r.subtype)
    if (r.collation) x.collated(r.dependsOn, r.collation)
    for (const f of [r.canonical, r.difference]) if (f) x.routed(r.dependsOn, quoteAddress(f))
    if (r.operatorClass) x.texted(r.dependsOn, operatorClasses, quoteAddress(r.operatorClass))
  }
  for (const o of d.objects.values()) o.dependsOn = ofObject(d, o, x)
  for (const c of d.composites.values()) for (const a of c.attributes) x.typed(c.dependsOn, a.type)
  for (const r of d.routines.values()) {
    for (const t of r.argumentTypes.split(', ')) x.typed(r.dependsOn, t)
    if (r.returns) x.typed(r.dependsOn, r.returns.replace(/^SETOF /, ''))
    if (r.kind === 'aggregate') x.made(r.dependsOn, r.definition.written)
  }
}

/** The text between quotes behind the first nextval, brackets and blanks between; null where there is none. */
function nextvalOf(text: string): string | null {
  const at = text.toLowerCase().indexOf('nextval')
  if (at < 0) return null
  let i = at + 'nextval'.length
  while (i < text.length && (text[i] === '(' || (text[i] as string) <= ' ')) i += 1
  const end = text[i] === "'" ? text.indexOf("'", i + 1) : -1
  return end > i + 1 ? text.slice(i + 1, end) : null
}

/** `nextval('s')` in any spelling. */
function sequenceIn(text: string, counting: ReadonlyMap<string, { schema: string; name: string }>, d: Draft) {
  const exact = counting.get(text)
  if (exact) return exact
  const named = nextvalOf(text)
  // The text form is looked up when it runs, and depends on nothing: nextval(('s'::text)::regclass).
  if (named === null || /::\s*text/.test(text)) return null
  const parts = named.replaceAll('"', '').split('.')
  const name = parts.at(-1) as string
  return [...d.sequences.values()].find((q) => q.name === name && (parts.length === 1 || q.schema === parts.at(-2))) ?? null
}
