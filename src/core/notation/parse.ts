// Reads notation files: every line that can be read is, and all that is wrong is told at once, each with its place.
import type { Dialect, ReferentialAction, RelationAddress } from '../catalog/index.ts'
import { comparisons, type End, parseJsonShape, type TypeTarget, typescriptSettings } from '../model/index.ts'
import { caseStyles, nearestNames } from '../names/index.ts'
import { Cursor, Wrong } from './cursor.ts'
import type { NotationProblem } from './problem.ts'
import { type Line, scan } from './scan.ts'
import type { Block, EndLine, EntityBlock, EntityLine, KindLine, LayoutBlock, Notation, Over, PropertyLine, QueryBlock, RoutineBlock, Said, TypeText, WhereLine } from './syntax.ts'

export interface NotationFile {
  readonly file: string
  readonly text: string
}

export interface ParsedNotation {
  readonly notation: Notation
  /** Of the first file that names one; what its outputs were made from. */
  readonly revision: string | null
  /** In order of file and place. */
  readonly problems: readonly NotationProblem[]
}

export const dialects: readonly Dialect[] = ['postgresql', 'mysql', 'sqlite']
export const blockWords = ['entity', 'join', 'enumeration', 'domain', 'composite', 'type', 'elsewhere', 'group', 'no', 'query', 'function', 'procedure', 'aggregate', 'window', 'layout'] as const
export const typeTargets: readonly TypeTarget[] = ['bigint', 'number', 'string', 'Date', 'JsonValue']
export const relationWords = ['table', 'partitioned', 'view', 'materialized', 'foreign'] as const
/** What may be said of a property behind its type. */
export const propertyWords = ['optional', 'counted', 'default', 'computed', 'one', 'any', 'yes', 'no', 'version', 'audit', 'held', 'shape', 'note'] as const
const endWords = ['enforced', 'declared', 'model', 'guessed', 'on', 'there'] as const
const actions = ['no action', 'restrict', 'cascade', 'set null', 'set default'] as const

type Writable<T> = { -readonly [K in keyof T]: T[K] }

/** A block that is being read: the lines that follow it add to it. */
interface Open {
  readonly member: (c: Cursor) => void
  readonly verbatim: ((text: string) => void) | null
  readonly close: () => Block
}

class FileReader {
  readonly blocks: Block[] = []
  readonly problems: NotationProblem[] = []
  dialect: Dialect | null = null
  revision: string | null = null
  private open: Open | null = null
  private headed = false
  /** The block's first line was wrong: its members are not complained about. */
  private passed = false

  constructor(
    private readonly file: string,
    private readonly text: string,
  ) {}

  read(): void {
    const scanned = scan(this.file, this.text)
    this.problems.push(...scanned.problems)
    const broken = scanned.problems.map((p) => p.at.from)
    for (const line of scanned.lines) {
      if (line.tokens.length === 0 && line.verbatim === null) continue
      // The scanner has said what is wrong with it.
      const told = broken.some((at) => at >= line.from && at < line.to)
      try {
        this.line(line)
      } catch (error) {
        if (!(error instanceof Wrong)) throw error
        if (!told) this.problems.push(error.problem)
      }
    }
    this.close()
    if (!this.headed) this.problems.unshift({ code: 'no-header', at: { file: this.file, from: 0, to: Math.min(1, this.text.length) } })
  }

  private close(): void {
    if (this.open) this.blocks.push(this.open.close())
    this.open = null
  }

  private line(line: Line): void {
    if (line.verbatim !== null) {
      if (this.open?.verbatim) this.open.verbatim(line.verbatim)
      else if (!this.passed) throw new Wrong({ code: 'no-block', at: { file: this.file, from: line.from, to: line.to }, found: 'a line of a query' })
      return
    }
    const c = new Cursor(this.file, this.text, line)
    if (!this.headed && c.is('notation')) return this.header(c)
    if (line.indented) {
      if (this.open) this.open.member(c)
      else if (!this.passed) throw new Wrong({ code: 'no-block', at: c.at, found: `"${c.token?.text ?? ''}"` })
      return
    }
    this.close()
    this.passed = true
    this.open = openBlock(c, (b) => this.blocks.push(b))
    this.passed = false
  }

  private header(c: Cursor): void {
    this.headed = true
    c.expect('notation')
    const version = c.number('the version')
    if (version.value !== '1') throw new Wrong({ code: 'other-version', at: version.at, version: version.value })
    c.expect('for')
    this.dialect = c.word('an engine', dialects).value
    if (c.accept(',')) {
      c.expect('revision')
      this.revision = c.text('the revision in quotes').value
    }
    c.end()
  }
}

/** Files in the order of their names. The dialect is that of the first; a file of another is told. */
export function parseNotation(files: readonly NotationFile[]): ParsedNotation {
  const blocks: Block[] = []
  const problems: NotationProblem[] = []
  let dialect: Dialect | null = null
  let revision: string | null = null
  for (const { file, text } of files) {
    const reader = new FileReader(file, text)
    reader.read()
    if (dialect !== null && reader.dialect !== null && reader.dialect !== dialect)
      problems.push({ code: 'other-dialect', at: { file, from: 0, to: text.indexOf('\n') === -1 ? text.length : text.indexOf('\n') }, here: dialect, there: reader.dialect })
    dialect ??= reader.dialect
    revision ??= reader.revision
    blocks.push(...reader.blocks)
    problems.push(...reader.problems.toSorted((a, b) => a.at.from - b.at.from))
  }
  return { notation: { dialect, blocks }, revision, problems }
}

// ---- what begins a block

function address(c: Cursor, what: string): Said<RelationAddress> {
  const first = c.name(what)
  if (!c.accept('.')) return { value: { schema: '', name: first.value }, at: first.at }
  const second = c.name(what)
  return { value: { schema: first.value, name: second.value }, at: { ...first.at, to: second.at.to } }
}

function typeText(c: Cursor): Said<TypeText> {
  if (c.token?.kind === 'code') {
    const t = c.code('a type')
    return { value: { kind: 'native', text: t.value }, at: t.at }
  }
  const neutral = c.is('some') && c.ahead(1) !== undefined && !c.is('(', 1) && !c.is(',', 1)
  if (neutral) c.expect('some')
  const raw = c.raw('a type')
  return { value: { kind: neutral ? 'neutral' : 'native', text: raw.value }, at: raw.at }
}

function openBlock(c: Cursor, whole: (b: Block) => void): Open | null {
  const at = c.at
  const word = c.word('a block', blockWords).value
  const done = (b: Block): null => {
    c.end()
    whole(b)
    return null
  }
  switch (word) {
    case 'entity':
    case 'join':
      return entity(c, at, word === 'entity')
    case 'enumeration':
      return done({ kind: 'enumeration', at, type: address(c, 'a type'), labels: c.list(() => c.text('a word in quotes').value).value })
    case 'domain': {
      const type = address(c, 'a type')
      c.expect('over')
      return done({ kind: 'domain', at, type, over: typeText(c), optional: c.accept(',') ? (c.expect('optional'), true) : false })
    }
    case 'composite':
      return done({ kind: 'composite', at, type: address(c, 'a type'), attributes: c.list(() => attribute(c)).value })
    case 'type':
      return done(typeBlock(c, at))
    case 'elsewhere': {
      const t = typeText(c)
      return done({ kind: 'elsewhere', at, type: t.value.text })
    }
    case 'group':
      return done({ kind: 'group', at, name: c.name('a class name'), columns: c.columns() })
    case 'no':
      c.expect('group')
      return done({ kind: 'group', at, name: null, columns: c.columns() })
    case 'query':
      return query(c, at)
    case 'function':
    case 'procedure':
    case 'aggregate':
      return routine(c, at, word)
    case 'window':
      c.expect('function')
      return routine(c, at, 'window function')
    case 'layout':
      return layout(c, at)
    default:
      return unreachable(word)
  }
}

function unreachable(word: never): never {
  throw new Error(`a block of no known kind: ${String(word)}`)
}

function attribute(c: Cursor) {
  const { value: name } = c.name('an attribute')
  c.expect(':')
  return { name, type: typeText(c) }
}

function typeBlock(c: Cursor, at: Block['at']): Block {
  const type = typeText(c)
  let called: Extract<Block, { kind: 'type' }>['called'] = null
  let held: Extract<Block, { kind: 'type' }>['held'] = null
  if (c.done) throw c.expected('a comma and "called" or "held"', ['called', 'held'])
  while (c.accept(',')) {
    if (c.accept('called')) {
      const name = c.name('a class name')
      called = { value: name.value === 'nothing' ? null : name.value, at: name.at }
    } else if (c.is('held')) held = heldAs(c)
    else throw c.expected('"called" or "held"', ['called', 'held'])
  }
  return { kind: 'type', at, type, called, held }
}

function heldAs(c: Cursor): Said<TypeTarget | null> {
  c.expect('held')
  if (c.is('plainly')) return { value: null, at: c.word('plainly', ['plainly']).at }
  c.expect('as')
  return c.word('a way to hold it', typeTargets)
}

function kindOfRelation(c: Cursor): EntityBlock['of'] {
  const word = c.word('table, view, materialized view, partitioned table or foreign table', relationWords).value
  if (word === 'table' || word === 'view') return word
  c.expect(word === 'materialized' ? 'view' : 'table')
  return word === 'materialized' ? 'materialized view' : word === 'partitioned' ? 'partitioned table' : 'foreign table'
}

function entity(c: Cursor, at: Block['at'], named: boolean): Open {
  const name = named ? c.name('a class name') : null
  if (named) c.expect('=')
  const of = kindOfRelation(c)
  const relation = address(c, 'a table')
  c.end()
  const lines: EntityLine[] = []
  let definition: { at: Block['at']; texts: string[] } | null = null
  const finish = () => {
    if (definition) lines.push({ kind: 'definition', at: definition.at, text: definition.texts.join('\n') })
    definition = null
  }
  return {
    member: (m) => {
      finish()
      if (m.is('query') && m.ahead(1) === undefined) definition = { at: m.at, texts: [] }
      else lines.push(entityLine(m))
    },
    verbatim: (text) => {
      if (!definition) throw new Wrong({ code: 'no-block', at, found: `"| ${text.slice(0, 20)}"` })
      definition.texts.push(text)
    },
    close: () => {
      finish()
      return { kind: 'entity', at, name, of, relation, lines }
    },
  }
}

// ---- what an entity has

/** A name of a key or index, where one is said before the brackets. */
const ownName = (c: Cursor): string | null => (c.is('(') ? null : c.name('a name or the columns in brackets').value)

function entityLine(c: Cursor): EntityLine {
  const at = c.at
  const second = c.ahead(1)
  const ends = second?.kind === 'word' && ['exactly', 'at', 'any'].includes(second.text)
  const isProperty = second?.kind === 'sign' && (second.text === ':' || second.text === '=')
  if (isProperty) return property(c, at)
  if (ends && (c.is('one', 2) || c.is('most', 2) || c.is('number', 2))) return endLine(c, at)
  const line = ruleLine(c, at)
  c.end()
  return line
}

export const lineWords = ['key', 'unique', 'index', 'note', 'no', 'kind', 'query'] as const

function ruleLine(c: Cursor, at: Block['at']): EntityLine {
  if (c.is('(')) {
    const columns = c.columns()
    c.expect('leads', 'nowhere')
    return { kind: 'nowhere', at, columns }
  }
  if (c.accept('no', 'key')) return { kind: 'key', at, key: null }
  if (c.accept('no', 'note')) return { kind: 'note', at, text: null }
  if (c.accept('key')) return { kind: 'key', at, key: { name: ownName(c), columns: c.columns() } }
  if (c.accept('unique')) {
    const index = c.is('index') && !c.is('(', 1) ? c.accept('index') : false
    return { kind: 'unique', at, index, name: ownName(c), columns: c.columns() }
  }
  if (c.accept('index')) {
    const name = ownName(c)
    let more = false
    const columns = c.list(() => {
      if (!c.accept('…')) return c.name('a column').value
      more = true
      return null
    })
    return { kind: 'index', at, name, columns: { ...columns, value: columns.value.filter((x) => x !== null) }, more }
  }
  if (c.accept('note')) return { kind: 'note', at, text: c.text('a text in quotes').value }
  if (c.accept('kind')) return kindLine(c, at)
  const t = c.token
  throw new Wrong({
    code: 'expected',
    at: t ? c.placeOf(t) : at,
    what: 'a property (name : type), an end (name, how many, class) or one of key, unique, index, note, kind, query',
    found: `"${t?.text ?? ''}"`,
    near: t?.kind === 'word' ? nearestNames(t.text, lineWords) : [],
  })
}

function kindLine(c: Cursor, at: Block['at']): KindLine {
  const kindColumn = c.name('the column that says which table')
  c.expect('of')
  const idColumn = c.name('the column that says which row')
  const targets: Writable<KindLine['targets'][number]>[] = []
  while (c.accept(',')) {
    const value = c.text('a word in quotes').value
    targets.push({ value, target: c.name('a class'), columns: c.columns().value })
  }
  return { kind: 'kind', at, kindColumn, idColumn, targets }
}

function property(c: Cursor, at: Block['at']): PropertyLine {
  const name = c.name('a property')
  const column = c.accept('=') ? c.name('a column') : name
  const p: Writable<PropertyLine> = {
    kind: 'property',
    at,
    name,
    column,
    type: c.accept(':') ? typeText(c) : null,
    optional: false,
    counted: null,
    default: null,
    computed: null,
    values: null,
    flag: null,
    role: null,
    held: null,
    shape: null,
    note: null,
  }
  while (c.accept(',')) facet(c, p)
  c.end()
  return p
}

function facet(c: Cursor, p: Writable<PropertyLine>): void {
  const start = c.token
  const word = c.word('something that is said of a property', propertyWords)
  const at = word.at
  const none = <T>(value: T): Said<T> => ({ value, at })
  switch (word.value) {
    case 'optional':
      if (p.type === null) throw new Wrong({ code: 'contradicts', at, what: 'whether it may be empty is said with its type', but: 'no type is said here' })
      p.optional = true
      return
    case 'counted':
      p.counted = none(c.accept('always') ? 'always' : 'by default')
      return
    case 'default':
      p.default = { value: c.code('an expression in backticks').value, at }
      return
    case 'computed': {
      const kept = c.accept('virtual') ? 'virtual' : 'stored'
      p.computed = none({ expression: c.code('an expression in backticks').value, kept })
      return
    }
    case 'one':
      c.expect('of')
      p.values = c.list(() => c.text('a word in quotes').value)
      return
    case 'any':
      c.expect('value')
      p.values = none(null)
      return
    case 'yes': {
      const yes = c.text('the word for yes in quotes').value
      c.expect('no')
      p.flag = none({ yes, no: c.text('the word for no in quotes').value })
      return
    }
    case 'no':
      if (c.accept('default')) p.default = none(null)
      else if (c.accept('flag')) p.flag = none(null)
      else if (c.accept('role')) p.role = none(null)
      else if (c.accept('shape')) p.shape = none(null)
      else throw c.expected('default, flag, role or shape', ['default', 'flag', 'role', 'shape'])
      return
    case 'version':
    case 'audit':
      p.role = none(word.value)
      return
    case 'held': {
      if (c.accept('plainly')) p.held = none(null)
      else {
        c.expect('as')
        p.held = c.word('a way to hold it', typeTargets)
      }
      return
    }
    case 'shape': {
      const text = c.text('a JSON Schema in quotes')
      const parsed = parseJsonShape(text.value)
      if (!parsed.ok) throw new Wrong({ code: 'bad-value', at: text.at, what: 'shape', problem: parsed.problem })
      p.shape = { value: parsed.shape, at: text.at }
      return
    }
    case 'note':
      p.note = c.text('a text in quotes')
      return
    default:
      throw new Error(`a facet of no known kind: ${String(start?.text)}`)
  }
}

function endLine(c: Cursor, at: Block['at']): EndLine {
  const name = c.name('a property')
  const from = c.token?.from ?? at.from
  const leads: End['leadsTo'] = c.accept('exactly', 'one') ? 'exactly one' : c.accept('at', 'most', 'one') ? 'at most one' : (c.expect('any', 'number'), 'any number')
  const target = c.name('a class')
  const end: Writable<EndLine> = {
    kind: 'end',
    at,
    name,
    leadsTo: { value: leads, at: { ...at, from, to: target.at.from } },
    target,
    over: over(c),
    state: null,
    onDelete: null,
    onUpdate: null,
    there: null,
  }
  while (c.accept(',')) endFacet(c, end)
  c.end()
  return end
}

function over(c: Cursor): Over {
  if (c.accept('by', 'its')) return { kind: 'other', columns: c.columns() }
  if (c.accept('by')) return { kind: 'own', columns: c.columns(), to: c.accept('to') ? c.columns() : null }
  if (c.accept('through')) return { kind: 'through', table: address(c, 'a join table'), columns: c.columns() }
  throw c.expected('"by" and own columns, "by its" and columns of the other, or "through" and a join table', ['by', 'through'])
}

function endFacet(c: Cursor, end: Writable<EndLine>): void {
  const word = c.word('enforced, declared, model, guessed, on delete, on update or there', endWords)
  if (word.value === 'there') end.there = c.name('a property')
  else if (word.value === 'on') {
    const which = c.word('delete or update', ['delete', 'update'] as const).value
    const action = actionOf(c)
    if (which === 'delete') end.onDelete = action
    else end.onUpdate = action
  } else if (word.value === 'enforced' || word.value === 'declared')
    end.state = { value: { is: word.value, constraint: c.accept('as') ? c.name('the name of a constraint').value : null }, at: word.at }
  else end.state = { value: { is: word.value, constraint: null }, at: word.at }
}

function actionOf(c: Cursor): Said<ReferentialAction> {
  const at = c.token ? c.placeOf(c.token) : c.at
  const value = actions.find((a) => c.accept(...a.split(' ')))
  if (value === undefined) throw c.expected('no action, restrict, cascade, set null or set default', ['no', 'restrict', 'cascade', 'set'])
  return { value, at }
}

// ---- other blocks with lines of their own

function query(c: Cursor, at: Block['at']): Open {
  const name = c.text('the name of a query in quotes')
  c.expect('from')
  const from = c.name('a class')
  c.end()
  const where: WhereLine[] = []
  let then: QueryBlock['then'] = []
  return {
    verbatim: null,
    member: (m) => {
      const word = m.word('where or then', ['where', 'then'] as const).value
      if (word === 'where') {
        const lineAt = m.at
        const path = dotted(m)
        const is = m.word(`a comparison: ${comparisons.join(', ')}`, comparisons).value
        where.push({ at: lineAt, path, is, value: is === 'empty' || is === 'filled' ? '' : m.text('a value in quotes').value })
      } else then = dotted(m)
      m.end()
    },
    close: () => ({ kind: 'query', at, name, from, where, then }),
  }
}

function dotted(c: Cursor): readonly Said<string>[] {
  const found = [c.name('a property')]
  while (c.accept('.')) found.push(c.name('a property'))
  return found
}

function routine(c: Cursor, at: Block['at'], of: RoutineBlock['of']): Open {
  const block: Writable<RoutineBlock> = { kind: 'routine', at, of, routine: address(c, 'a routine'), takes: '', types: '', gives: null, note: null }
  c.end()
  return {
    verbatim: null,
    member: (m) => {
      const word = m.word('takes, types, gives or note', ['takes', 'types', 'gives', 'note'] as const).value
      if (word === 'note') block.note = m.text('a text in quotes').value
      else block[word] = m.code('what the server prints, in backticks').value
      m.end()
    },
    close: () => block,
  }
}

function layout(c: Cursor, at: Block['at']): Open {
  c.end()
  const block: Writable<LayoutBlock> = { kind: 'layout', at, files: null, settings: null }
  return {
    verbatim: null,
    member: (m) => {
      if (m.word('files or typescript', ['files', 'typescript'] as const).value === 'files') {
        const t = m.text(`a letter case in quotes: ${caseStyles.join(', ')}`)
        const style = caseStyles.find((s) => s === t.value)
        if (!style) throw new Wrong({ code: 'unknown', at: t.at, what: 'letter case', name: t.value, near: nearestNames(t.value, caseStyles) })
        block.files = style
      } else block.settings = settingsOfText(m)
      m.end()
    },
    close: () => block,
  }
}

function settingsOfText(c: Cursor): LayoutBlock['settings'] {
  const t = c.text('settings as JSON in quotes')
  try {
    return typescriptSettings.parse(JSON.parse(t.value))
  } catch (error) {
    throw new Wrong({ code: 'bad-value', at: t.at, what: 'typescript', problem: error instanceof SyntaxError ? 'this is no JSON' : 'these are not the settings of docs/formats/ledger.md' })
  }
}
