// The store of one entity: plain SQL, values only as parameters, one statement an operation.
import type { Entity, EntityModel, Property } from '../../model/index.ts'
import { type Declared, type EmitContext, keyOf, ownHeader } from './entityFile.ts'
import { address, columnList, type Operation, plainSql, type StoreContext, valueIn } from './storeParts.ts'
import { pathMethods, storesOfPaths, typesOfPaths } from './storePaths.ts'
import { finders, joinEntry, joinedEnds, loading, reading } from './storeReads.ts'
import { endsGiven, linking, newText, referenceEntry, writing } from './storeWrites.ts'
import { docComment, quoteText } from './text.ts'

const contextFor = (e: Entity, given: EmitContext, storeOf: (entity: string) => string): StoreContext => ({
  ...given,
  e,
  names: given.declared.get(e.id) as Declared,
  storeOf,
})

/** All that a store does, in the order of its file, and what it does not, with the reason. */
function operationsFor(x: StoreContext): readonly Operation[] {
  const ends = x.endsOf.get(x.e.id) ?? []
  const own = [...reading(x), ...finders(x), ...writing(x), ...ends.flatMap((o) => [loading(o, x), ...linking(o, x)])]
  return [...own, ...pathMethods(x, new Set(['constructor', ...own.map((o) => o.name)]))]
}

/** The same for a page that shows it. */
export const operationsOf = (e: Entity, given: EmitContext, storeOf: (entity: string) => string): readonly Operation[] =>
  operationsFor(contextFor(e, given, storeOf))

/** Types without equality, which nothing is compared by (PostgreSQL manual 8.8, 8.13, 8.14). */
const incomparable = /^(json|xml|point|line|lseg|box|path|polygon|circle)\b/

function isCompared(p: Property, model: EntityModel): boolean {
  const domain = model.namedTypes.find((t) => p.type.replace(/\[\]$/, '') === `${t.schema}.${t.name}` || p.type.replace(/\[\]$/, '') === t.name)
  return !incomparable.test(domain?.type ?? p.type)
}

/** Which operations there are not, and why, for whoever reads the file. */
function missingText(operations: readonly Operation[]): readonly string[] {
  const byReason = new Map<string, string[]>()
  for (const o of operations) if (o.impossible !== null) byReason.set(o.impossible, [...(byReason.get(o.impossible) ?? []), o.name])
  return [...byReason].map(([why, names]) => `Not there: ${names.join(', ')}, as ${why}.`)
}

/** What finders begin with, where one does; those that can join make their own beginning. */
const plainSelect = (methods: readonly string[]) =>
  methods.some((m) => m.includes(`\${select}`) && !m.includes('const { select')) ? `const select = \`SELECT \${list} FROM \${from}\`\n` : ''

/** The whole file. */
export function storeFile(e: Entity, given: EmitContext, storeOf: (entity: string) => string): string {
  const x = contextFor(e, given, storeOf)
  const { names } = x
  const ends = x.endsOf.get(e.id) ?? []
  const operations = operationsFor(x)
  const byHand = x.overridden.get(e.id)
  const commentOf = (o: Operation) => docComment([`${o.says}${byHand?.has(o.name) ? ` Overridden by hand in ../${storeOf(e.id)}.ts.` : ''}`], '  ')
  const methods = operations.flatMap((o) => (o.impossible === null ? [`${commentOf(o)}${o.text}`] : []))
  const joins = joinedEnds(x)
  const references = endsGiven(x)
  const key = keyOf(e)
  const columns = e.properties.map((p) => `  ${p.name}: db.${p.written === 'never' ? 'computed' : 'column'}(${quoteText(p.column)}, ${valueIn(p, x)}),\n`)
  const compared = e.properties.filter((p) => isCompared(p, x.model)).map((p) => quoteText(p.name))
  const parts = [
    newText(x),
    `${docComment(['What can be asked of a list.'], '')}export type ${names.test} = db.Test<${e.name}, ${compared.join(' | ') || 'never'}>\n\n`,
    `const columns = {\n${columns.join('')}}\n\n`,
    `const list = ${quoteText(plainSql(columnList(e.properties, 't.')))}\nconst from = ${quoteText(plainSql(`${address(e.relation)} t`))}\n${plainSelect(methods)}\n`,
    `const readRow = (row: v.Row): ${e.name} => db.read(${e.name}, row)

`,
    joins.length === 0
      ? ''
      : `${docComment(['Ends that can be read in the same statement.'], '')}const joins = {\n${joins.map((o) => joinEntry(o, x)).join('')}}\n\n`,
    references.length === 0
      ? ''
      : `${docComment(['What a new one may be given in the place of the properties that hold it.'], '')}const references = {\n${references.map((g) => referenceEntry(g, x)).join('')}}\n\n`,
  ].join('')
  const statics = e.readOnly
    ? ''
    : `${docComment(['For a unit of work.'], '  ')}  static readonly references: db.References = ${references.length === 0 ? '{}' : 'references'}\n\n  static keyOf(of: ${e.name}): ${names.key} {\n    return of${key.length === 1 ? `.${key[0]?.name}` : ''}\n  }\n\n`
  const head = `${statics}  readonly #on: db.Db\n\n  constructor(on: db.Db) {\n    this.#on = on\n  }\n`
  const says = [`Rows of ${e.relation.schema}.${e.relation.name}.`, ...missingText(operations)]
  const body = `${parts}${docComment(says, '')}export class ${names.storeBase} {\n${[head, ...methods].join('\n')}}\n`
  return `${x.header}${importsOf(x, body, [...new Set([...ends.map((o) => o.other.entity as string), ...storesOfPaths(x)])])}\n${body}`
}

/** The file that people write in: made once. */
export function ownStoreFile(e: Entity, x: EmitContext, storeOf: (entity: string) => string): string {
  const { store, storeBase } = x.declared.get(e.id) as Declared
  return `${ownHeader(`${x.folder}/${storeOf(e.id)}.ts`)}import { ${storeBase} } from './${x.folder}/${storeOf(e.id)}.js'\n\nexport class ${store} extends ${storeBase} {}\n`
}

/** What a file's text names of others, in order of their files. */
function importsOf(x: StoreContext, body: string, others: readonly string[]): string {
  const { e, names } = x
  // What only a comment names is not used.
  const code = body.replace(/\/\*\*[\s\S]*?(?:\*\/|$)/g, '')
  // Told once: a class that hundreds refer to names them all.
  const named = new Set([...code.matchAll(/(?<![\p{L}\p{N}_$.'"`])[\p{L}_$][\p{L}\p{N}_$]*/gu)].map((m) => m[0]))
  const values = new Set(
    [/=> ?([\p{L}_$][\p{L}\p{N}_$]*)/gu, /(?:\binstanceof |\bnew |db\.read\()([\p{L}_$][\p{L}\p{N}_$]*)/gu].flatMap((as) =>
      [...code.matchAll(as)].map((m) => m[1]),
    ),
  )
  const uses = (name: string) => named.has(name)
  const asValue = (name: string) => values.has(name)
  const line = (list: readonly string[], from: string) => (list.length === 0 ? '' : `import { ${list.join(', ')} } from '${from}.js'\n`)
  const ownTypes = [names.key, names.values].filter(uses)
  const entities = others.flatMap((id) => {
    const other = x.entities.get(id)
    if (!other || id === e.id) return []
    const from = `../${x.fileOf(other.name)}`
    const entity = asValue(other.name) ? line([other.name], from) : uses(other.name) ? `import type { ${other.name} } from '${from}.js'\n` : ''
    return [entity, line([x.declared.get(id)?.storeBase as string].filter(uses), `./${x.storeOf(id)}`)]
  })
  const printed = [...new Set([...e.properties.flatMap((p) => x.types.ofProperty(p).imports), ...typesOfPaths(x)])].filter((t) => uses(t)).sort()
  return [
    line([e.name], `../${x.fileOf(e.name)}`),
    ...entities,
    `import * as db from './db.js'\n`,
    ownTypes.length === 0 ? '' : `import type { ${ownTypes.join(', ')} } from './${x.fileOf(e.name)}.js'\n`,
    printed.length === 0 ? '' : `import type { ${printed.join(', ')} } from './types.js'\n`,
    `import * as v from './values.js'\n`,
  ].join('')
}
