// What the names in a notation mean: in its own files first, then in the model that it is about, where there is one.
import { type Catalog, columnsText, parseAddress, type Relation, type RelationAddress, relationText } from '../catalog/index.ts'
import type { SchemaEdit } from '../change/schemaEdit.ts'
import type { Lexis } from '../ddl/lexis.ts'
import { refuseType, type TextRefusal } from '../ddl/oneText.ts'
import { lexisOf } from '../dialect/lexis.ts'
import type { Entity, EntityModel, Facets, Finding, JoinHalf, KindReading, Relationship, TrialStep } from '../model/index.ts'
import { nearestNames } from '../names/index.ts'
import { knownTypes } from './ofModel.ts'
import type { NotationProblem } from './problem.ts'
import { type EndLine, type EntityBlock, linesOf, type Notation, type Place, type PropertyLine, type Said, type TypeText } from './syntax.ts'
import { baseOf, type KnownTypes, namedTypeText, resolveType } from './types.ts'

/** The review that a notation is read against. */
export interface NotationBase {
  readonly model: EntityModel
  /** As it takes part, and as it is with what is left out. */
  readonly catalog: Catalog
  readonly whole: Catalog
  readonly facets: Facets
  /** What classes were called when the text was made, where that was before. */
  readonly formerly: ReadonlyMap<string, string>
  /** Changes of the database that are in the ledger already. */
  readonly planned: readonly SchemaEdit[]
  readonly findings: readonly Finding[]
  readonly kinds: ReadonlyMap<string, KindReading>
}

export class World {
  readonly problems: NotationProblem[] = []
  /** By address text. */
  readonly blocks = new Map<string, EntityBlock>()
  readonly relations: ReadonlyMap<string, Relation>
  /** Of the model that it is read against. */
  readonly entities: ReadonlyMap<string, Entity>
  readonly relationships: ReadonlyMap<string, Relationship>
  readonly halves: ReadonlyMap<string, JoinHalf>
  /** By the join table's address. */
  readonly joined: ReadonlyMap<string, Relationship>
  /** Address text by class name. */
  private readonly classes = new Map<string, string>()
  private readonly names = new Map<string, string>()
  private readonly known: KnownTypes
  /** How texts of the engine are cut into tokens. */
  readonly lexis: Lexis
  private readonly types = new Map<Said<TypeText>, string>()
  private readonly columnSets = new Map<string, ReadonlySet<string>>()

  constructor(
    readonly notation: Notation,
    readonly base: NotationBase | null,
  ) {
    this.relations = new Map((base?.catalog.relations ?? []).map((r) => [relationText(r), r]))
    this.entities = new Map((base?.model.entities ?? []).map((e) => [e.id, e]))
    this.relationships = new Map((base?.model.relationships ?? []).map((r) => [r.id, r]))
    this.halves = new Map((base?.model.joinHalves ?? []).map((h) => [h.id, h]))
    this.joined = new Map((base?.model.relationships ?? []).flatMap((r) => (r.through ? [[relationText(r.through.table), r] as const] : [])))
    this.takeBlocks()
    this.nameClasses()
    const declared = declaredTypes(notation)
    const dialect = base?.catalog.dialect ?? notation.dialect ?? 'postgresql'
    this.lexis = lexisOf(dialect)
    const inUse = base ? base.catalog.relations.flatMap((r) => r.columns.map((c) => c.type)) : []
    this.known = base ? knownTypes(base.catalog, [...declared, ...inUse]) : { dialect, named: new Set(declared) }
  }

  private takeBlocks(): void {
    for (const b of this.notation.blocks) {
      if (b.kind !== 'entity') continue
      const id = relationText(b.relation.value)
      if (this.blocks.has(id)) this.problems.push({ code: 'twice', at: b.relation.at, what: 'the table', name: id })
      else this.blocks.set(id, b)
    }
  }

  private nameClasses(): void {
    const { base } = this
    for (const e of base?.model.entities ?? []) if (!this.blocks.has(e.id)) this.put(e.name, e.id)
    const others = new Set(this.classes.keys())
    // A class that is called otherwise here may still be spoken of by its former name.
    for (const e of base?.model.entities ?? []) if (this.blocks.has(e.id)) this.classes.set(e.name, e.id)
    for (const [name, id] of base?.formerly ?? []) if (!this.classes.has(name)) this.classes.set(name, id)
    for (const [id, b] of this.blocks) {
      if (b.name === null) continue
      if (others.has(b.name.value)) this.problems.push({ code: 'twice', at: b.name.at, what: 'the class', name: b.name.value })
      others.add(b.name.value)
      this.put(b.name.value, id)
    }
  }

  get dialect() {
    return this.known.dialect
  }

  private put(name: string, id: string): void {
    this.classes.set(name, id)
    this.names.set(id, name)
  }

  /** What was said of the same place before is not said again. */
  complain(p: NotationProblem): null {
    const again = this.problems.some((q) => q.code === p.code && q.at.file === p.at.file && q.at.from === p.at.from && q.at.to === p.at.to)
    if (!again) this.problems.push(p)
    return null
  }

  /** Address text of what a class is of; null with a problem where there is no such class. */
  classAt(name: Said<string>): string | null {
    return (
      this.classes.get(name.value) ??
      this.complain({ code: 'unknown', at: name.at, what: 'class', name: name.value, near: nearestNames(name.value, [...this.classes.keys()]) })
    )
  }
  /** Names and what they are of. */
  allClasses = (): readonly (readonly [string, string])[] => [...this.classes]
  classOf = (name: string): string | undefined => this.classes.get(name)
  className = (id: string): string => this.names.get(id) ?? id

  /** Columns of a relation, said here or there already. */
  columnsOf(id: string): ReadonlySet<string> {
    const before = this.columnSets.get(id)
    if (before) return before
    const b = this.blocks.get(id)
    const made = new Set([...(this.relations.get(id)?.columns.map((c) => c.name) ?? []), ...(b ? linesOf(b, 'property').map((p) => p.column.value) : [])])
    this.columnSets.set(id, made)
    return made
  }

  /** Columns of the key, where one is known. */
  keyOf(id: string): readonly string[] {
    const b = this.blocks.get(id)
    const said = b && linesOf(b, 'key')[0]?.key
    if (said) return said.columns.value
    const known = b && linesOf(b, 'known')[0]
    if (known) return known.columns.value
    const e = this.entities.get(id)
    return this.relations.get(id)?.primaryKey?.columns ?? (e && e.identity.kind !== 'none' ? e.identity.columns : [])
  }

  has(a: Said<RelationAddress>, what: string): boolean {
    const id = relationText(a.value)
    if (this.blocks.has(id) || this.relations.has(id)) return true
    this.complain({ code: 'unknown', at: a.at, what, name: id, near: nearestNames(id, [...this.blocks.keys(), ...this.relations.keys()]) })
    return false
  }

  /** Are these all columns of the relation? Each that is not is told. */
  columns(id: string, columns: readonly string[], at: Place): boolean {
    const there = this.columnsOf(id)
    const missing = columns.filter((c) => !there.has(c))
    for (const c of missing) this.complain({ code: 'unknown', at, what: 'column', of: id, name: c, near: nearestNames(c, [...there]) })
    return missing.length === 0
  }

  /** The engine's spelling; what cannot be one is told, once. */
  typeOf(t: Said<TypeText>): string {
    const before = this.types.get(t)
    if (before !== undefined) return before
    const got = resolveType(t, this.known)
    if (!got.ok) this.problems.push(got.problem)
    const type = got.ok ? got.type : t.value.text
    // SQLite takes any words for a type.
    if (got.ok && t.value.kind === 'native' && type !== '' && this.known.dialect !== 'sqlite')
      this.refuse(refuseType(type, this.lexis), t.at, `the type ${type}`)
    this.types.set(t, type)
    return type
  }

  /**
   * What stands as text in statements is one expression or type; what is behind it is told with its place in the file. `length`: of a text
   * in backticks, which ends the place.
   */
  refuse(r: TextRefusal | null, at: Place, what: string, length: number | null = null): void {
    const start = length === null ? at.from : at.to - 1 - length
    if (r) this.complain({ code: 'bad-value', at: { ...at, from: Math.max(at.from, Math.min(start + r.at, at.to)) }, what, problem: r.because })
  }

  /** The column of a property, as it is now; null for one that is only said here. */
  columnNow = (id: string, p: PropertyLine) => this.relations.get(id)?.columns.find((c) => c.name === p.column.value) ?? null

  // ---- relationships

  /** Subject of the finding that asks what these columns refer to, as the base has it or a finding would. */
  subjectOf(child: string, columns: readonly string[], target: string): string {
    this.subjects ??= subjectsIn(this.base)
    const known = this.subjects.get(referenceKey(child, columns, target))
    if (known !== undefined) return known
    const plain = columnsText(addressOf(child), columns.toSorted())
    const b = this.blocks.get(child)
    const alike = (b ? linesOf(b, 'end') : []).flatMap((e) =>
      e.over.kind === 'own' && e.over.columns.value.toSorted().join('\n') === columns.toSorted().join('\n') ? [e] : [],
    )
    const first = alike[0]
    if (alike.length < 2 || !first || this.classOf(first.target.value) === target) return plain
    const own = alike.find((e) => this.classOf(e.target.value) === target)
    const to = (own?.over.kind === 'own' ? own.over.to?.value : null) ?? this.keyOf(target)
    return `${plain}>${columnsText(addressOf(target), to)}`
  }
  private subjects: ReadonlyMap<string, string> | null = null

  /** Where one end of a class leads, and which relationship that is; null with a problem where there is no such end. */
  endAt(id: string, name: Said<string>): { readonly target: string; readonly step: TrialStep } | null {
    const b = this.blocks.get(id)
    const line = b && linesOf(b, 'end').find((e) => e.name.value === name.value)
    if (line) return this.endOfLine(id, line)
    const ends = (this.base?.model.relationships ?? []).flatMap((r) => [
      ...(r.from.entity === id ? [{ name: r.from.property, target: r.to.entity as string, step: { relationship: r.id as string, end: 'from' as const } }] : []),
      ...(r.to.entity === id ? [{ name: r.to.property, target: r.from.entity as string, step: { relationship: r.id as string, end: 'to' as const } }] : []),
    ])
    const found = ends.find((e) => e.name === name.value)
    if (found) return found
    const there = [...ends.map((e) => e.name), ...(b ? linesOf(b, 'end').map((e) => e.name.value) : [])]
    return this.complain({
      code: 'unknown',
      at: name.at,
      what: 'relationship',
      of: this.className(id),
      name: name.value,
      near: nearestNames(name.value, there),
    })
  }

  private endOfLine(id: string, e: EndLine): { readonly target: string; readonly step: TrialStep } | null {
    const target = this.classOf(e.target.value)
    if (target === undefined) return null
    const { over } = e
    if (over.kind === 'own') return { target, step: { relationship: `reference:${this.subjectOf(id, over.columns.value, target)}`, end: 'from' } }
    if (over.kind === 'other') return { target, step: { relationship: `reference:${this.subjectOf(target, over.columns.value, id)}`, end: 'to' } }
    const table = relationText(over.table.value)
    return { target, step: { relationship: `join-table:${table}`, end: this.isFirst(table, over.columns.value) ? 'from' : 'to' } }
  }

  /** Do these columns of a join table belong to its first reference? */
  isFirst(table: string, columns: readonly string[]): boolean {
    const known = this.joined.get(table)
    if (known?.through) return known.through.fromColumns.join('\n') === columns.join('\n')
    return this.halvesOf(table)[0]?.columns.join('\n') === columns.join('\n')
  }

  /** The references of a join table, in the order that is said: those that some end goes through. */
  halvesOf(table: string): readonly { readonly columns: readonly string[]; readonly target: string }[] {
    this.throughs ??= throughColumns(this.blocks.values())
    const through = this.throughs.get(table) ?? new Set()
    const b = this.blocks.get(table)
    return (b ? linesOf(b, 'end') : []).flatMap((e) => {
      const target = this.classOf(e.target.value)
      return e.over.kind === 'own' && target !== undefined && through.has(e.over.columns.value.join('\n')) ? [{ columns: e.over.columns.value, target }] : []
    })
  }
  private throughs: ReadonlyMap<string, ReadonlySet<string>> | null = null

  /** Along ends by their names; null with a problem where one does not exist. */
  walk(from: string, path: readonly Said<string>[]): { readonly at: string; readonly steps: readonly TrialStep[] } | null {
    let at = from
    const steps: TrialStep[] = []
    for (const name of path) {
      const end = this.endAt(at, name)
      if (!end) return null
      steps.push(end.step)
      at = end.target
    }
    return { at, steps }
  }

  /** The column of a property by its name; null with a problem where there is none. */
  propertyAt(id: string, name: Said<string>): string | null {
    const b = this.blocks.get(id)
    const lines = b ? linesOf(b, 'property') : []
    const renamed = new Set(lines.map((p) => p.column.value))
    const others = this.entities.get(id)?.properties.filter((p) => !renamed.has(p.column)) ?? []
    const all = [...lines.map((p) => [p.name.value, p.column.value] as const), ...others.map((p) => [p.name, p.column] as const)]
    const found = all.find(([n]) => n === name.value)
    if (found) return found[1]
    return this.complain({
      code: 'unknown',
      at: name.at,
      what: 'property',
      of: this.className(id),
      name: name.value,
      near: nearestNames(
        name.value,
        all.map(([n]) => n),
      ),
    })
  }
}

/** Types that a notation makes or says are made elsewhere. */
function declaredTypes(notation: Notation): readonly string[] {
  return notation.blocks.flatMap((b) =>
    b.kind === 'elsewhere'
      ? [b.type, baseOf(b.type)]
      : b.kind === 'enumeration' || b.kind === 'domain' || b.kind === 'composite'
        ? [namedTypeText(b.type.value)]
        : b.kind === 'entity'
          ? [namedTypeText(b.relation.value)]
          : [],
  )
}

export const addressOf = (id: string): RelationAddress => {
  const a = parseAddress(id)
  return { schema: a?.schema ?? '', name: a?.name ?? id }
}

const referenceKey = (child: string, columns: readonly string[], target: string) => `${child}\n${columns.join('\r')}\n${target}`

function subjectsIn(base: NotationBase | null): ReadonlyMap<string, string> {
  const found = new Map<string, string>()
  for (const f of base?.findings ?? [])
    for (const a of f.alternatives)
      for (const e of a.edits)
        if (e.facet === 'reference.target' && e.value)
          found.set(referenceKey(relationPart(f.subject), e.value.columns, relationText({ schema: e.value.schema, name: e.value.table })), e.subject)
  for (const r of base?.model.relationships ?? [])
    if (!r.through) found.set(referenceKey(r.from.entity, r.from.columns, r.to.entity), r.id.slice('reference:'.length))
  for (const h of base?.model.joinHalves ?? []) found.set(referenceKey(relationText(h.table), h.columns, h.target), h.id.slice('reference:'.length))
  return found
}

/** The relation of a set of columns' address. */
export const relationPart = (subject: string): string => subject.slice(0, subject.indexOf('('))

function throughColumns(blocks: Iterable<EntityBlock>): ReadonlyMap<string, ReadonlySet<string>> {
  const found = new Map<string, Set<string>>()
  for (const b of blocks)
    for (const e of linesOf(b, 'end'))
      if (e.over.kind === 'through') {
        const table = relationText(e.over.table.value)
        found.set(table, (found.get(table) ?? new Set()).add(e.over.columns.value.join('\n')))
      }
  return found
}
