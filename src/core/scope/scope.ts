// The scope: which relations, columns and routines of a snapshot take part. A fold of the ledger; what nobody left out takes part.
import { columnsText, type RelationAddress, type Routine, relationText } from '../catalog/index.ts'
import { activeEntries, editsOf, type LedgerEntry } from '../model/index.ts'

export type TakesPart = 'in' | 'out'

export interface Scope {
  /** By schema name; what was said of one of its objects later counts more. */
  readonly schemas: ReadonlyMap<string, TakesPart>
  /** By subject: relations, columns, routines. */
  readonly subjects: ReadonlyMap<string, TakesPart>
  /** The same text for the same scope; "" where everything takes part. */
  readonly key: string
}

const schemaMark = 'schema:'
const routineMark = 'routine:'

/** Subjects of scope edits. No address of a relation has a colon in it. */
export const schemaSubject = (schema: string): string => `${schemaMark}${schema}`
export const routineSubject = (r: Pick<Routine, 'schema' | 'name' | 'argumentTypes'>): string => `${routineMark}${relationText(r)}(${r.argumentTypes})`
export const columnSubject = (r: RelationAddress, column: string): string => columnsText(r, [column])

const isOfSchema = (subject: string, schema: string): boolean => {
  const prefix = relationText({ schema, name: '' })
  const address = subject.startsWith(routineMark) ? subject.slice(routineMark.length) : subject
  return schema === '' || address.startsWith(prefix)
}
const isColumn = (subject: string) => !subject.startsWith(routineMark) && subject.endsWith(')')

/** What is said of a schema replaces what was said of its relations and routines before; columns left out stay left out. O(edits). */
export function foldScope(entries: readonly LedgerEntry[]): Scope {
  const schemas = new Map<string, TakesPart>()
  const subjects = new Map<string, TakesPart>()
  for (const entry of activeEntries(entries)) {
    for (const e of editsOf(entry)) {
      if (e.facet !== 'scope') continue
      if (!e.subject.startsWith(schemaMark)) {
        subjects.set(e.subject, e.value)
        continue
      }
      const schema = e.subject.slice(schemaMark.length)
      schemas.set(schema, e.value)
      for (const subject of [...subjects.keys()]) if (!isColumn(subject) && isOfSchema(subject, schema)) subjects.delete(subject)
    }
  }
  const said = [...[...schemas].map(([s, v]) => `${schemaSubject(s)} ${v}`), ...[...subjects].map(([s, v]) => `${s} ${v}`)]
  return { schemas, subjects, key: said.some((x) => x.endsWith(' out')) ? said.sort().join('\n') : '' }
}

export const relationTakesPart = (s: Scope, r: RelationAddress): boolean => (s.subjects.get(relationText(r)) ?? s.schemas.get(r.schema) ?? 'in') === 'in'
export const columnTakesPart = (s: Scope, r: RelationAddress, column: string): boolean => (s.subjects.get(columnSubject(r, column)) ?? 'in') === 'in'
export const routineTakesPart = (s: Scope, r: Pick<Routine, 'schema' | 'name' | 'argumentTypes'>): boolean =>
  (s.subjects.get(routineSubject(r)) ?? s.schemas.get(r.schema) ?? 'in') === 'in'
