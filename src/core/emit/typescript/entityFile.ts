// One entity as one TypeScript file: where it is stored, its properties, both kinds of ends, and a constructor from a row's values.
import { relationText } from '../../catalog/index.ts'
import { type End, type Entity, type EntityModel, type Relationship, sentencesOf, sentenceText } from '../../model/index.ts'
import { docComment, quoteText, textList } from './text.ts'
import type { ValueTypes } from './valueTypes.ts'

interface OwnEnd {
  readonly relationship: Relationship
  readonly end: End
  readonly other: End
  readonly side: 'from' | 'to'
  readonly sentence: string
}

export interface EmitContext {
  readonly model: EntityModel
  readonly types: ValueTypes
  readonly entityName: ReadonlyMap<string, string>
  /** File of an entity without its extension. */
  readonly fileOf: (entityName: string) => string
  readonly header: string
  readonly endsOf: ReadonlyMap<string, readonly OwnEnd[]>
}

/** Ends by the entity that has them, in order of property name. */
export function endsByEntity(model: EntityModel): ReadonlyMap<string, readonly OwnEnd[]> {
  const map = new Map<string, OwnEnd[]>()
  for (const relationship of model.relationships) {
    const [fromText, toText] = sentencesOf(relationship, model)
    const { from, to } = relationship
    map.set(from.entity, [...(map.get(from.entity) ?? []), { relationship, end: from, other: to, side: 'from', sentence: sentenceText(fromText) }])
    map.set(to.entity, [...(map.get(to.entity) ?? []), { relationship, end: to, other: from, side: 'to', sentence: sentenceText(toText) }])
  }
  for (const list of map.values()) list.sort((a, b) => (a.end.property < b.end.property ? -1 : 1))
  return map
}

/** The kind seen from one end: a many-to-one is a one-to-many from the other side. */
function kindFrom(o: OwnEnd): string {
  return o.relationship.kind === 'many-to-one' && o.side === 'to' ? 'one-to-many' : o.relationship.kind
}

function endRecord(o: OwnEnd, x: EmitContext): string {
  const other = x.entityName.get(o.other.entity) as string
  const { through } = o.relationship
  const where =
    through === null
      ? [`columns: ${textList(o.end.columns)}`, `otherColumns: ${textList(o.other.columns)}`, `holdsColumns: ${o.side === 'from'}`]
      : [
          `table: { schema: ${quoteText(through.table.schema)}, name: ${quoteText(through.table.name)} }`,
          `columns: ${textList(o.side === 'from' ? through.fromColumns : through.toColumns)}`,
          `otherColumns: ${textList(o.side === 'from' ? through.toColumns : through.fromColumns)}`,
        ]
  const fields = [`kind: ${quoteText(kindFrom(o))}`, `entity: (): typeof ${other} => ${other}`, `otherEnd: ${quoteText(o.other.property)}`, ...where]
  return `    ${o.end.property}: {\n${fields.map((f) => `      ${f},\n`).join('')}    },\n`
}

/** `crates?: Crate[]` */
function endDeclaration(end: End, other: string): string {
  return `${end.property}?: ${end.leadsTo === 'any number' ? `${other}[]` : end.leadsTo === 'at most one' ? `${other} | null` : other}`
}

function endMember(o: OwnEnd, x: EmitContext): string {
  return `${docComment([`${o.sentence} Absent until loaded.${o.relationship.through?.shortcut ? ` To read by: rows are written as ${x.entityName.get(relationText(o.relationship.through.table))}.` : ''}`], '  ')}  ${endDeclaration(o.end, x.entityName.get(o.other.entity) as string)}\n`
}

/** The line each class gets for its end: `[from, to]`. */
export function endPreview(r: Relationship, model: EntityModel): readonly [string, string] {
  const name = (e: End) => model.entities.find((x) => x.id === e.entity)?.name ?? e.entity
  return [endDeclaration(r.from, name(r.to)), endDeclaration(r.to, name(r.from))]
}

function propertyMember(e: Entity, p: Entity['properties'][number], x: EmitContext): string {
  const where = `${p.column}: ${p.type}${p.nullable ? '' : ', required'}${p.written === 'never' ? ', given by the database' : p.written === 'has default' ? ', has a default' : ''}.${p.flag ? ` Kept as ${quoteText(p.flag.yes)} and ${quoteText(p.flag.no)}.` : ''}`
  const lines = p.comment === null ? [where] : [p.comment, where]
  const readOnly = e.readOnly || p.written === 'never' ? 'readonly ' : ''
  return `${docComment(lines, '  ')}  ${readOnly}${p.name}: ${x.types.ofProperty(p).text}${p.nullable ? ' | null' : ''}\n`
}

/** What yes and no are in the table, for whoever reads and writes rows; nothing where no property says so. */
function flagsOf(e: Entity): readonly string[] {
  const flags = e.properties.flatMap((p) => (p.flag ? [`    ${p.name}: { yes: ${quoteText(p.flag.yes)}, no: ${quoteText(p.flag.no)} },\n`] : []))
  return flags.length === 0 ? [] : [docComment(['What the table has for yes and no.'], '  '), `  static readonly flags = {\n${flags.join('')}  } as const\n`]
}

/** The whole file. Sections in this order: imports, class doc, storage, ends, properties, constructor. */
export function entityFile(e: Entity, x: EmitContext): string {
  const ends = x.endsOf.get(e.id) ?? []
  const others = [...new Set(ends.map((o) => x.entityName.get(o.other.entity) as string))].filter((name) => name !== e.name).sort()
  const typeImports = [...new Set(e.properties.flatMap((p) => x.types.ofProperty(p).imports))].sort()
  const imports = [
    ...others.map((name) => `import { ${name} } from './${x.fileOf(name)}.js'\n`),
    ...(typeImports.length === 0 ? [] : [`import type { ${typeImports.join(', ')} } from './types.js'\n`]),
  ].join('')
  const key = e.identity.kind === 'none' ? [] : e.identity.columns.map((c) => e.properties.find((p) => p.column === c)?.name ?? c)
  const about = [
    ...(e.comment === null ? [] : [e.comment, '']),
    `${e.kind.charAt(0).toUpperCase()}${e.kind.slice(1)} ${e.relation.schema === '' ? '' : `${e.relation.schema}.`}${e.relation.name}.${e.readOnly ? (e.identity.kind === 'none' && e.kind.includes('table') ? ' Read-only: it has no primary key, so a row cannot be named.' : ' Read-only.') : ''}`,
  ]
  const storage = [
    docComment(['Where this is stored.'], '  '),
    `  static readonly table = { schema: ${quoteText(e.relation.schema)}, name: ${quoteText(e.relation.name)} } as const\n`,
    docComment(['Column of each property.'], '  '),
    `  static readonly columns = {\n${e.properties.map((p) => `    ${p.name}: ${quoteText(p.column)},\n`).join('')}  } as const\n`,
    ...flagsOf(e),
    docComment(['Properties that identify a row.'], '  '),
    `  static readonly key = ${textList(key)} as const\n`,
    docComment(['Ends of relationships, by property.'], '  '),
    ends.length === 0 ? '  static readonly ends = {} as const\n' : `  static readonly ends = {\n${ends.map((o) => endRecord(o, x)).join('')}  } as const\n`,
  ].join('')
  const members = [...e.properties.map((p) => propertyMember(e, p, x)), ...ends.map((o) => endMember(o, x))].join('\n')
  const makeFromRow = `  constructor(values: Pick<${e.name}, keyof typeof ${e.name}.columns>) {\n${e.properties.map((p) => `    this.${p.name} = values.${p.name}\n`).join('')}  }\n`
  return `${x.header}${imports}${imports === '' ? '' : '\n'}${docComment(about, '')}export class ${e.name} {\n${storage}\n${members}\n${makeFromRow}}\n`
}
