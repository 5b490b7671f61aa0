// ALTER TYPE and ALTER DOMAIN on the draft.
import { type Draft, lookup, relationKey, shown, written } from './draft.ts'
import { freeCheckName } from './makeOther.ts'
import type { StatementOf, TypeAction } from './statement.ts'

export function alterType(d: Draft, s: StatementOf<'alter type'>): void {
  const { action } = s
  const e = lookup(d, d.enums, s.name)
  const c = lookup(d, d.composites, s.name)
  const o = lookup(d, d.domains, s.name)
  const any = e ?? c ?? o ?? lookup(d, d.ranges, s.name)
  if (!any) {
    if (action.kind !== 'nothing') d.complain({ code: 'unknown-object', what: s.of, name: shown(s.name) })
    return
  }
  if (action.kind === 'rename') return moveType(d, any, any.schema, action.to)
  if (action.kind === 'set schema') return moveType(d, any, action.schema, any.name)
  if (e) changeLabels(e, action)
  if (c) changeAttributes(d, c, action)
  if (o) changeDomain(d, o, action)
}

/** A type that moves takes the columns of it along. */
export function moveType(d: Draft, t: { schema: string; name: string }, schema: string, name: string): void {
  const old = relationKey(d, t.schema, t.name)
  const spelled = (x: { schema: string; name: string }) => `${d.semantics.quote(x.schema)}.${d.semantics.quote(x.name)}`
  const before = spelled(t)
  for (const map of [d.enums, d.domains, d.composites, d.ranges] as Map<string, { schema: string; name: string }>[]) {
    if (map.get(old) !== t) continue
    map.delete(old)
    t.schema = schema
    t.name = name
    map.set(relationKey(d, schema, name), t)
  }
  const after = spelled(t)
  for (const r of d.relations.values()) for (const c of r.columns) if (c.type === before || c.type === `${before}[]`) c.type = c.type.replace(before, after)
}

function changeLabels(e: { labels: string[] }, a: TypeAction): void {
  if (a.kind === 'rename value') e.labels = e.labels.map((l) => (l === a.value ? a.to : l))
  if (a.kind !== 'add value' || e.labels.includes(a.value)) return
  const anchor = a.before ?? a.after
  const i = anchor === null ? -1 : e.labels.indexOf(anchor)
  e.labels.splice(i < 0 ? e.labels.length : a.before !== null ? i : i + 1, 0, a.value)
}

function changeAttributes(
  d: Draft,
  c: { name: string; attributes: { name: string; type: string; collation: unknown; comment: string | null }[] },
  a: TypeAction,
): void {
  if (a.kind === 'add attribute') c.attributes.push({ name: a.name, type: d.semantics.type(a.type, d, c.name), collation: null, comment: null })
  if (a.kind === 'drop attribute') c.attributes = c.attributes.filter((x) => x.name !== a.name)
  if (a.kind === 'alter attribute') for (const x of c.attributes) if (x.name === a.name) x.type = d.semantics.type(a.type, d, c.name)
  if (a.kind === 'rename attribute') for (const x of c.attributes) if (x.name === a.name) x.name = a.to
}

function changeDomain(_d: Draft, o: Draft['domains'] extends Map<string, infer D> ? D : never, a: TypeAction): void {
  if (a.kind === 'default') o.default = a.expression === null ? null : written(a.expression)
  if (a.kind === 'null') o.nullable = !a.notNull
  if (a.kind === 'add check')
    o.checks.push({
      name: a.check.name ?? freeCheckName(o.name, o.checks),
      expression: written(a.check.expression),
      validated: !a.check.notValid,
      comment: null,
    })
  if (a.kind === 'drop check') o.checks = o.checks.filter((c) => c.name !== a.name)
  if (a.kind === 'rename check') for (const c of o.checks) if (c.name === a.name) c.name = a.to
  if (a.kind === 'validate check') for (const c of o.checks) if (c.name === a.name) c.validated = true
}
