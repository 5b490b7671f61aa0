// One entity as one TypeScript file: where it is stored, its key, its properties, its ends, and how it comes from a row.
import type { Entity, EntityModel } from '../../model/index.ts'
import { assignNames, camelCase, splitWords } from '../../names/index.ts'
import { collection, type EndContext, endFields, endMembers, type OwnEnd } from './ends.ts'
import { article, docComment, memberName, quoteText, textList } from './text.ts'

export interface EmitContext extends EndContext {
  readonly model: EntityModel
  /** File of an entity without its extension. */
  readonly fileOf: (entityName: string) => string
  readonly header: string
  /** The folder of what is written anew each time. */
  readonly folder: string
  readonly endsOf: ReadonlyMap<string, readonly OwnEnd[]>
  /** Operations that people's own files of stores say themselves, by entity. */
  readonly overridden: Overridden
  /** By id of the entity. */
  readonly declared: ReadonlyMap<string, Declared>
}

/** Names of operations by entity. */
export type Overridden = ReadonlyMap<string, ReadonlySet<string>>

/** What an entity's files declare beside its class. */
export interface Declared {
  /** What its class extends, and its store: what is rewritten each time. */
  readonly base: string
  readonly storeBase: string
  readonly key: string
  readonly values: string
  readonly input: string
  readonly change: string
  readonly store: string
  /** What a new row is stored from. */
  readonly new: string
  /** What a list can be asked for. */
  readonly test: string
  readonly inputSchema: string
  readonly changeSchema: string
}

/** Names that no class or type of the model, and none of each other, has. */
export function declaredNames(model: EntityModel): ReadonlyMap<string, Declared> {
  const types = [...model.enumerations, ...model.namedTypes, ...model.composites, ...model.groups].map((t) => t.typeName)
  const taken = new Set([...model.entities.map((e) => e.name), ...types, ...Object.values(model.typeNames)])
  const parts = ['Base', 'StoreBase', 'Key', 'Values', 'Input', 'Change', 'Store', 'New', 'Test'] as const
  const wanted = model.entities.flatMap((e) => [
    ...parts.map((part) => ({ scope: '', candidates: [`${e.name}${part}`, `${e.name}Row${part}`] })),
    ...(['Input', 'Change'] as const).map((part) => ({ scope: 'value', candidates: [`${camelCase(splitWords(e.name))}${part}`] })),
  ])
  const given = assignNames(wanted, (name) => taken.has(name))
  return new Map(
    model.entities.map((e, i) => {
      const own = given.slice(i * 11, i * 11 + 11)
      const [
        base = '',
        storeBase = '',
        key = '',
        values = '',
        input = '',
        change = '',
        store = '',
        fresh = '',
        test = '',
        inputSchema = '',
        changeSchema = '',
      ] = own
      return [e.id as string, { base, storeBase, key, values, input, change, store, new: fresh, test, inputSchema, changeSchema }]
    }),
  )
}

const property = (e: Entity, column: string) => e.properties.find((p) => p.column === column) as Entity['properties'][number]
export const keyOf = (e: Entity) => (e.identity.kind === 'none' ? [] : e.identity.columns.map((c) => property(e, c)))

/** Is it the same in every row that is stored: its key, what only the database gives, what a view shows? */
const isFixed = (e: Entity, p: Entity['properties'][number]) => e.readOnly || p.written === 'never' || keyOf(e).includes(p)

function propertyMember(e: Entity, p: Entity['properties'][number], x: EmitContext): string {
  const role = p.role === 'version' ? ' Counts its changes.' : ''
  const where = `${p.column}: ${p.type}${p.nullable ? '' : ', required'}${p.written === 'never' ? ', given by the database' : p.written === 'has default' ? ', has a default' : ''}.${p.flag ? ` Kept as ${quoteText(p.flag.yes)} and ${quoteText(p.flag.no)}.` : ''}${role}`
  const lines = p.comment === null ? [where] : [p.comment, where]
  return `${docComment(lines, '  ')}  ${isFixed(e, p) ? 'readonly ' : ''}${p.name}: ${x.types.ofProperty(p).text}${p.nullable ? ' | null' : ''}\n`
}

function about(e: Entity): readonly string[] {
  const reason = e.identity.kind === 'none' && e.kind.includes('table') ? ' Read-only: it has no primary key, so a row cannot be named.' : ' Read-only.'
  const what = `${e.kind.charAt(0).toUpperCase()}${e.kind.slice(1)} ${e.relation.schema === '' ? '' : `${e.relation.schema}.`}${e.relation.name}.${e.readOnly ? reason : ''}`
  const given =
    e.identity.kind !== 'primary key' || e.readOnly
      ? []
      : [e.identity.generated ? 'A new one gets its key from the database.' : 'Whoever makes a new one gives its key.']
  return [...(e.comment === null ? [] : [e.comment, '']), what, ...given]
}

/** One property, or an object of several. */
function keyText(e: Entity, names: Declared): string {
  const key = keyOf(e)
  const [first, ...more] = key
  if (!first) return ''
  const type = more.length === 0 ? `${names.base}['${first.name}']` : `Pick<${names.base}, ${key.map((p) => quoteText(p.name)).join(' | ')}>`
  return `${docComment([`What tells one ${e.name} from another.`], '')}export type ${names.key} = ${type}\n\n`
}

/** The whole file. Sections in this order: imports, types, class doc, storage, properties, ends, constructor, reading. */
export function entityFile(e: Entity, x: EmitContext): string {
  const ends = x.endsOf.get(e.id) ?? []
  const names = x.declared.get(e.id) as Declared
  const otherNames = new Set(ends.map((o) => x.entities.get(o.other.entity)?.name as string))
  const printed = e.properties.map((p) => ({ p, ...x.types.ofProperty(p) }))
  const groups = x.model.groups.filter((g) => g.entities.includes(e.id)).map((g) => g.typeName)
  const typeImports = [...new Set([...printed.flatMap((t) => t.imports), ...groups])].sort()
  const members = ends.map((o) => endMembers(o, x))
  const fields = endFields(ends, x)
  if (members.some((m) => m.includes(`this as ${e.name}`))) otherNames.add(e.name)
  const others = [...otherNames].sort()
  const links = [...new Set(ends.flatMap((o) => (o.end.leadsTo === 'any number' ? [collection(o, x)] : [])))].sort()
  const reads = x.model.dialect === 'postgresql'
  const imports = [
    ...others.map((name) => `import type { ${name} } from '../${x.fileOf(name)}.js'\n`),
    ...(links.length === 0 ? [] : [`import { ${links.join(', ')} } from './links.js'\n`]),
    ...(typeImports.length === 0 ? [] : [`import type { ${typeImports.join(', ')} } from './types.js'\n`]),
    ...(reads ? [`import * as v from './values.js'\n`] : []),
  ].join('')
  const uniques = e.uniques.map((u) => `    ${memberName(u.name)}: ${textList(u.columns.map((c) => property(e, c).name))},\n`)
  const storage = [
    `  static readonly table = { schema: ${quoteText(e.relation.schema)}, name: ${quoteText(e.relation.name)} } as const\n`,
    `  static readonly columns = {\n${e.properties.map((p) => `    ${p.name}: ${quoteText(p.column)},\n`).join('')}  } as const\n`,
    `  static readonly key = ${textList(keyOf(e).map((p) => p.name))} as const\n`,
    ...(uniques.length === 0
      ? []
      : [
          docComment(['Properties that no two have alike, by the rule that says so.'], '  '),
          `  static readonly unique = {\n${uniques.join('')}  } as const\n`,
        ]),
  ].join('')
  const properties = e.properties.map((p) => propertyMember(e, p, x)).join('\n')
  const make = `  constructor(values: ${names.values}) {\n${e.properties.map((p) => `    this.${p.name} = values.${p.name}\n`).join('')}  }\n`
  const read = `${docComment(['From a row with the text of each column.'], '  ')}  static fromRow<T>(this: new (values: ${names.values}) => T, row: v.Row): T {\n    return new this({\n${printed.map(({ p, value }) => `      ${p.name}: v.${p.nullable ? 'optional' : 'required'}(row, ${quoteText(p.column)}, ${value}),\n`).join('')}    })\n  }\n`
  const implemented = groups.length === 0 ? '' : ` implements ${groups.join(', ')}`
  const body = [storage, properties, ...(fields === '' ? [] : [fields]), make, ...(reads ? [read] : []), ...members].join('\n')
  const values = `${docComment([`What ${article(e.name)} is made of.`], '')}export type ${names.values} = Pick<${names.base}, keyof typeof ${names.base}.columns>\n\n`
  return `${x.header}${imports}${imports === '' ? '' : '\n'}${values}${keyText(e, names)}${docComment(about(e), '')}export class ${names.base}${implemented} {\n${body}}\n`
}

/** The file that people write in: made once. */
export function ownEntityFile(e: Entity, x: EmitContext): string {
  const { base } = x.declared.get(e.id) as Declared
  return `${ownHeader(`${x.folder}/${x.fileOf(e.name)}.ts`)}import { ${base} } from './${x.folder}/${x.fileOf(e.name)}.js'\n\nexport class ${e.name} extends ${base} {}\n`
}

export const ownHeader = (base: string) => `// Yours: written once. What is generated, and written anew each time, stands in ${base}.\n`
