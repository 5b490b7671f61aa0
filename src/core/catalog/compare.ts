// What differs between two structures, object by object and field by field.
import { relationText } from './address.ts'
import type { Catalog, Expression } from './types.ts'

/** One difference: the object, the path of the field within it ("" for the whole object), and both values as JSON text. */
export interface Difference {
  readonly object: string
  readonly field: string
  readonly was: string | null
  readonly is: string | null
}

type Json = null | boolean | number | string | readonly Json[] | { readonly [key: string]: Json }

const isExpression = (v: Json): v is Expression & { readonly [key: string]: Json } => typeof v === 'object' && v !== null && 'canonical' in v && 'written' in v

/** Items of these lists are known by their names; all other lists are compared by position. */
function named(list: readonly Json[]): ReadonlyMap<string, Json> | null {
  const map = new Map<string, Json>()
  for (const item of list) {
    if (typeof item !== 'object' || item === null || !('name' in item)) return null
    map.set(String((item as { name: Json }).name), item)
  }
  return map.size === list.length ? map : null
}

const isObject = (v: Json | undefined): v is Json & object => typeof v === 'object' && v !== null

const said = (v: Json | undefined): string | null => (v === undefined ? null : JSON.stringify(v))

function walk(object: string, field: string, a: Json | undefined, b: Json | undefined, found: Difference[]): void {
  if (a === b) return
  if (!isObject(a) || !isObject(b) || Array.isArray(a) !== Array.isArray(b)) found.push({ object, field, was: said(a), is: said(b) })
  else if (Array.isArray(a) && Array.isArray(b)) walkLists(object, field, a, b, found)
  else if (isExpression(a) && isExpression(b)) {
    const same = a.canonical !== null && b.canonical !== null ? a.canonical === b.canonical : a.written === b.written
    if (!same) found.push({ object, field, was: a.written, is: b.written })
  } else {
    const left = a as { readonly [key: string]: Json }
    const right = b as { readonly [key: string]: Json }
    for (const key of new Set([...Object.keys(left), ...Object.keys(right)])) walk(object, field === '' ? key : `${field}.${key}`, left[key], right[key], found)
  }
}

/** Lists of named things by name, then by the order of the names both have; lists of other things by position where they are of one length, else as a whole. */
function walkLists(object: string, field: string, a: readonly Json[], b: readonly Json[], found: Difference[]): void {
  const left = named(a)
  const right = named(b)
  if (!left || !right) {
    if (a.length === b.length && a.every(isObject) && b.every(isObject)) {
      for (const [i, item] of a.entries()) walk(object, `${field}[${i}]`, item, b[i], found)
      return
    }
    if (JSON.stringify(a) !== JSON.stringify(b)) found.push({ object, field, was: said(a), is: said(b) })
    return
  }
  for (const key of new Set([...left.keys(), ...right.keys()])) walk(object, `${field}[${key}]`, left.get(key), right.get(key), found)
  const shared = (of: ReadonlyMap<string, Json>, other: ReadonlyMap<string, Json>) => [...of.keys()].filter((k) => other.has(k)).join(', ')
  if (shared(left, right) !== shared(right, left)) found.push({ object, field: `${field} order`, was: shared(left, right), is: shared(right, left) })
}

/** Every top-level object by a text that tells it apart. */
function objects(c: Catalog): Map<string, Json> {
  const map = new Map<string, Json>()
  const put = (kind: string, list: readonly object[], label: (o: never) => string) => {
    for (const o of list) map.set(`${kind} ${label(o as never)}`, o as Json)
  }
  const address = (o: { schema: string; name: string }) => relationText(o)
  put('schema', c.schemas, (o: { name: string }) => o.name)
  put('extension', c.extensions, (o: { name: string }) => o.name)
  put('enumerated type', c.enums, address)
  put('domain', c.domains, address)
  put('composite type', c.composites, address)
  put('range type', c.ranges, address)
  put('sequence', c.sequences, address)
  put('relation', c.relations, address)
  put('routine', c.routines, (o: { schema: string; name: string; argumentTypes: string }) => `${relationText(o)}(${o.argumentTypes})`)
  for (const o of c.objects) map.set(definedText(o), o as Json)
  put('not modelled:', c.unmodelled, (o: { kind: string; identity: string }) => `${o.kind} ${o.identity}`)
  return map
}

/** `collation field.kurz`: an object kept as text, for people. */
export const definedText = (o: { readonly kind: string; readonly schema: string; readonly name: string }): string =>
  `${o.kind} ${o.schema === '' ? '' : `${relationText({ schema: '', name: o.schema })}.`}${o.name}`

/**
 * Differences between two structures, in the order of the first and then what only the second has. Equal structures give
 * an empty list. `format` and `dialect` count; statistics and readings are not part of a structure.
 */
export function compareCatalogs(was: Catalog, is: Catalog): readonly Difference[] {
  const found: Difference[] = []
  walk('catalog', 'dialect', was.dialect, is.dialect, found)
  walk('catalog', 'format', was.format, is.format, found)
  const left = objects(was)
  const right = objects(is)
  for (const key of new Set([...left.keys(), ...right.keys()])) walk(key, '', left.get(key), right.get(key), found)
  return found
}
