// Same structure, same bytes: the order of lists, the canonical text of a Catalog and its hash.
import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js'
import { compareAddress, compareParts, compareText } from './address.ts'
import { filledCatalog } from './open.ts'
import * as s from './schema.ts'
import type { Catalog, Dialect, Relation, SnapshotHash } from './types.ts'

/** Most lists of a relation have none or one: those are themselves. */
const inOrder = <T>(list: readonly T[], compare: (a: T, b: T) => number): readonly T[] => (list.length < 2 ? list : list.toSorted(compare))
const byName = (a: { readonly name: string }, b: { readonly name: string }) => compareText(a.name, b.name)

function sortRelation(r: Relation): Relation {
  return {
    ...r,
    options: inOrder(r.options, compareText),
    uniques: inOrder(r.uniques, byName),
    foreignKeys: inOrder(r.foreignKeys, byName),
    checks: inOrder(r.checks, byName),
    indexes: inOrder(r.indexes, byName),
    triggers: inOrder(r.triggers, byName),
    rules: inOrder(r.rules, byName),
    exclusions: inOrder(r.exclusions, byName),
    policies: r.policies.map((p) => ({ ...p, roles: inOrder(p.roles, compareText) })).toSorted(byName),
    foreign: r.foreign && {
      ...r.foreign,
      options: inOrder(r.foreign.options, compareText),
      columns: r.foreign.columns.map((c) => ({ ...c, options: inOrder(c.options, compareText) })).toSorted((a, b) => compareText(a.column, b.column)),
    },
    dependsOn: sortDependencies(r.dependsOn),
  }
}

function sortDependencies<D extends { kind: string; schema: string; name: string }>(list: readonly D[]): readonly D[] {
  return inOrder(list, (a, b) => compareParts([a.kind, a.schema, a.name], [b.kind, b.schema, b.name]))
}

/** The same structure with every list in natural order (code units, by parts); the order of columns, keys and labels is data and stays. */
export function sortCatalog(c: Catalog): Catalog {
  const dependants = <T extends { readonly dependsOn: Relation['dependsOn'] }>(o: T): T => ({ ...o, dependsOn: sortDependencies(o.dependsOn) })
  return {
    ...c,
    schemas: c.schemas.toSorted(byName),
    extensions: c.extensions.toSorted(byName),
    enums: c.enums.toSorted(compareAddress),
    domains: c.domains.map((d) => dependants({ ...d, checks: d.checks.toSorted(byName) })).toSorted(compareAddress),
    composites: c.composites.map(dependants).toSorted(compareAddress),
    ranges: c.ranges.map(dependants).toSorted(compareAddress),
    sequences: c.sequences.toSorted(compareAddress),
    relations: c.relations.map(sortRelation).toSorted(compareAddress),
    routines: c.routines.map(dependants).toSorted((a, b) => compareParts([a.schema, a.name, a.argumentTypes], [b.schema, b.name, b.argumentTypes])),
    objects: c.objects.map(dependants).toSorted((a, b) => compareParts([a.kind, a.schema, a.name], [b.kind, b.schema, b.name])),
    unmodelled: c.unmodelled.toSorted((a, b) => compareParts([a.kind, a.identity], [b.kind, b.identity])),
  }
}

/** Keys of every object of the format in the order its schema gives them; `JSON.stringify` prints these and no others. */
const keyOrder = Object.keys(s.catalog.shape)

/**
 * The canonical text of a sorted catalog: JSON, UTF-8, one object of each top-level list per line, so that it can be
 * compared by ordinary tools. Object keys come in the order of the schema, which every reader of ours builds them in.
 */
export function canonicalText(c: Catalog): string {
  const fields = keyOrder.map((key) => {
    const value = c[key as keyof Catalog]
    if (!Array.isArray(value)) return `${JSON.stringify(key)}: ${JSON.stringify(value)}`
    return value.length === 0 ? `${JSON.stringify(key)}: []` : `${JSON.stringify(key)}: [\n${value.map((v) => `  ${JSON.stringify(v)}`).join(',\n')}\n]`
  })
  return `{\n${fields.join(',\n')}\n}\n`
}

export function hashText(text: string): SnapshotHash {
  return bytesToHex(sha256(utf8ToBytes(text))) as SnapshotHash
}

/** Put a catalog from outside (a file, a test) into the canonical order of keys and lists. Throws a ZodError that names the path of what is wrong. */
export function decodeCatalog(value: unknown): Catalog {
  return sortCatalog(s.catalog.parse(filledCatalog(value)) as Catalog)
}

/** What a fresh database of the engine holds before anything is created in it. PostgreSQL: manual 5.9.2, the public schema. */
export function emptyCatalog(dialect: Dialect): Catalog {
  return {
    format: 'pelvok.catalog/1',
    dialect,
    schemas: dialect === 'postgresql' ? [{ name: 'public', comment: 'standard public schema' }] : [],
    extensions: [],
    enums: [],
    domains: [],
    composites: [],
    ranges: [],
    sequences: [],
    relations: [],
    routines: [],
    objects: [],
    unmodelled: [],
  }
}

/** Has it expressions that no server has printed? Then it was read from a script. */
export const isWritten = (c: Catalog): boolean => JSON.stringify(c).includes('"canonical":null')
