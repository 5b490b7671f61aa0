// Ends of relationships as members of a class: what is at an end, and how setting one keeps the other and the columns that hold it.
import { relationText } from '../../catalog/index.ts'
import { type End, type Entity, type EntityModel, type Property, type Relationship, sentencesOf, sentenceText } from '../../model/index.ts'
import { assignNames } from '../../names/index.ts'
import { docComment, localName, quoteText } from './text.ts'
import { type ValueTypes, valueTypes } from './valueTypes.ts'

export interface OwnEnd {
  readonly relationship: Relationship
  readonly end: End
  readonly other: End
  readonly side: 'from' | 'to'
  readonly sentence: string
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

export interface EndContext {
  readonly types: ValueTypes
  readonly entities: ReadonlyMap<string, Entity>
  /** Parts of `links.ts` that are used. */
  readonly links: Set<string>
  /** The method of an entity that says what is stored at an end. */
  readonly loads: (entity: string, property: string) => string
}

const propertyOf = (e: Entity, column: string): Property => e.properties.find((p) => p.column === column) as Property

const isKey = (e: Entity, column: string) => e.identity.kind !== 'none' && e.identity.columns.includes(column)

/** A value of one type as another; null where that is no plain conversion. */
function converted(text: string, from: string, to: string): string | null {
  if (from === to) return text
  const word = (t: string) => ({ Decimal: 'string', number: 'number', bigint: 'bigint', string: 'string' })[t]
  const [a, b] = [word(from), word(to)]
  // Names of types in the code: domains and enumerations are texts, and a text is none of them.
  if (b === 'string' && (a === 'number' || a === 'bigint')) return `String(${text})`
  if (b === 'number' && a !== undefined) return `Number(${text})`
  if (b === 'bigint' && (a === 'number' || a === 'string')) return `BigInt(${text})`
  return b === 'string' && a === 'string' ? text : null
}

interface Assignment {
  readonly own: Property
  /** The other's property that it gets its value of. */
  readonly from: Property
  /** An expression; empty for a column that another relationship writes. */
  readonly value: string
}

/** What writing at the end that holds the columns assigns; null where it cannot be written: the columns are a key, given by the database, or of a view. */
function assignments(r: Relationship, x: Pick<EndContext, 'types' | 'entities'>, named: string): readonly Assignment[] | null {
  const [owner, target] = [x.entities.get(r.from.entity), x.entities.get(r.to.entity)]
  if (!owner || !target || owner.readOnly || r.through) return null
  const shared = new Set(r.shared.map((s) => s.column))
  const list = r.from.columns.map((c, i): Assignment | null => {
    const [own, from] = [propertyOf(owner, c), propertyOf(target, r.to.columns[i] as string)]
    if (shared.has(c)) return { own, from, value: '' }
    if (!own || !from || isKey(owner, c) || own.written === 'never' || (from.nullable && !own.nullable)) return null
    const plain = `${named}.${from.name}`
    const value = converted(plain, x.types.ofProperty(from).text, x.types.ofProperty(own).text)
    // Null is converted to nothing else.
    return value === null || (from.nullable && value !== plain) ? null : { own, from, value }
  })
  return list.some((a) => a === null) || list.every((a) => a?.value === '') ? null : (list as readonly Assignment[])
}

/** A reference as a new one may be given it: an end in the place of the properties that hold it. */
export interface GivenEnd {
  readonly own: OwnEnd
  /** Those that hold it, and what they get. */
  readonly holds: readonly { readonly own: Property; readonly value: string }[]
  /** Those that only this reference writes. */
  readonly alone: readonly Property[]
  /** May it be left out: do all that it writes alone accept null or have a default? */
  readonly optional: boolean
  /** May it be empty first and be written later? */
  readonly waits: boolean
}

/** Ends that a new one of an entity may be given, by what `to` is there. */
export function givenEnds(e: Entity, ends: readonly OwnEnd[], x: Pick<EndContext, 'types' | 'entities'>): readonly GivenEnd[] {
  if (e.readOnly) return []
  return ends.flatMap((own): GivenEnd[] => {
    const r = own.relationship
    const target = x.entities.get(r.to.entity)
    if (own.side !== 'from' || r.through || !target) return []
    const shared = new Set(r.shared.map((s) => s.column))
    const holds = r.from.columns.flatMap((c, i) => {
      const [mine, theirs] = [propertyOf(e, c), propertyOf(target, r.to.columns[i] as string)]
      if (mine.written === 'never' || (theirs.nullable && !mine.nullable)) return []
      const plain = `to.${theirs.name}`
      const value = converted(plain, x.types.ofProperty(theirs).text, x.types.ofProperty(mine).text)
      return value === null || (theirs.nullable && value !== plain) ? [] : [{ own: mine, value }]
    })
    const alone = holds.map((h) => h.own).filter((p) => !shared.has(p.column))
    if (holds.length < r.from.columns.length || alone.length === 0) return []
    return [
      {
        own,
        holds,
        alone,
        optional: alone.every((p) => p.nullable || p.written === 'has default'),
        waits: alone.every((p) => p.nullable && !isKey(e, p.column)),
      },
    ]
  })
}

/** Can the end that holds the columns be given another row? */
export const isWritable = (r: Relationship, x: Pick<EndContext, 'types' | 'entities'>): boolean => assignments(r, x, 'x') !== null

/** Can the other end be left empty from here: are all columns that it writes such as accept null? */
const canPart = (r: Relationship, list: readonly Assignment[]) => r.from.leadsTo === 'at most one' && list.some((a) => a.value !== '' && a.own.nullable)

const capital = (name: string) => `${name.charAt(0).toUpperCase()}${name.slice(1)}`

/** Methods that say what is stored at an end, by entity and property: clear of the other members of the class. */
export function loadNames(model: EntityModel, ends: ReadonlyMap<string, readonly OwnEnd[]>): (entity: string, property: string) => string {
  const names = new Map<string, string>()
  for (const e of model.entities) {
    const own = ends.get(e.id) ?? []
    const taken = new Set([...e.properties.map((p) => p.name), ...own.map((o) => o.end.property)])
    const given = assignNames(
      own.map((o) => ({ scope: '', candidates: [`load${capital(o.end.property)}`] })),
      (name) => taken.has(name),
    )
    for (const [i, o] of own.entries()) names.set(`${e.id} ${o.end.property}`, given[i] as string)
  }
  return (entity, property) => names.get(`${entity} ${property}`) as string
}

/** The class of `links.ts` that holds an end which leads to any number. */
export const collection = (o: Pick<OwnEnd, 'relationship' | 'end' | 'other'>, x: Pick<EndContext, 'types' | 'entities'>) => {
  if (o.relationship.through)
    return o.relationship.through.shortcut || x.entities.get(o.end.entity)?.readOnly || x.entities.get(o.other.entity)?.readOnly ? 'Members' : 'LooseMany'
  const list = assignments(o.relationship, x, 'x')
  return list === null ? 'Members' : canPart(o.relationship, list) ? 'LooseMany' : 'Many'
}

/** What is at an end, as its getter says it. */
function typeAt(o: Pick<OwnEnd, 'relationship' | 'end' | 'other'>, x: Pick<EndContext, 'types' | 'entities'>): string {
  const other = x.entities.get(o.other.entity)?.name ?? o.other.entity
  if (o.end.leadsTo === 'any number') return `${collection(o, x)}<${other}>`
  return o.end.leadsTo === 'at most one' ? `${other} | null` : other
}

/** The line each class gets for its end: `[from, to]`. */
export function endPreview(r: Relationship, model: EntityModel): readonly [string, string] {
  const x = { types: valueTypes(model), entities: new Map(model.entities.map((e) => [e.id as string, e])) }
  const line = (end: End, other: End) => `get ${end.property}(): ${typeAt({ relationship: r, end, other }, x)} | undefined`
  return [line(r.from, r.to), line(r.to, r.from)]
}

/** The private fields that hold the ends of a class. */
export function endFields(ends: readonly OwnEnd[], x: EndContext): string {
  return ends.map((o) => `  #${o.end.property}: ${typeAt(o, x)} | undefined\n`).join('')
}

/** Getter, setter where it can be written, and what says what is stored there. */
export function endMembers(o: OwnEnd, x: EndContext): string {
  const by = o.relationship.through ? relationText(o.relationship.through.table) : (o.side === 'from' ? o.end : o.other).columns.join(', ')
  const says = `${o.sentence} By ${by}. Undefined until loaded.`
  if (o.end.leadsTo === 'any number') return many(o, says, x)
  return o.side === 'from' ? owning(o, says, x) : inverseOne(o, says, x)
}

/** The object itself, as of the class that people have: the base of it is all that is known here. */
const itself = (o: OwnEnd, x: EndContext) => `this as ${x.entities.get(o.end.entity)?.name}`

function many(o: OwnEnd, says: string, x: EndContext): string {
  const { property } = o.end
  const self = itself(o, x)
  const other = x.entities.get(o.other.entity)?.name as string
  const kind = collection(o, x)
  x.links.add(kind)
  const back = o.other.property
  const through = o.relationship.through !== null
  const join = through ? `member.${back}?.take(${self})` : `member.${back} = ${self}`
  const part = through ? `member.${back}?.lose(${self})` : `member.${back} = null`
  const given =
    kind === 'Members'
      ? ''
      : kind === 'Many'
        ? `, (member) => {\n      ${join}\n    }`
        : `,\n      (member) => {\n        ${join}\n      },\n      (member) => {\n        ${part}\n      },\n    `
  const made = kind === 'LooseMany' ? `new LooseMany(\n      members${given})` : `new ${kind}(members${given})`
  const each = through ? `member.${back}?.take(${self})` : `member.${x.loads(o.other.entity, back)}(${self})`
  const doc = o.relationship.through?.shortcut
    ? `${says} To read by: rows are written as ${x.entities.get(relationText(o.relationship.through.table))?.name}.`
    : says
  return `${docComment([doc], '  ')}  get ${property}(): ${kind}<${other}> | undefined {
    return this.#${property}
  }

${docComment([`Says which are stored there; no column changes.`], '  ')}  ${x.loads(o.end.entity, property)}(members: Iterable<${other}>): void {
    this.#${property} = ${made}
    for (const member of this.#${property}) ${each}
  }
`
}

/** Getter, setter and loading of an end that leads to one at the most; `many`: the other end leads to any number. */
function oneMembers(o: OwnEnd, says: string, setter: string, many: boolean, x: EndContext): string {
  const { property } = o.end
  const local = localName(property)
  const back = o.other.property
  const loadBack = x.loads(o.other.entity, back)
  const self = itself(o, x)
  const relink = many
    ? `    before?.${back}?.lose(${self})\n    ${local}?.${back}?.take(${self})\n`
    : `    if (before?.${back} === this) before.${loadBack}(undefined)\n    if (${local} && ${local}.${back} !== this) ${local}.${loadBack}(${self})\n`
  return `${docComment([says], '  ')}  get ${property}(): ${typeAt(o, x)} | undefined {
    return this.#${property}
  }
${setter}
${docComment([`Says what is stored there; no column changes.`], '  ')}  ${x.loads(o.end.entity, property)}(${local}: ${typeAt(o, x)} | undefined): void {
    if (${local} === this.#${property}) return
    const before = this.#${property}
    this.#${property} = ${local}
${relink}  }
`
}

/** The end that holds the columns. */
function owning(o: OwnEnd, says: string, x: EndContext): string {
  const list = assignments(o.relationship, x, localName(o.end.property))
  const toMany = o.other.leadsTo === 'any number'
  const other = x.entities.get(o.other.entity)?.name as string
  const setter = list === null ? '' : `\n${setterOf(o, list, canPart(o.relationship, list) ? typeAt(o, x) : other, toMany, x)}`
  return oneMembers(o, says, setter, toMany, x)
}

function setterOf(o: OwnEnd, list: readonly Assignment[], type: string, toMany: boolean, x: EndContext): string {
  const { property } = o.end
  const local = localName(property)
  const empties = type.endsWith('| null')
  const guard = list
    .filter((a) => a.value === '')
    .map(
      (a) =>
        `    if (${empties ? `${local} && ` : ''}${local}.${a.from.name} !== this.${a.own.name}) throw new Error(${quoteText(`${property} is of another ${a.own.name}`)})\n`,
    )
  const assign = list
    .filter((a) => a.value !== '')
    .map((a) => {
      // Of several columns one that accepts none stays; null in the others is enough for there to be no reference.
      if (!empties) return `    this.${a.own.name} = ${a.value}\n`
      return a.own.nullable
        ? `    this.${a.own.name} = ${local} === null ? null : ${a.value}\n`
        : `    if (${local} !== null) this.${a.own.name} = ${a.value}\n`
    })
  const displaced = toMany
    ? ['', '']
    : [
        `    const displaced = ${local}?.${o.other.property}\n`,
        empties
          ? `    if (displaced && displaced !== this) displaced.${property} = null\n`
          : `    if (displaced && displaced !== this) displaced.${x.loads(o.end.entity, property)}(undefined)\n`,
      ]
  return `  set ${property}(${local}: ${type}) {
${guard.join('')}${displaced[0]}${assign.join('')}    this.${x.loads(o.end.entity, property)}(${local})
${displaced[1]}  }
`
}

/** The other end of a one-to-one: the columns are the partner's. */
function inverseOne(o: OwnEnd, says: string, x: EndContext): string {
  const { property } = o.end
  const local = localName(property)
  const other = x.entities.get(o.other.entity)?.name as string
  const back = o.other.property
  const list = assignments(o.relationship, x, 'x')
  const parts = list !== null && canPart(o.relationship, list) && o.end.leadsTo === 'at most one'
  const setter =
    list === null
      ? ''
      : parts
        ? `\n  set ${property}(${local}: ${other} | null) {\n    if (${local}) ${local}.${back} = ${itself(o, x)}\n    else {\n      if (this.#${property}) this.#${property}.${back} = null\n      this.#${property} = null\n    }\n  }\n`
        : `\n  set ${property}(${local}: ${other}) {\n    ${local}.${back} = ${itself(o, x)}\n  }\n`
  return oneMembers(o, says, setter, false, x)
}
