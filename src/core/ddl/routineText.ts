// A routine's signature as the catalog keeps it (PostgreSQL, pg_get_function_arguments and pg_get_function_result).
import type { Routine } from '../catalog/index.ts'
import { at, type Draft, placedText, placeFor, type Writable } from './draft.ts'
import type { Name, Statement, TypeName } from './statement.ts'

type CreateRoutine = Extract<Statement, { kind: 'create routine' }>

export const routineKey = (r: { readonly schema: string; readonly name: string; readonly argumentTypes: string }): string =>
  `${at(r.schema, r.name)}\u0000${r.argumentTypes}`

const plain = (name: string | null, d: Draft) => (name === null ? '' : `${d.semantics.quote(name)} `)

/** Lengths of arguments say nothing to the server (manual, CREATE FUNCTION, Notes). */
const argumentType = (d: Draft, t: TypeName, routine: string) => {
  const type = d.semantics.type(t, d, routine)
  return d.semantics.dialect === 'postgresql' ? type.replace(/\([\d, -]+\)/, '') : type
}

export function routineOf(d: Draft, s: CreateRoutine): Writable<Routine> {
  const address = placeFor(d, s.name)
  const type = (t: TypeName) => argumentType(d, t, s.name.name)
  const inputs = s.parameters.filter((p) => p.mode !== 'out')
  const modes: Readonly<Record<string, string>> = { in: '', out: 'OUT ', inout: 'INOUT ', variadic: 'VARIADIC ' }
  const one = (p: CreateRoutine['parameters'][number]) =>
    `${s.of === 'procedure' && p.mode === 'in' ? 'IN ' : (modes[p.mode] ?? '')}${plain(p.name, d)}${type(p.type)}${p.default === null ? '' : ` DEFAULT ${p.default}`}`
  return {
    kind: s.of === 'function' && s.window ? 'window function' : s.of,
    schema: address.schema,
    name: address.name,
    argumentTypes: inputs.map((p) => type(p.type)).join(', '),
    arguments: [s.parameters.slice(0, s.orderedFrom ?? s.parameters.length), ...(s.orderedFrom === null ? [] : [s.parameters.slice(s.orderedFrom)])]
      .map((list) => list.map(one).join(', '))
      .join(' ORDER BY ')
      .trimStart(),
    returns: s.of === 'procedure' ? null : result(d, s, type),
    language: s.language.toLowerCase(),
    definition: placedText(d, s, address.schema),
    comment: null,
    dependsOn: [],
  }
}

function result(d: Draft, s: CreateRoutine, type: (t: TypeName) => string): string {
  const outs = s.parameters.filter((p) => p.mode === 'out' || p.mode === 'inout')
  if (s.returns === null) return outs.length === 1 ? type((outs[0] as (typeof outs)[number]).type) : outs.length > 1 ? 'record' : ''
  if ('table' in s.returns) return `TABLE(${s.returns.table.map((c) => `${plain(c.name, d)}${type(c.type)}`).join(', ')})`
  return `${s.returns.setOf ? 'SETOF ' : ''}${type(s.returns.type)}`
}

/** The routine that a name and types mean; by its name alone where only one has it. */
export function isReferenced(d: Draft, name: Name, types: readonly TypeName[] | null): { comment: string | null } | undefined {
  return findRoutine(d, name, types)?.routine
}

export function findRoutine(
  d: Draft,
  name: Name,
  types: readonly TypeName[] | null,
): { readonly key: string; readonly routine: Draft['routines'] extends Map<string, infer R> ? R : never } | undefined {
  const wanted = types?.map((t) => argumentType(d, t, name.name)).join(', ')
  const schemas = d.semantics.fixedSchema ? [''] : name.schema === null ? [...d.searchPath, d.semantics.defaultSchema] : [name.schema]
  const alike = [...d.routines].filter(([, r]) => r.name === name.name && schemas.includes(r.schema))
  const exact = alike.find(([, r]) => wanted !== undefined && r.argumentTypes === wanted)
  const found = exact ?? (alike.length === 1 && types === null ? alike[0] : undefined)
  return found ? { key: found[0], routine: found[1] } : undefined
}
