// CREATE and DROP for everything that is not a relation (manual, part VI, SQL commands).
import type { CompositeType, DefinedKind, DefinedObject, Domain, EnumeratedType, Extension, RangeType, Routine, Sequence } from '../../catalog/index.ts'
import { multirangeName } from './multirange.ts'
import { quoteAddress, quoteIdent, quoteLiteral } from './quote.ts'
import { reparsable } from './reparse.ts'
import { sequenceClauses } from './tableDdl.ts'

/** The statements that make one object, comment included, and the one that removes it. */
export interface Ddl {
  readonly up: readonly string[]
  readonly down: readonly string[]
}

const comment = (what: string, text: string | null): readonly string[] => (text === null ? [] : [`COMMENT ON ${what} IS ${quoteLiteral(text)};`])

export function schemaDdl(s: { readonly name: string; readonly comment: string | null }): Ddl {
  const name = quoteIdent(s.name)
  return { up: [`CREATE SCHEMA ${name};`, ...comment(`SCHEMA ${name}`, s.comment)], down: [`DROP SCHEMA ${name};`] }
}

/** The schema "public" exists from the start (manual 5.9.2): only its comment can differ. */
export function publicSchemaDdl(was: string | null, is: string | null): Ddl {
  const set = (text: string | null) => `COMMENT ON SCHEMA public IS ${text === null ? 'NULL' : quoteLiteral(text)};`
  return was === is ? { up: [], down: [] } : { up: [set(is)], down: [set(was)] }
}

/** In the version that the server installs by default, as a dump says it: another server may not have this one. */
export function extensionDdl(e: Extension): Ddl {
  const name = quoteIdent(e.name)
  return {
    up: [`CREATE EXTENSION ${name} WITH SCHEMA ${quoteIdent(e.schema)};`, ...comment(`EXTENSION ${name}`, e.comment)],
    down: [`DROP EXTENSION ${name};`],
  }
}

export function enumDdl(t: EnumeratedType): Ddl {
  const name = quoteAddress(t)
  return {
    up: [`CREATE TYPE ${name} AS ENUM (${t.labels.map(quoteLiteral).join(', ')});`, ...comment(`TYPE ${name}`, t.comment)],
    down: [`DROP TYPE ${name};`],
  }
}

export function domainDdl(d: Domain): Ddl {
  const name = quoteAddress(d)
  const clauses = [
    `CREATE DOMAIN ${name} AS ${d.type}`,
    ...(d.collation === null ? [] : [`COLLATE ${quoteAddress(d.collation)}`]),
    ...(d.default === null ? [] : [`DEFAULT ${reparsable(d.default.written)}`]),
    ...(d.nullable ? [] : ['NOT NULL']),
    ...d.checks.filter((c) => c.validated).map((c) => `CONSTRAINT ${quoteIdent(c.name)} CHECK (${reparsable(c.expression.written)})`),
  ]
  return {
    up: [
      `${clauses.join('\n    ')};`,
      ...d.checks
        .filter((c) => !c.validated)
        .map((c) => `ALTER DOMAIN ${name} ADD CONSTRAINT ${quoteIdent(c.name)} CHECK (${reparsable(c.expression.written)}) NOT VALID;`),
      ...comment(`DOMAIN ${name}`, d.comment),
      ...d.checks.flatMap((c) => comment(`CONSTRAINT ${quoteIdent(c.name)} ON DOMAIN ${name}`, c.comment)),
    ],
    down: [`DROP DOMAIN ${name};`],
  }
}

export function compositeDdl(t: CompositeType): Ddl {
  const name = quoteAddress(t)
  const attributes = t.attributes.map((a) => `${quoteIdent(a.name)} ${a.type}${a.collation === null ? '' : ` COLLATE ${quoteAddress(a.collation)}`}`)
  return {
    up: [
      `CREATE TYPE ${name} AS (\n    ${attributes.join(',\n    ')}\n);`,
      ...comment(`TYPE ${name}`, t.comment),
      ...t.attributes.flatMap((a) => comment(`COLUMN ${name}.${quoteIdent(a.name)}`, a.comment)),
    ],
    down: [`DROP TYPE ${name};`],
  }
}

/** CREATE TYPE … AS RANGE; the multirange comes along (manual 8.17.8), and is named where it is not called as it would be: servers before 14 have none. */
export function rangeDdl(t: RangeType): Ddl {
  const name = quoteAddress(t)
  const clauses = [
    `SUBTYPE = ${t.subtype}`,
    ...(t.operatorClass === null ? [] : [`SUBTYPE_OPCLASS = ${quoteAddress(t.operatorClass)}`]),
    ...(t.collation === null ? [] : [`COLLATION = ${quoteAddress(t.collation)}`]),
    ...(t.canonical === null ? [] : [`CANONICAL = ${quoteAddress(t.canonical)}`]),
    ...(t.difference === null ? [] : [`SUBTYPE_DIFF = ${quoteAddress(t.difference)}`]),
    ...(t.multirange === null || (t.multirange.schema === t.schema && t.multirange.name === multirangeName(t.name))
      ? []
      : [`MULTIRANGE_TYPE_NAME = ${quoteAddress(t.multirange)}`]),
  ]
  return { up: [`CREATE TYPE ${name} AS RANGE (${clauses.join(', ')});`, ...comment(`TYPE ${name}`, t.comment)], down: [`DROP TYPE ${name};`] }
}

const definedWords: Readonly<Partial<Record<DefinedKind, string>>> = { 'statistics object': 'STATISTICS', 'foreign-data wrapper': 'FOREIGN DATA WRAPPER' }

/** `COLLATION field.kurz`: an object that is kept as text, as commands name it. */
export const definedName = (o: DefinedObject): string =>
  `${definedWords[o.kind] ?? o.kind.toUpperCase()} ${o.schema === '' ? '' : `${quoteIdent(o.schema)}.`}${o.name}`

/** An object that is kept as the statements that make it. */
export function definedDdl(o: DefinedObject): Ddl {
  const name = definedName(o)
  return { up: [...o.definition.map((d) => `${reparsable(d.written).trimEnd().replace(/;$/, '')};`), ...comment(name, o.comment)], down: [`DROP ${name};`] }
}

/** A type as a name alone, which functions that the type itself needs can refer to (manual, CREATE TYPE, Base Types). Dropping it takes them along. */
export function shellDdl(t: { readonly schema: string; readonly name: string }): Ddl {
  const name = quoteAddress(t)
  return { up: [`CREATE TYPE ${name};`], down: [`DROP TYPE ${name} CASCADE;`] }
}

export function sequenceDdl(s: Sequence): Ddl {
  const name = quoteAddress(s)
  return {
    up: [
      `CREATE ${s.unlogged ? 'UNLOGGED ' : ''}SEQUENCE ${name} AS ${s.options.type} ${sequenceClauses(s.options)};`,
      ...comment(`SEQUENCE ${name}`, s.comment),
    ],
    down: [`DROP SEQUENCE ${name};`],
  }
}

/** OWNED BY ties a sequence to a column; untied again on the way back, or dropping the table would take the sequence along. */
export function sequenceOwnerDdl(s: Sequence): Ddl {
  if (s.ownedBy === null) return { up: [], down: [] }
  const column = `${quoteAddress({ schema: s.ownedBy.schema, name: s.ownedBy.table })}.${quoteIdent(s.ownedBy.column)}`
  return { up: [`ALTER SEQUENCE ${quoteAddress(s)} OWNED BY ${column};`], down: [`ALTER SEQUENCE ${quoteAddress(s)} OWNED BY NONE;`] }
}

const routineWords: Readonly<Record<Routine['kind'], string>> = {
  function: 'FUNCTION',
  procedure: 'PROCEDURE',
  'window function': 'FUNCTION',
  aggregate: 'AGGREGATE',
}

/** `FUNCTION field.area(integer)`: a routine as commands name it. */
export function routineName(r: Routine): string {
  // An ordered-set aggregate is told by its arguments as declared, ORDER BY included.
  const declared = r.kind === 'aggregate' && r.arguments.includes('ORDER BY') ? r.arguments : r.argumentTypes
  const input = r.kind === 'aggregate' && declared === '' ? '*' : declared
  return `${routineWords[r.kind]} ${quoteAddress(r)}(${input})`
}

export function routineDdl(r: Routine): Ddl {
  const name = routineName(r)
  return { up: [`${r.definition.written.trimEnd().replace(/;$/, '')};`, ...comment(name, r.comment)], down: [`DROP ${name};`] }
}
