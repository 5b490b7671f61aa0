// Functions and procedures of the database, a typed call each.
import type { CalledRoutine, EntityModel, RoutineParameter } from '../../model/index.ts'
import { assignNames, camelCase, pascalCase, splitWords } from '../../names/index.ts'
import type { EmitContext } from './entityFile.ts'
import { address, capital, columnList, ident, inTemplate, plainSql, sqlLiteral } from './storeParts.ts'
import { docComment, localName, quoteText } from './text.ts'

const typed = (type: string) => ({ type, values: null, flag: null, target: null, shape: null })

/** Names of the calls and of the rows they give, clear of all else that the files declare. */
function namesOf(x: EmitContext): ReadonlyMap<CalledRoutine, { readonly call: string; readonly row: string }> {
  const { model } = x
  const declared = [...x.declared.values()].flatMap((d) => Object.values(d) as string[])
  const types = [...model.enumerations, ...model.namedTypes, ...model.composites, ...model.groups].map((t) => t.typeName)
  const taken = new Set([...model.entities.map((e) => e.name), ...types, ...Object.values(model.typeNames), ...declared])
  const words = (r: CalledRoutine) => splitWords(r.name)
  const given = (r: CalledRoutine) => r.parameters.flatMap((p) => (p.name === null ? [] : splitWords(p.name)))
  const forms = (r: CalledRoutine) => [words(r), [...splitWords(r.schema), ...words(r)], [...words(r), 'by', ...given(r)]]
  const calls = assignNames(
    model.routines.map((r) => ({ scope: '', candidates: forms(r).map((w) => localName(camelCase(w))) })),
    (n) => taken.has(n),
  )
  const rows = assignNames(
    model.routines.map((r) => ({ scope: '', candidates: forms(r).map((w) => `${pascalCase(w)}Row`) })),
    (n) => taken.has(n),
  )
  return new Map(model.routines.map((r, i) => [r, { call: calls[i] as string, row: rows[i] as string }]))
}

interface Argument {
  readonly p: RoutineParameter
  readonly name: string
}

function argumentsOf(r: CalledRoutine): readonly Argument[] {
  const names = assignNames(
    r.parameters.map((p, i) => ({ scope: '', candidates: [p.name === null ? `argument${i + 1}` : localName(camelCase(splitWords(p.name)))] })),
    (n) => n === 'on' || n === 'row' || n === 'a',
  )
  return r.parameters.map((p, i) => ({ p, name: names[i] as string }))
}

/** What stands between the brackets of the call, and the parameters of the statement. */
function sentOf(all: readonly Argument[], x: EmitContext): { readonly list: string; readonly params: string; readonly before: string } {
  const cast = (a: Argument, at: string) => `${a.p.variadic ? 'VARIADIC ' : ''}${at}::${inTemplate(a.p.type)}`
  const written = (a: Argument) => `${a.name} === null ? null : ${x.types.ofProperty(typed(a.p.type)).value}.write(${a.name})`
  const given = all.filter((a) => !a.p.out)
  if (!given.some((a) => a.p.optional)) {
    let n = 0
    return { list: all.map((a) => (a.p.out ? 'NULL' : cast(a, `$${++n}`))).join(', '), params: `[${given.map(written).join(', ')}]`, before: '' }
  }
  // What has a default is left out where it is not given; all behind it is said by its name (manual 4.3.3, 38.5.6).
  const line = (a: Argument) => {
    const sql = `${a.p.variadic ? 'VARIADIC ' : ''}${a.p.optional && a.p.name !== null ? `${plainSql(ident(a.p.name))} => ` : ''}`
    return a.p.optional
      ? `  if (${a.name} !== undefined) a.add(${quoteText(sql)}, ${quoteText(a.p.type)}, ${written(a)})\n`
      : `  a.add(${quoteText(sql)}, ${quoteText(a.p.type)}, ${written(a)})\n`
  }
  return { list: `\${a.list}`, params: 'a.params', before: `  const a = new db.Arguments()\n${given.map(line).join('')}` }
}

function resultOf(
  r: CalledRoutine,
  row: string,
  call: string,
  x: EmitContext,
): { readonly type: string; readonly sql: string; readonly read: string; readonly declares: string } {
  const { result } = r
  if (result.kind === 'nothing') return { type: 'void', sql: r.of === 'procedure' ? `CALL ${call}` : `SELECT ${call}`, read: '', declares: '' }
  if (result.kind === 'value') {
    const printed = x.types.ofProperty(typed(result.type))
    return { type: `${printed.text} | null`, sql: `SELECT ${call} AS value`, read: `(row) => v.optional(row, 'value', ${printed.value})`, declares: '' }
  }
  if (result.kind === 'relation') {
    const e = x.entities.get(result.relation)
    return {
      type: e?.name ?? '',
      sql: `SELECT ${e ? columnList(e.properties) : ''} FROM ${call}`,
      read: `(row) => db.read(${e?.name}, row)`,
      declares: '',
    }
  }
  const names = assignNames(
    result.columns.map((c) => ({ scope: '', candidates: [camelCase(splitWords(c.name))] })),
    () => false,
  )
  const columns = result.columns.map((c, i) => ({ ...c, property: names[i] as string, printed: x.types.ofProperty(typed(c.type)) }))
  return {
    type: row,
    sql: r.of === 'procedure' ? `CALL ${call}` : `SELECT ${columns.map((c) => ident(c.name)).join(', ')} FROM ${call}`,
    read: `(row) => ({ ${columns.map((c) => `${c.property}: v.optional(row, ${quoteText(c.name)}, ${c.printed.value})`).join(', ')} })`,
    declares: `${docComment([`A row of ${r.name}.`], '')}export interface ${row} {\n${columns.map((c) => `  readonly ${c.property}: ${c.printed.text} | null\n`).join('')}}\n\n`,
  }
}

/** Why there is no call of it; null where there is one. */
const whyNot = (r: CalledRoutine, model: EntityModel): string | null =>
  r.untyped ??
  (r.result.kind === 'relation' && !model.entities.some((e) => e.id === (r.result as { relation: string }).relation)
    ? 'the table whose rows it gives is no class'
    : null)

function callOf(
  r: CalledRoutine,
  names: { readonly call: string; readonly row: string },
  x: EmitContext,
): { readonly text: string; readonly imports: readonly string[] } {
  const all = argumentsOf(r)
  const sent = sentOf(all, x)
  const call = `${address(r)}(${sent.list})`
  const found = resultOf(r, names.row, call, x)
  const takes = all
    .filter((a) => !a.p.out)
    .map((a) => `, ${a.name}${a.p.optional ? '?' : ''}: ${x.types.ofProperty(typed(a.p.type)).text} | null${a.p.optional ? ' | undefined' : ''}`)
    .join('')
  const type =
    found.type === 'void'
      ? 'void'
      : r.many
        ? `${found.type.includes(' ') ? `(${found.type})` : found.type}[]`
        : found.type.endsWith('| null')
          ? found.type
          : `${found.type} | null`
  const text = sqlLiteral(found.sql)
  const run =
    found.type === 'void'
      ? `  await db.send(on, ${text}, ${sent.params})\n`
      : `  return db.${r.many ? 'readAll' : 'readOne'}(on, ${text}, ${sent.params}, ${found.read})\n`
  const says = `${r.comment ?? `${capital(r.of)} ${r.schema}.${r.name}(${r.argumentTypes}).`}`
  const imports = [
    ...all.flatMap((a) => x.types.ofProperty(typed(a.p.type)).imports),
    ...(r.result.kind === 'value' ? x.types.ofProperty(typed(r.result.type)).imports : []),
    ...(r.result.kind === 'columns' ? r.result.columns.flatMap((c) => x.types.ofProperty(typed(c.type)).imports) : []),
  ]
  const body = `${found.declares}${docComment([says], '')}export async function ${names.call}(on: db.Db${takes}): Promise<${type}> {\n${sent.before}${run}}\n`
  return { text: body, imports }
}

/** The whole file; null where nobody calls anything. */
export function routinesFile(x: EmitContext): string | null {
  const { model } = x
  if (model.routines.length === 0) return null
  const names = namesOf(x)
  const open = model.routines.filter((r) => whyNot(r, model) === null)
  const calls = open.map((r) => ({ r, call: callOf(r, names.get(r) as { call: string; row: string }, x) }))
  const not = model.routines.flatMap((r) => {
    const why = whyNot(r, model)
    return why === null ? [] : [`// ${r.schema}.${r.name}(${r.argumentTypes}): no call, as ${why}.\n`]
  })
  if (calls.length === 0) return `${not.join('')}export {}\n`
  const relations = [...new Set(open.flatMap((r) => (r.result.kind === 'relation' ? [r.result.relation] : [])))]
  const types = [...new Set(calls.flatMap((c) => c.call.imports))].sort()
  const text = calls.map((c) => c.call.text).join('\n')
  const imports = [
    `import * as db from './db.js'\n`,
    ...relations.map((id) => `import { ${x.entities.get(id)?.name} } from '../${x.fileOf(x.entities.get(id)?.name as string)}.js'\n`),
    types.length === 0 ? '' : `import type { ${types.join(', ')} } from './types.js'\n`,
    /\bv\./.test(text) ? `import * as v from './values.js'\n` : '',
  ].join('')
  return `${imports}\n${not.length === 0 ? '' : `${not.join('')}\n`}${text}`
}
