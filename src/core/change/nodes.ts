// Steps before they are ordered: what each makes and needs; objects that are kept as text, and types that come in two steps.
import { type Catalog, type DefinedKind, type DefinedObject, type Dependency, definedText } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import type { Hazard, StepKind } from './plan.ts'

/** One step to be ordered. */
export interface Node {
  readonly key: string
  readonly kind: StepKind
  readonly object: string
  readonly needs: readonly string[]
  readonly up: readonly string[]
  readonly down: readonly string[]
  readonly hazards: readonly Hazard[]
}

export const keyOf = (d: Dependency) => `${d.kind} ${d.schema}.${d.name}`
export const schemaKey = (schema: string) => `schema ${schema}`

/** Kinds of which only a superuser may make one (manual, part VI, the command's own page), and why. */
const superuserKinds: Readonly<Partial<Record<DefinedKind, string>>> = {
  type: 'its functions may crash the server',
  'operator class': 'a wrong one may crash the server',
  'operator family': 'a wrong one may crash the server',
  'text search parser': 'its functions may crash the server',
  'text search template': 'its functions may crash the server',
  'foreign-data wrapper': 'its functions run inside the server',
  language: 'its handler runs inside the server',
  'access method': 'its handler runs inside the server',
  'event trigger': 'it fires for everybody',
}

/** Made when all tables are there: statistics are about them, publications list them, event triggers would fire at every step before. */
export const lastKinds: ReadonlySet<DefinedKind> = new Set(['statistics object', 'publication', 'event trigger'])

/** A publication of all tables, or of all in a schema. */
const isForLater = (definition: string): boolean => /\b(FOR ALL TABLES|TABLES IN SCHEMA)\b/i.test(definition)

export function definedNode(o: DefinedObject): Node {
  const object = definedText(o)
  const because = o.kind === 'publication' && isForLater(o.definition[0]?.written ?? '') ? 'it is for tables yet to come' : superuserKinds[o.kind]
  const ddl = pg.definedDdl(o)
  return {
    kind: o.kind === 'type' ? 'type' : 'object',
    key: keyOf(o),
    object,
    needs: [...(o.schema === '' ? [] : [schemaKey(o.schema)]), ...o.dependsOn.map(keyOf)],
    up: ddl.up,
    down: ddl.down,
    hazards: because === undefined ? [] : [{ code: 'needs-superuser', object, because }],
  }
}

/** Types that need functions which need the type: base types, and ranges with a canonical function. By key, with the functions that get its shell first. */
function shells(
  c: Catalog,
): ReadonlyMap<string, { readonly key: string; readonly type: { readonly schema: string; readonly name: string }; readonly routines: ReadonlySet<string> }> {
  const types = [
    ...c.objects.filter((o) => o.kind === 'type' && o.definition.length > 1).map((o) => ({ type: unquoted(o), key: keyOf(o), needs: o.dependsOn })),
    ...c.ranges.filter((r) => r.canonical !== null).map((r) => ({ type: r, key: keyOf({ kind: 'type', schema: r.schema, name: r.name }), needs: r.dependsOn })),
  ]
  return new Map(types.map((t) => [t.key, { key: `shell ${t.key}`, type: t.type, routines: new Set(t.needs.filter((d) => d.kind === 'routine').map(keyOf)) }]))
}

/** An object's name is kept as SQL writes it. */
const unquoted = (o: DefinedObject) => ({ schema: o.schema, name: o.name.startsWith('"') ? o.name.slice(1, -1).replaceAll('""', '"') : o.name })

/** The types made in two steps, each shell before its functions and those before the type itself. Functions are dropped with the shell. */
export function withShells(c: Catalog, nodes: readonly Node[]): readonly Node[] {
  const of = shells(c)
  if (of.size === 0) return nodes
  const first = [...of.values()].map(
    (s): Node => ({
      kind: 'type',
      key: s.key,
      object: `shell of type ${pg.quoteAddress(s.type)}`,
      needs: [schemaKey(s.type.schema)],
      ...pg.shellDdl(s.type),
      hazards: [],
    }),
  )
  return [
    ...first,
    ...nodes.map((n): Node => {
      const own = of.get(n.key)
      if (own) return { ...n, needs: [...n.needs, own.key], up: n.up.filter((text) => text !== pg.shellDdl(own.type).up[0]), down: [] }
      const shell = [...of].filter(([, s]) => s.routines.has(n.key))
      if (shell.length === 0) return n
      return { ...n, needs: n.needs.map((k) => of.get(k)?.key ?? k), down: [] }
    }),
  ]
}
