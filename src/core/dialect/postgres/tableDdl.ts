// CREATE and DROP for relations and what hangs on them, one small function per clause (manual, CREATE TABLE, ALTER TABLE, CREATE INDEX).
import type {
  CheckConstraint,
  Column,
  Exclusion,
  ForeignKey,
  Index,
  KeyConstraint,
  Policy,
  Relation,
  RelationAddress,
  SequenceOptions,
} from '../../catalog/index.ts'
import { quoteAddress, quoteColumns, quoteIdent, quoteLiteral } from './quote.ts'
import { reparsable } from './reparse.ts'

const actionWords: Readonly<Record<ForeignKey['onDelete'], string>> = {
  'no action': 'NO ACTION',
  restrict: 'RESTRICT',
  cascade: 'CASCADE',
  'set null': 'SET NULL',
  'set default': 'SET DEFAULT',
}
export const deferrableWords: Readonly<Record<KeyConstraint['deferrable'], string>> = {
  no: '',
  'initially immediate': ' DEFERRABLE',
  'initially deferred': ' DEFERRABLE INITIALLY DEFERRED',
}
export const collate = (c: RelationAddress | null) => (c === null ? '' : ` COLLATE ${quoteAddress(c)}`)
const withOptions = (options: readonly string[]) => (options.length === 0 ? '' : ` WITH (${options.map(optionText).join(', ')})`)

/** `name=value` as stored in reloptions; the value is quoted unless it is a plain word or number. */
export function optionText(option: string): string {
  const at = option.indexOf('=')
  const value = option.slice(at + 1)
  return `${option.slice(0, at)}=${/^[\w.]+$/.test(value) ? value : quoteLiteral(value)}`
}

/** `START WITH 1 INCREMENT BY 1 …`: every option written out, so that no server default decides. */
export function sequenceClauses(o: SequenceOptions): string {
  return `START WITH ${o.start} INCREMENT BY ${o.increment} MINVALUE ${o.minimum} MAXVALUE ${o.maximum} CACHE ${o.cache}${o.cycle ? ' CYCLE' : ''}`
}

export function identityClause({ generation, sequence, options }: NonNullable<Column['identity']>): string {
  const inner = [...(sequence ? [`SEQUENCE NAME ${quoteAddress(sequence)}`] : []), ...(options ? [sequenceClauses(options)] : [])].join(' ')
  return `GENERATED ${generation === 'always' ? 'ALWAYS' : 'BY DEFAULT'} AS IDENTITY${inner === '' ? '' : ` (${inner})`}`
}

/** `name type … NOT NULL`: a column as CREATE TABLE and ADD COLUMN say it. */
export function columnClause(r: Relation, c: Column, withDefault: boolean): string {
  const type = r.ofType === null ? `${c.type}${c.compression === null ? '' : ` COMPRESSION ${c.compression}`}` : 'WITH OPTIONS'
  const foreign = r.foreign?.columns.find((x) => x.column === c.name)
  const parts = [`${quoteIdent(c.name)} ${type}${foreign ? ` ${foreignOptions(foreign.options)}` : ''}${r.ofType === null ? collate(c.collation) : ''}`]
  if (c.generated) parts.push(`GENERATED ALWAYS AS (${reparsable(c.generated.expression.written)})${c.generated.kept === 'stored' ? ' STORED' : ' VIRTUAL'}`)
  if (c.identity) parts.push(identityClause(c.identity))
  if (c.default && withDefault) parts.push(`DEFAULT ${reparsable(c.default.written)}`)
  if (!c.nullable) parts.push('NOT NULL')
  return parts.join(' ')
}

/** `CONSTRAINT name UNIQUE (a, b)` */
export function keyClause(k: KeyConstraint, word: 'PRIMARY KEY' | 'UNIQUE'): string {
  const include = k.include.length === 0 ? '' : ` INCLUDE ${quoteColumns(k.include)}`
  return `CONSTRAINT ${quoteIdent(k.name)} ${word}${k.nullsNotDistinct ? ' NULLS NOT DISTINCT' : ''} ${quoteColumns(k.columns)}${include}${withOptions(k.options)}${deferrableWords[k.deferrable]}`
}

/** `CONSTRAINT name CHECK (…)` */
export function checkClause(c: CheckConstraint): string {
  return `CONSTRAINT ${quoteIdent(c.name)} CHECK (${reparsable(c.expression.written)})${c.inheritable ? '' : ' NO INHERIT'}${c.validated ? '' : ' NOT VALID'}`
}

/** `OPTIONS (table_name 'crate')` */
export const foreignOptions = (options: readonly string[]): string =>
  `OPTIONS (${options.map((o) => `${quoteIdent(o.slice(0, o.indexOf('=')))} ${quoteLiteral(o.slice(o.indexOf('=') + 1))}`).join(', ')})`

/** What of a table is left out of CREATE TABLE and made later, because it needs something that needs the table. */
export interface Deferred {
  readonly defaultsAndChecks: boolean
}

/** Within one CREATE TABLE a second key over the same columns is taken for the first (parse_utilcmd.c, transformIndexConstraints). */
function repeats(r: Relation, u: KeyConstraint): boolean {
  const before = [...(r.primaryKey ? [r.primaryKey] : []), ...r.uniques.slice(0, r.uniques.indexOf(u))]
  return before.some((k) => JSON.stringify([k.columns, k.include, k.deferrable]) === JSON.stringify([u.columns, u.include, u.deferrable]))
}

/** CREATE TABLE with columns, defaults, checks and keys in place. A partition is made as a table of its own and attached by `attachPartition`. */
export function createTable(r: Relation, later: Deferred): string {
  const said = (c: Column) => !c.inherited && (r.ofType === null || !c.nullable || c.default !== null || c.generated !== null || c.identity !== null)
  const lines = [
    ...r.columns.filter(said).map((c) => columnClause(r, c, !later.defaultsAndChecks)),
    ...(later.defaultsAndChecks ? [] : r.checks.filter((c) => c.validated && isOwn(r, c)).map(checkClause)),
    ...(r.primaryKey ? [keyClause(r.primaryKey, 'PRIMARY KEY')] : []),
    ...r.uniques.filter((u) => !repeats(r, u)).map((u) => keyClause(u, 'UNIQUE')),
  ]
  const body = lines.length > 0 ? ` (\n    ${lines.join(',\n    ')}\n)` : r.ofType === null ? ' ()' : ''
  const word = r.unlogged ? 'UNLOGGED TABLE' : wordFor(r)
  const of = r.ofType === null ? '' : ` OF ${quoteAddress(r.ofType)}`
  const inherits = r.inherits.length === 0 ? '' : `\nINHERITS (${r.inherits.map(quoteAddress).join(', ')})`
  const partitioned = r.partitionKey === null ? '' : `\nPARTITION BY ${r.partitionKey}`
  const server = r.foreign ? `\nSERVER ${quoteIdent(r.foreign.server)}${r.foreign.options.length === 0 ? '' : ` ${foreignOptions(r.foreign.options)}`}` : ''
  const method = r.accessMethod === null ? '' : ` USING ${quoteIdent(r.accessMethod)}`
  return `CREATE ${word} ${quoteAddress(r)}${of}${body}${inherits}${partitioned}${server}${method}${withOptions(r.options)};`
}

/** A child has its parents' checks from them; a partition must have them before it is attached. */
const isOwn = (r: Relation, c: CheckConstraint) => !c.inherited || r.inherits.length === 0

/** Where a child says more of an inherited column than its parents do: a default of its own or none, NOT NULL. */
export function inheritedColumns(r: Relation, parents: readonly Relation[]): readonly string[] {
  const alter = (c: Column, what: string) => `ALTER TABLE ONLY ${quoteAddress(r)} ALTER COLUMN ${quoteIdent(c.name)} ${what};`
  return r.columns
    .filter((c) => c.inherited)
    .flatMap((c) => {
      const above = parents.flatMap((p) => p.columns.find((x) => x.name === c.name) ?? [])
      const default_ = above.find((x) => x.default !== null)?.default?.written
      return [
        ...(c.default !== null && c.default.written !== default_ ? [alter(c, `SET DEFAULT ${reparsable(c.default.written)}`)] : []),
        ...(c.default === null && default_ !== undefined ? [alter(c, 'DROP DEFAULT')] : []),
        ...(!c.nullable && above.every((x) => x.nullable) ? [alter(c, 'SET NOT NULL')] : []),
      ]
    })
}

export function attachPartition(r: Relation): readonly string[] {
  return r.partitionOf === null ? [] : [`ALTER TABLE ONLY ${quoteAddress(r.partitionOf.parent)} ATTACH PARTITION ${quoteAddress(r)} ${r.partitionOf.bound};`]
}

/** Defaults and checks that CREATE TABLE left out. */
export function addDeferred(r: Relation): readonly string[] {
  const alter = `ALTER TABLE ${r.partitionKey === null ? 'ONLY ' : ''}${quoteAddress(r)}`
  return [
    ...r.columns.flatMap((c) => (c.default ? [`${alter} ALTER COLUMN ${quoteIdent(c.name)} SET DEFAULT ${reparsable(c.default.written)};`] : [])),
    ...r.checks.filter((c) => c.validated && !c.inherited).map((c) => `ALTER TABLE ${quoteAddress(r)} ADD ${checkClause(c)};`),
  ]
}

/** Settings of a table that have no place in CREATE TABLE. */
export function tableSettings(r: Relation): readonly string[] {
  const alter = `ALTER TABLE ONLY ${quoteAddress(r)}`
  const clustered = [...(r.primaryKey ? [r.primaryKey] : []), ...r.uniques].find((k) => k.clustered)
  const replica = r.replicaIdentity
  return [
    ...r.uniques.filter((u) => repeats(r, u)).map((u) => `ALTER TABLE ${quoteAddress(r)} ADD ${keyClause(u, 'UNIQUE')};`),
    ...r.checks.filter((c) => !c.validated && isOwn(r, c)).map((c) => `ALTER TABLE ${quoteAddress(r)} ADD ${checkClause(c)};`),
    ...r.columns.flatMap((c) => (c.storage === null ? [] : [`${alter} ALTER COLUMN ${quoteIdent(c.name)} SET STORAGE ${c.storage.toUpperCase()};`])),
    ...r.columns.flatMap((c) => (c.statisticsTarget === null ? [] : [`${alter} ALTER COLUMN ${quoteIdent(c.name)} SET STATISTICS ${c.statisticsTarget};`])),
    ...r.columns.flatMap((c) => (c.options.length === 0 ? [] : [`${alter} ALTER COLUMN ${quoteIdent(c.name)} SET (${c.options.map(optionText).join(', ')});`])),
    ...(clustered ? [`ALTER TABLE ${quoteAddress(r)} CLUSTER ON ${quoteIdent(clustered.name)};`] : []),
    ...(r.foreign || (replica.kind !== 'full' && replica.kind !== 'nothing') ? [] : [`${alter} REPLICA IDENTITY ${replica.kind.toUpperCase()};`]),
    ...(r.rowSecurity === 'off' ? [] : [`ALTER TABLE ${quoteAddress(r)} ENABLE ROW LEVEL SECURITY;`]),
    ...(r.rowSecurity === 'forced' ? [`ALTER TABLE ONLY ${quoteAddress(r)} FORCE ROW LEVEL SECURITY;`] : []),
  ]
}

/** An index may be the replica identity; it is set once the index exists. */
export function replicaIndex(r: Relation): readonly string[] {
  return r.replicaIdentity.kind === 'index' ? [`ALTER TABLE ONLY ${quoteAddress(r)} REPLICA IDENTITY USING INDEX ${quoteIdent(r.replicaIdentity.index)};`] : []
}

/** CREATE VIEW, CREATE MATERIALIZED VIEW (empty: `refresh` fills it once everything exists). Columns keep the names of the catalog. */
export function createView(r: Relation): string {
  const word = r.kind === 'materialized view' ? 'MATERIALIZED VIEW' : 'VIEW'
  const query = reparsable(r.definition?.written ?? '')
    .trimEnd()
    .replace(/;$/, '')
  // The server prints a query with the columns' names in it; an author may have put them before it.
  const columns = r.definition?.canonical === null && r.columns.length > 0 ? ` ${quoteColumns(r.columns.map((c) => c.name))}` : ''
  return `CREATE ${word} ${quoteAddress(r)}${columns}${withOptions(r.options)} AS\n${query}${r.kind === 'materialized view' ? '\nWITH NO DATA' : ''};`
}

export function viewDefaults(r: Relation): readonly string[] {
  return r.columns.flatMap((c) =>
    c.default ? [`ALTER VIEW ${quoteAddress(r)} ALTER COLUMN ${quoteIdent(c.name)} SET DEFAULT ${reparsable(c.default.written)};`] : [],
  )
}

/** ALTER TABLE … ADD FOREIGN KEY. On a partitioned table it reaches the partitions as well. */
export function addForeignKey(r: Relation, f: ForeignKey): string {
  const target = `${quoteAddress({ schema: f.target.schema, name: f.target.table })}${quoteColumns(f.target.columns)}`
  const match = f.match === 'simple' ? '' : ` MATCH ${f.match.toUpperCase()}`
  const update = f.onUpdate === 'no action' ? '' : ` ON UPDATE ${actionWords[f.onUpdate]}`
  const limited = f.onDeleteColumns.length === 0 ? '' : ` ${quoteColumns(f.onDeleteColumns)}`
  const remove = f.onDelete === 'no action' ? '' : ` ON DELETE ${actionWords[f.onDelete]}${limited}`
  const only = r.partitionKey === null ? 'ONLY ' : ''
  return `ALTER TABLE ${only}${quoteAddress(r)} ADD CONSTRAINT ${quoteIdent(f.name)} FOREIGN KEY ${quoteColumns(f.columns)} REFERENCES ${target}${match}${update}${remove}${deferrableWords[f.deferrable]}${f.validated ? '' : ' NOT VALID'};`
}

function indexColumn(c: Index['columns'][number]): string {
  const what = c.column === null ? wrapped(reparsable(c.expression?.written ?? '')) : quoteIdent(c.column)
  const options = c.operatorClassOptions.length === 0 ? '' : ` (${c.operatorClassOptions.map(optionText).join(', ')})`
  const order = c.descending ? ' DESC' : ''
  const nulls = c.nullsFirst === c.descending ? '' : c.nullsFirst ? ' NULLS FIRST' : ' NULLS LAST'
  return `${what}${collate(c.collation)}${c.operatorClass === null ? '' : ` ${quoteAddress(c.operatorClass)}`}${options}${order}${nulls}`
}

/** Expressions stand in brackets unless they are a function call; brackets are always right. */
const wrapped = (expression: string) => (expression.startsWith('(') && expression.endsWith(')') ? expression : `(${expression})`)

export function createIndex(r: Relation, x: Index): readonly string[] {
  const only = r.partitionKey === null ? '' : 'ONLY '
  const include = x.include.length === 0 ? '' : ` INCLUDE ${quoteColumns(x.include)}`
  const where = x.predicate === null ? '' : ` WHERE ${reparsable(x.predicate.written)}`
  const name = quoteAddress({ schema: r.schema, name: x.name })
  return [
    `CREATE ${x.unique ? 'UNIQUE ' : ''}INDEX ${quoteIdent(x.name)} ON ${only}${quoteAddress(r)} USING ${quoteIdent(x.method)} (${x.columns.map(indexColumn).join(', ')})${include}${x.nullsNotDistinct ? ' NULLS NOT DISTINCT' : ''}${withOptions(x.options)}${where};`,
    ...x.statistics.map((s) => `ALTER INDEX ${name} ALTER COLUMN ${s.position} SET STATISTICS ${s.target};`),
    ...(x.clustered ? [`ALTER TABLE ${quoteAddress(r)} CLUSTER ON ${quoteIdent(x.name)};`] : []),
  ]
}

/** A partition's index becomes part of its parent's. Keys are attached by ATTACH PARTITION itself. */
export function attachIndex(r: Relation, x: Index): readonly string[] {
  if (x.attachedTo === null || r.partitionOf === null) return []
  return [
    `ALTER INDEX ${quoteAddress({ schema: r.partitionOf.parent.schema, name: x.attachedTo })} ATTACH PARTITION ${quoteAddress({ schema: r.schema, name: x.name })};`,
  ]
}

/** ADD CONSTRAINT … EXCLUDE. */
export function addExclusion(r: Relation, x: Exclusion): readonly string[] {
  const operator = (o: RelationAddress) => (o.schema === 'pg_catalog' ? o.name : `OPERATOR(${quoteIdent(o.schema)}.${o.name})`)
  const elements = x.elements.map((e) => `${indexColumn(e)} WITH ${operator(e.operator)}`)
  const include = x.include.length === 0 ? '' : ` INCLUDE ${quoteColumns(x.include)}`
  const where = x.predicate === null ? '' : ` WHERE (${reparsable(x.predicate.written)})`
  const name = quoteIdent(x.name)
  return [
    `ALTER TABLE ${quoteAddress(r)} ADD CONSTRAINT ${name} EXCLUDE USING ${quoteIdent(x.method)} (${elements.join(', ')})${include}${withOptions(x.options)}${where}${deferrableWords[x.deferrable]};`,
    ...(x.clustered ? [`ALTER TABLE ${quoteAddress(r)} CLUSTER ON ${name};`] : []),
    ...commentOn(`CONSTRAINT ${name} ON ${quoteAddress(r)}`, x.comment),
    ...commentOn(`INDEX ${quoteAddress({ schema: r.schema, name: x.name })}`, x.indexComment),
  ]
}

export function createPolicy(r: Relation, p: Policy): readonly string[] {
  const name = `${quoteIdent(p.name)} ON ${quoteAddress(r)}`
  const roles = p.roles.length === 0 ? '' : ` TO ${p.roles.map(quoteIdent).join(', ')}`
  const using = p.using === null ? '' : ` USING (${reparsable(p.using.written)})`
  const check = p.check === null ? '' : ` WITH CHECK (${reparsable(p.check.written)})`
  return [
    `CREATE POLICY ${name}${p.permissive ? '' : ' AS RESTRICTIVE'}${p.command === 'all' ? '' : ` FOR ${p.command.toUpperCase()}`}${roles}${using}${check};`,
    ...commentOn(`POLICY ${name}`, p.comment),
  ]
}

const fireWords = { origin: null, replica: 'ENABLE REPLICA', always: 'ENABLE ALWAYS', disabled: 'DISABLE' } as const

/** A trigger or rule by its definition text, then how it fires where that is not the default. */
export function createDefined(r: Relation, d: Relation['triggers'][number], word: 'TRIGGER' | 'RULE'): readonly string[] {
  const fires = fireWords[d.fires]
  return [
    `${reparsable(d.definition.written).trimEnd().replace(/;$/, '')};`,
    ...(fires === null ? [] : [`ALTER TABLE ${quoteAddress(r)} ${fires} ${word} ${quoteIdent(d.name)};`]),
  ]
}

const relationWords: Readonly<Record<Relation['kind'], string>> = {
  table: 'TABLE',
  'partitioned table': 'TABLE',
  partition: 'TABLE',
  view: 'VIEW',
  'materialized view': 'MATERIALIZED VIEW',
  'foreign table': 'FOREIGN TABLE',
}

/** A partition may be a foreign table. */
export const wordFor = (r: Relation): string => (r.foreign ? 'FOREIGN TABLE' : relationWords[r.kind])

export function dropRelation(r: Relation): string {
  return `DROP ${wordFor(r)} ${quoteAddress(r)};`
}

const commentOn = (what: string, text: string | null): readonly string[] => (text === null ? [] : [`COMMENT ON ${what} IS ${quoteLiteral(text)};`])

/** Comments on a relation, its columns and its keys and checks. */
export function relationComments(r: Relation): readonly string[] {
  const constraints = [...(r.primaryKey ? [r.primaryKey] : []), ...r.uniques, ...r.checks]
  return [
    ...commentOn(`${wordFor(r)} ${quoteAddress(r)}`, r.comment),
    ...r.columns.flatMap((c) => commentOn(`COLUMN ${quoteAddress(r)}.${quoteIdent(c.name)}`, c.comment)),
    ...constraints.flatMap((c) => commentOn(`CONSTRAINT ${quoteIdent(c.name)} ON ${quoteAddress(r)}`, c.comment)),
    ...constraints.flatMap((c) => ('indexComment' in c ? commentOn(`INDEX ${quoteAddress({ schema: r.schema, name: c.name })}`, c.indexComment) : [])),
    ...r.columns.flatMap((c) => (c.identity?.sequence ? commentOn(`SEQUENCE ${quoteAddress(c.identity.sequence)}`, c.identity.comment) : [])),
  ]
}

/** Comment on something that lives on a relation. */
export function partComment(
  word: 'CONSTRAINT' | 'TRIGGER' | 'RULE',
  r: Relation,
  part: { readonly name: string; readonly comment: string | null },
): readonly string[] {
  return commentOn(`${word} ${quoteIdent(part.name)} ON ${quoteAddress(r)}`, part.comment)
}

export function indexComment(r: Relation, x: Index): readonly string[] {
  return commentOn(`INDEX ${quoteAddress({ schema: r.schema, name: x.name })}`, x.comment)
}
