// Sequences, indexes and values of enumerated types under other names.
import { type Catalog, type Expression, isAddress, type RelationAddress } from '../catalog/index.ts'
import * as pg from '../dialect/postgres/index.ts'
import { rewriteTexts } from './rewriteTexts.ts'

const identities = (c: Catalog) => c.relations.flatMap((r) => r.columns.flatMap((x) => (x.identity?.sequence ? [x.identity.sequence] : [])))

/** Is there a sequence of this name, of its own or of an identity column? */
export const sequenceNamed = (c: Catalog, a: RelationAddress): boolean => c.sequences.some((s) => isAddress(a, s)) || identities(c).some((s) => isAddress(a, s))

/** Does a column own it? It goes where its table goes (manual, ALTER SEQUENCE, SET SCHEMA). */
export const isOwned = (c: Catalog, a: RelationAddress): boolean =>
  c.sequences.some((s) => isAddress(a, s) && s.ownedBy !== null) || identities(c).some((s) => isAddress(a, s))

/** Sequences that columns of a table own or count by, by the names they have. */
export const sequencesOf = (c: Catalog, table: RelationAddress): readonly RelationAddress[] => [
  ...c.sequences.flatMap((s) =>
    s.ownedBy && isAddress(table, { schema: s.ownedBy.schema, name: s.ownedBy.table }) ? [{ schema: s.schema, name: s.name }] : [],
  ),
  ...c.relations.flatMap((r) => (isAddress(table, r) ? r.columns.flatMap((x) => (x.identity?.sequence ? [x.identity.sequence] : [])) : [])),
]

/** `'field.crate_seq'` as the server writes it, and without its schema as people do. */
const inLiteral = (a: RelationAddress): readonly string[] => [pg.quoteLiteral(pg.quoteAddress(a)), pg.quoteLiteral(pg.quoteIdent(a.name))]

export function renameSequence(c: Catalog, from: RelationAddress, to: RelationAddress): Catalog {
  const moved = <T extends { readonly schema: string; readonly name: string }>(s: T): T => (isAddress(from, s) ? { ...s, ...to } : s)
  const [whole, bare] = inLiteral(from) as [string, string]
  const now = inLiteral(to)[0] as string
  // A bare name is looked up by a path that nobody knows here: it is this one where no other has it.
  const alone = c.sequences.filter((s) => s.name === from.name).length < 2
  const text = (sql: string) => {
    const named = sql.replaceAll(whole, now)
    return alone ? named.replaceAll(`nextval(${bare}`, `nextval(${now}`) : named
  }
  const needs = <T extends { readonly dependsOn: readonly { readonly kind: string; readonly schema: string; readonly name: string }[] }>(o: T): T => ({
    ...o,
    dependsOn: o.dependsOn.map((d) => (d.kind === 'sequence' ? moved(d) : d)),
  })
  const texts = rewriteTexts(c, (_, sql) => text(sql), text)
  return {
    ...texts,
    sequences: texts.sequences.map(moved),
    relations: texts.relations.map((r) => ({
      ...needs(r),
      columns: r.columns.map((x) => (x.identity?.sequence ? { ...x, identity: { ...x.identity, sequence: moved(x.identity.sequence) } } : x)),
    })),
    routines: texts.routines.map(needs),
    objects: texts.objects.map(needs),
    domains: texts.domains.map(needs),
  }
}

/** An index; those of partitions that are attached to it, and a replica identity by it, name it as well. */
export function renameIndex(c: Catalog, from: RelationAddress, to: RelationAddress): Catalog {
  const owner = c.relations.find((r) => r.schema === from.schema && r.indexes.some((x) => x.name === from.name))
  if (!owner) return c
  const name = (n: string) => (n === from.name ? to.name : n)
  return {
    ...c,
    relations: c.relations.map((r) => {
      if (r === owner)
        return {
          ...r,
          indexes: r.indexes.map((x) => ({ ...x, name: name(x.name) })),
          replicaIdentity: r.replicaIdentity.kind === 'index' ? { ...r.replicaIdentity, index: name(r.replicaIdentity.index) } : r.replicaIdentity,
        }
      if (!r.partitionOf || !isAddress(r.partitionOf.parent, owner)) return r
      return { ...r, indexes: r.indexes.map((x) => (x.attachedTo === null ? x : { ...x, attachedTo: name(x.attachedTo) })) }
    }),
  }
}

/** ALTER TYPE … RENAME VALUE: rows and texts that name the value follow (manual, ALTER TYPE). */
export function renameValue(c: Catalog, type: RelationAddress, from: string, to: string): Catalog {
  const [was, is] = [pg.quoteLiteral(from), pg.quoteLiteral(to)]
  const text = (sql: string) => [pg.quoteAddress(type), pg.quoteIdent(type.name)].reduce((t, name) => t.replaceAll(`${was}::${name}`, `${is}::${name}`), sql)
  const texts = rewriteTexts(c, (_, sql) => text(sql), text)
  const alone = (e: Expression | null): Expression | null => (e?.written === was ? { written: is, canonical: null } : e)
  const isOfType = (t: string) => t === pg.quoteAddress(type) || t === `${type.schema}.${type.name}`
  return {
    ...texts,
    enums: texts.enums.map((e) => (isAddress(type, e) ? { ...e, labels: e.labels.map((l) => (l === from ? to : l)) } : e)),
    relations: texts.relations.map((r) => ({ ...r, columns: r.columns.map((x) => (isOfType(x.type) ? { ...x, default: alone(x.default) } : x)) })),
    domains: texts.domains.map((d) => (isOfType(d.type) ? { ...d, default: alone(d.default) } : d)),
  }
}
