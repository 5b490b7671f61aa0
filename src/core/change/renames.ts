// Objects under other names: a Catalog as it is after the rename, texts that name them included as far as they can be told.
import { type Catalog, type Dependency, isAddress, parseAddress, type Relation, type RelationAddress, type Routine, relationText } from '../catalog/index.ts'
import { Scanner } from '../ddl/scanner.ts'
import * as pg from '../dialect/postgres/index.ts'
import { postgresLexis } from '../dialect/postgres/lexis.ts'
import { isOwned, renameIndex, renameSequence, renameValue, sequenceNamed, sequencesOf } from './renameObjects.ts'
import { rewriteTexts } from './rewriteTexts.ts'

/**
 * What is called otherwise: a relation or a column of one; a sequence or an index, whose names are relations' names; a value of an enumerated
 * type, said as a column is. `relation` is the name that it has when this rename is carried out.
 */
export type Rename =
  | { readonly of: 'relation'; readonly from: RelationAddress; readonly to: RelationAddress }
  | { readonly of: 'sequence'; readonly from: RelationAddress; readonly to: RelationAddress }
  | { readonly of: 'index'; readonly from: RelationAddress; readonly to: RelationAddress }
  | { readonly of: 'column'; readonly relation: RelationAddress; readonly from: string; readonly to: string }
  | { readonly of: 'value'; readonly relation: RelationAddress; readonly from: string; readonly to: string }

/** `field.bay=field.lane` or `field.bay(a)=field.bay(b)`; null for anything else. What has such a name, a catalog tells. */
export function parseRename(text: string): Rename | null {
  const [left, right, more] = text.split('=')
  const from = parseAddress(left ?? '')
  const to = parseAddress(right ?? '')
  if (!from || !to || more !== undefined || from.columns.length !== to.columns.length || from.columns.length > 1) return null
  const [a, b] = [from.columns[0], to.columns[0]]
  if (a === undefined || b === undefined) return { of: 'relation', from: { schema: from.schema, name: from.name }, to: { schema: to.schema, name: to.name } }
  const relation = { schema: from.schema, name: from.name }
  return relationText(relation) === relationText({ schema: to.schema, name: to.name }) ? { of: 'column', relation, from: a, to: b } : null
}

interface Token {
  readonly from: number
  readonly to: number
  readonly name: string
  /** Before it stands `.`; behind it stands `.`, `(` or neither. */
  readonly qualified: string | null
  readonly next: '.' | '(' | null
}

/** Names in a text of SQL, with what stands before and behind each. */
function tokens(text: string): readonly Token[] {
  const found: Token[] = []
  const s = new Scanner(text, postgresLexis)
  let before: string | null = null
  while (s.kind !== 'end') {
    if (s.kind !== 'word' && s.kind !== 'name') {
      if (!s.isMark('.')) before = null
      s.next()
      continue
    }
    const { from, to } = s
    const name = s.name()
    const next = s.isMark('.') ? '.' : s.isMark('(') ? '(' : null
    found.push({ from, to, name, qualified: before, next })
    before = next === '.' ? name : null
  }
  return found
}

function replaced(text: string, of: (t: Token) => string | null): string {
  let out = ''
  let kept = 0
  for (const t of tokens(text)) {
    const now = of(t)
    if (now === null) continue
    out += text.slice(kept, t.from) + now
    kept = t.to
  }
  return out + text.slice(kept)
}

function renameRelation(c: Catalog, from: RelationAddress, to: RelationAddress): Catalog {
  const moved = <T extends { readonly schema: string; readonly name: string }>(a: T): T => (isAddress(from, a) ? { ...a, schema: to.schema, name: to.name } : a)
  const needs = (list: readonly Dependency[]) => list.map((d) => (d.kind === 'relation' ? moved(d) : d))
  const text = (sql: string) => {
    if (!sql.includes(from.name)) return sql
    const list = tokens(sql)
    const named = list.some((t) => t.name === from.name && t.qualified === from.schema)
    if (!named) return sql
    return replaced(sql, (t) => {
      if (t.name === from.name && t.qualified === from.schema) return pg.quoteIdent(to.name)
      if (t.name === from.schema && t.next === '.' && list.some((n) => n.qualified === t.name && n.from > t.from && n.from <= t.to + 2 && n.name === from.name))
        return pg.quoteIdent(to.schema)
      return t.name === from.name && t.qualified === null && t.next === '.' ? pg.quoteIdent(to.name) : null
    })
  }
  const texts = rewriteTexts(c, (_, sql) => text(sql), text)
  const now: Catalog = {
    ...texts,
    relations: texts.relations.map((r) => ({
      ...moved(r),
      foreignKeys: r.foreignKeys.map((k) =>
        isAddress(from, { schema: k.target.schema, name: k.target.table }) ? { ...k, target: { ...k.target, schema: to.schema, table: to.name } } : k,
      ),
      inherits: r.inherits.map(moved),
      partitionOf: r.partitionOf && { ...r.partitionOf, parent: moved(r.partitionOf.parent) },
      dependsOn: needs(r.dependsOn),
    })),
    sequences: texts.sequences.map((s) =>
      s.ownedBy && isAddress(from, { schema: s.ownedBy.schema, name: s.ownedBy.table })
        ? { ...s, ownedBy: { ...s.ownedBy, schema: to.schema, table: to.name } }
        : s,
    ),
    routines: texts.routines.map((r) => ({ ...r, dependsOn: needs(r.dependsOn) })),
    objects: texts.objects.map((o) => ({ ...o, dependsOn: needs(o.dependsOn) })),
    domains: texts.domains.map((d) => ({ ...d, dependsOn: needs(d.dependsOn) })),
    composites: texts.composites.map((d) => ({ ...d, dependsOn: needs(d.dependsOn) })),
    ranges: texts.ranges.map((d) => ({ ...d, dependsOn: needs(d.dependsOn) })),
  }
  if (from.schema === to.schema) return now
  // SET SCHEMA takes sequences of columns along (manual, ALTER TABLE).
  return sequencesOf(now, to).reduce((x, s) => renameSequence(x, s, { schema: to.schema, name: s.name }), now)
}

/** The relation with its partitions and children, all levels: a column is renamed in all of them. */
function familyOf(c: Catalog, a: RelationAddress): readonly RelationAddress[] {
  const children = c.relations.filter((r) => r.inherits.some((p) => isAddress(p, a)) || (r.partitionOf && isAddress(r.partitionOf.parent, a)))
  return [a, ...children.flatMap((r) => familyOf(c, r))]
}

function renameColumn(c: Catalog, relation: RelationAddress, from: string, to: string): Catalog {
  const family = familyOf(c, relation)
  const isOf = (a: { readonly schema: string; readonly name: string }) => family.some((f) => isAddress(f, a))
  const name = (n: string) => (n === from ? to : n)
  const list = (names: readonly string[]) => names.map(name)
  const quoted = pg.quoteIdent(to)
  const bare = (sql: string) => (sql.includes(from) ? replaced(sql, (t) => (t.name === from && t.next !== '(' && t.next !== '.' ? quoted : null)) : sql)
  // In another relation's text only what is qualified with the table's name can be told; an output column keeps the name it had.
  const inQuery = (sql: string) => replaced(sql, (t) => (t.name === from && family.some((f) => f.name === t.qualified) ? quoted : null))
  const own = (r: Relation, sql: string) => (isOf(r) ? bare(sql) : r.dependsOn.some((d) => d.kind === 'relation' && isOf(d)) ? inView(r, sql) : sql)
  // With one table to read from, the server writes its columns bare.
  const inRoutine = (r: Routine, sql: string) => {
    const tables = r.dependsOn.filter((d) => d.kind === 'relation')
    if (!tables.some(isOf)) return sql
    return markOutput(tables.length === 1 ? replaced(sql, (t) => (t.name === from && t.next === null ? quoted : null)) : inQuery(sql), to, from)
  }
  const inView = (r: Relation, sql: string) => (r.columns.some((x) => x.name === from) ? markOutput(inQuery(sql), to, from) : inQuery(sql))
  const texts = rewriteTexts(c, own, (sql) => sql, inRoutine)
  const key = <K extends { readonly columns: readonly string[]; readonly include: readonly string[] }>(k: K): K => ({
    ...k,
    columns: list(k.columns),
    include: list(k.include),
  })
  const element = <T extends { readonly column: string | null }>(x: T): T => ({ ...x, column: x.column === null ? null : name(x.column) })
  return {
    ...texts,
    relations: texts.relations.map((r) => {
      const foreignKeys = r.foreignKeys.map((k) => ({
        ...k,
        columns: isOf(r) ? list(k.columns) : k.columns,
        onDeleteColumns: isOf(r) ? list(k.onDeleteColumns) : k.onDeleteColumns,
        target: isOf({ schema: k.target.schema, name: k.target.table }) ? { ...k.target, columns: list(k.target.columns) } : k.target,
      }))
      if (!isOf(r)) return { ...r, foreignKeys }
      return {
        ...r,
        foreignKeys,
        columns: r.columns.map((x) => (x.name === from ? { ...x, name: to } : x)),
        primaryKey: r.primaryKey && key(r.primaryKey),
        uniques: r.uniques.map(key),
        indexes: r.indexes.map((x) => ({ ...x, columns: x.columns.map(element), include: list(x.include) })),
        exclusions: r.exclusions.map((x) => ({ ...x, elements: x.elements.map(element), include: list(x.include) })),
        foreign: r.foreign && { ...r.foreign, columns: r.foreign.columns.map((x) => ({ ...x, column: name(x.column) })) },
      }
    }),
    sequences: texts.sequences.map((s) =>
      s.ownedBy && isOf({ schema: s.ownedBy.schema, name: s.ownedBy.table }) ? { ...s, ownedBy: { ...s.ownedBy, column: name(s.ownedBy.column) } } : s,
    ),
  }
}

/** `SELECT crate.weight` gives a column `weight`: once it is `crate.mass`, the server prints `crate.mass AS weight`. */
function markOutput(sql: string, now: string, was: string): string {
  const quoted = pg.quoteIdent(now).replace(/[.*+?^${}()|[\]\\]/g, '\\$&')
  const head = /\bFROM\b/i.exec(sql)?.index ?? sql.length
  return sql.slice(0, head).replace(new RegExp(`(\\.${quoted})(\\s*(?:,|$))`, 'g'), `$1 AS ${pg.quoteIdent(was)}$2`) + sql.slice(head)
}

/**
 * A query with the name from before a rename. Tables stand in it with their schema and columns behind an alias, as pre-checks write them; a
 * column of another table that has the new name as well is taken for it, which a query of one table and its target rarely has.
 */
export function nameBefore(sql: string, r: Rename): string {
  if (r.of === 'sequence' || r.of === 'index' || r.of === 'value') return sql
  if (r.of === 'relation') return sql.replaceAll(pg.quoteAddress(r.to), pg.quoteAddress(r.from))
  if (!sql.includes(pg.quoteAddress(r.relation))) return sql
  return replaced(sql, (t) => (t.name === r.to && t.next === null && (t.qualified === 't' || t.qualified === null) ? pg.quoteIdent(r.from) : null))
}

/** The catalog after one rename. Names of keys, indexes and constraints stay (manual, ALTER TABLE, RENAME). */
export function renamed(c: Catalog, rename: Rename): Catalog {
  const r = resolvedRename(c, rename)
  switch (r.of) {
    case 'relation':
      return renameRelation(c, r.from, r.to)
    case 'column':
      return renameColumn(c, r.relation, r.from, r.to)
    case 'sequence':
      return renameSequence(c, r.from, r.to)
    case 'index':
      return renameIndex(c, r.from, r.to)
    case 'value':
      return renameValue(c, r.relation, r.from, r.to)
  }
}

/** What the name is that of, where a catalog tells: tables, views, sequences and indexes share one space of names. */
export function resolvedRename(c: Catalog, r: Rename): Rename {
  if (r.of === 'relation' && !c.relations.some((x) => isAddress(r.from, x))) {
    if (sequenceNamed(c, r.from)) return { ...r, of: 'sequence' }
    if (c.relations.some((x) => x.schema === r.from.schema && x.indexes.some((i) => i.name === r.from.name))) return { ...r, of: 'index' }
  }
  if (r.of === 'column' && !c.relations.some((x) => isAddress(r.relation, x)) && c.enums.some((e) => isAddress(r.relation, e))) return { ...r, of: 'value' }
  return r
}

/** Is a name of relations, sequences and indexes taken? */
export const isTaken = (c: Catalog, a: RelationAddress): boolean =>
  c.relations.some(
    (r) =>
      isAddress(a, r) ||
      (r.schema === a.schema && [...r.indexes, ...r.uniques, ...r.exclusions, ...(r.primaryKey ? [r.primaryKey] : [])].some((x) => x.name === a.name)),
  ) || sequenceNamed(c, a)

/** Does what is renamed exist, and is the new name free? What is wrong, in words; null where nothing is. */
export function renameProblem(c: Catalog, rename: Rename): string | null {
  const r = resolvedRename(c, rename)
  if (r.of === 'value') {
    const type = c.enums.find((e) => isAddress(r.relation, e))
    if (!type?.labels.includes(r.from)) return `${relationText(r.relation)} has no value ${r.from}`
    return type.labels.includes(r.to) ? `${relationText(r.relation)} has a value ${r.to} already` : null
  }
  if (r.of === 'column') {
    const relation = c.relations.find((x) => isAddress(r.relation, x))
    if (!relation) return `there is no ${relationText(r.relation)}`
    if (!relation.columns.some((x) => x.name === r.from)) return `${relationText(r.relation)} has no column ${r.from}`
    return relation.columns.some((x) => x.name === r.to) ? `${relationText(r.relation)} has a column ${r.to} already` : null
  }
  if (r.of === 'relation' && !c.relations.some((x) => isAddress(r.from, x))) return `there is no ${relationText(r.from)}`
  if (isTaken(c, r.to)) return `there is a ${relationText(r.to)} already`
  if (r.of === 'index' && r.from.schema !== r.to.schema) return `${relationText(r.from)} stays in the schema of its table`
  if (r.of === 'sequence' && r.from.schema !== r.to.schema && isOwned(c, r.from)) return `${relationText(r.from)} stays in the schema of the table that owns it`
  return null
}
