// A notation as text, laid out in one way; and the same for a text that somebody typed, whose comments stay where they are.
import type { RelationAddress } from '../catalog/index.ts'
import { type NotationFile, parseNotation } from './parse.ts'
import type { NotationProblem } from './problem.ts'
import { type Line, nameText, quoted, scan, type Token } from './scan.ts'
import type { Block, EndLine, EntityBlock, EntityLine, Notation, PropertyLine, QueryBlock, RoutineBlock, TypeText } from './syntax.ts'

const addressText = (a: RelationAddress) => (a.schema === '' ? nameText(a.name) : `${nameText(a.schema)}.${nameText(a.name)}`)
const inBrackets = (names: readonly string[]) => `(${names.map(nameText).join(', ')})`

/** Can a type stand as it is spelled, or would it be read as something else? */
function standsBare(type: string): boolean {
  const { lines, problems } = scan('', type)
  const [line] = lines
  if (problems.length > 0 || lines.length !== 1 || !line || line.indented || line.verbatim !== null || line.comments.length > 0) return false
  let depth = 0
  for (const t of line.tokens) {
    if (t.kind === 'code') return false
    if (t.kind !== 'sign') continue
    depth += t.text === '(' ? 1 : t.text === ')' ? -1 : 0
    if (depth < 0 || (depth === 0 && t.text === ',')) return false
  }
  const last = line.tokens.at(-1)
  return depth === 0 && line.tokens[0]?.from === 0 && last?.to === type.length && !/^(some|plainly)\b/.test(type)
}

export const typeOut = (t: TypeText): string => (t.kind === 'neutral' ? `some ${t.text}` : standsBare(t.text) ? t.text : quoted(t.text, '`'))

const texts = (list: readonly string[]) => `(${list.map((x) => quoted(x)).join(', ')})`

function propertyFacets(p: PropertyLine): readonly string[] {
  const out: string[] = []
  if (p.optional) out.push('optional')
  if (p.counted) out.push(p.counted.value === 'always' ? 'counted always' : 'counted')
  if (p.default) out.push(p.default.value === null ? 'no default' : `default ${quoted(p.default.value, '`')}`)
  if (p.computed) out.push(`computed ${p.computed.value.kept === 'virtual' ? 'virtual ' : ''}${quoted(p.computed.value.expression, '`')}`)
  if (p.values) out.push(p.values.value === null ? 'any value' : `one of ${texts(p.values.value)}`)
  if (p.flag) out.push(p.flag.value === null ? 'no flag' : `yes ${quoted(p.flag.value.yes)} no ${quoted(p.flag.value.no)}`)
  if (p.role) out.push(p.role.value ?? 'no role')
  if (p.held) out.push(p.held.value === null ? 'held plainly' : `held as ${p.held.value}`)
  if (p.shape) out.push(p.shape.value === null ? 'no shape' : `shape ${quoted(JSON.stringify(p.shape.value))}`)
  if (p.note) out.push(`note ${quoted(p.note.value)}`)
  return out
}

/** What stands left of the type, or of how many an end leads to. */
function left(l: EntityLine): string {
  if (l.kind === 'end') return nameText(l.name.value)
  if (l.kind !== 'property') return ''
  return l.name.value === l.column.value ? nameText(l.name.value) : `${nameText(l.name.value)} = ${nameText(l.column.value)}`
}

/** Beyond this what stands to the left is not lined up. */
const widest = 36
export const widthOf = (b: EntityBlock): number => Math.max(0, ...b.lines.map((l) => left(l).length).filter((n) => n <= widest))

function endText(e: EndLine): string {
  const over =
    e.over.kind === 'own'
      ? `by ${inBrackets(e.over.columns.value)}${e.over.to ? ` to ${inBrackets(e.over.to.value)}` : ''}`
      : e.over.kind === 'other'
        ? `by its ${inBrackets(e.over.columns.value)}`
        : `through ${addressText(e.over.table.value)} ${inBrackets(e.over.columns.value)}`
  const facets = [
    ...(e.state ? [`${e.state.value.is}${e.state.value.constraint === null ? '' : ` as ${nameText(e.state.value.constraint)}`}`] : []),
    ...(e.onDelete ? [`on delete ${e.onDelete.value}`] : []),
    ...(e.onUpdate ? [`on update ${e.onUpdate.value}`] : []),
    ...(e.there ? [`there ${nameText(e.there.value)}`] : []),
    ...(e.unguarded ? ['unguarded'] : []),
  ]
  return [`${e.leadsTo.value} ${nameText(e.target.value)} ${over}`, ...facets].join(', ')
}

const named = (name: string | null) => (name === null ? '' : ` ${nameText(name)}`)

/** One line of an entity, without its indentation; of a query's text, several. */
export function lineText(l: EntityLine, width: number): string {
  switch (l.kind) {
    case 'property': {
      const facets = propertyFacets(l)
      const padded = left(l).padEnd(width)
      return l.type
        ? [`${padded} : ${typeOut(l.type.value)}`, ...facets].join(', ')
        : [left(l).includes(' = ') ? left(l) : `${left(l)} = ${nameText(l.column.value)}`, ...facets].join(', ')
    }
    case 'end':
      return `${left(l).padEnd(width)}   ${endText(l)}`
    case 'key':
      return l.key === null ? 'no key' : `key${named(l.key.name)} ${inBrackets(l.key.columns.value)}`
    case 'known':
      return `known by ${inBrackets(l.columns.value)}`
    case 'unique':
      return `unique${l.index ? ' index' : ''}${named(l.name)} ${inBrackets(l.columns.value)}`
    case 'index':
      return `index${named(l.name)} (${[...l.columns.value.map(nameText), ...(l.more ? ['...'] : [])].join(', ')})`
    case 'note':
      return l.text === null ? 'no note' : `note ${quoted(l.text)}`
    case 'nowhere':
      return `${inBrackets(l.columns.value)} leads nowhere`
    case 'kind':
      return [
        `kind ${nameText(l.kindColumn.value)} of ${nameText(l.idColumn.value)}`,
        ...l.targets.map((t) => `${quoted(t.value)} ${nameText(t.target.value)} ${inBrackets(t.columns)}`),
      ].join(', ')
    case 'definition':
      return ['query', ...l.text.split('\n').map((x) => `  | ${x}`.trimEnd())].join('\n')
    default:
      return unreachable(l)
  }
}

function unreachable(l: never): never {
  throw new Error(`a line of no known kind: ${JSON.stringify(l)}`)
}

/** The line that a block begins with; the whole of most kinds. */
export function headText(b: Block): string {
  switch (b.kind) {
    case 'entity':
      return `${b.name === null ? 'join' : `entity ${nameText(b.name.value)} =`} ${b.of} ${addressText(b.relation.value)}`
    case 'enumeration':
      return `enumeration ${addressText(b.type.value)} ${texts(b.labels)}`
    case 'domain':
      return `domain ${addressText(b.type.value)} over ${typeOut(b.over.value)}${b.optional ? ', optional' : ''}`
    case 'composite':
      return `composite ${addressText(b.type.value)} (${b.attributes.map((a) => `${nameText(a.name)} : ${typeOut(a.type.value)}`).join(', ')})`
    case 'type':
      return [
        `type ${typeOut(b.type.value)}`,
        ...(b.called ? [`called ${b.called.value === null ? 'nothing' : nameText(b.called.value)}`] : []),
        ...(b.held ? [b.held.value === null ? 'held plainly' : `held as ${b.held.value}`] : []),
      ].join(', ')
    case 'elsewhere':
      return `elsewhere ${typeOut({ kind: 'native', text: b.type })}`
    case 'group':
      return `${b.name === null ? 'no group' : `group ${nameText(b.name.value)}`} ${inBrackets(b.columns.value)}`
    case 'query':
      return `query ${quoted(b.name.value)} from ${nameText(b.from.value)}`
    case 'routine':
      return `${b.of} ${addressText(b.routine.value)}`
    case 'layout':
      return 'layout'
    default:
      return unreachable(b)
  }
}

function queryLines(b: QueryBlock): readonly string[] {
  return [
    ...b.where.map(
      (w) => `where ${w.path.map((p) => nameText(p.value)).join('.')} ${w.is}${w.is === 'empty' || w.is === 'filled' ? '' : ` ${quoted(w.value)}`}`,
    ),
    ...(b.steps.length > 0 ? [`then ${b.steps.map((p) => nameText(p.value)).join('.')}`] : []),
  ]
}

function routineLines(b: RoutineBlock): readonly string[] {
  return [
    ...(b.takes === '' ? [] : [`takes ${quoted(b.takes, '`')}`]),
    ...(b.types === '' ? [] : [`types ${quoted(b.types, '`')}`]),
    ...(b.gives === null ? [] : [`gives ${quoted(b.gives, '`')}`]),
    ...(b.note === null ? [] : [`note ${quoted(b.note)}`]),
  ]
}

function memberLines(b: Block): readonly string[] {
  switch (b.kind) {
    case 'entity': {
      const width = widthOf(b)
      return b.lines.flatMap((l) => lineText(l, width).split('\n'))
    }
    case 'query':
      return queryLines(b)
    case 'routine':
      return routineLines(b)
    case 'layout':
      return [...(b.files ? [`files ${quoted(b.files)}`] : []), ...(b.settings ? [`typescript ${quoted(JSON.stringify(b.settings))}`] : [])]
    default:
      return []
  }
}

/** A whole file. `revision`: what it was made from. */
export function printNotation(n: Notation, revision: string | null): string {
  const out = [`notation 1 for ${n.dialect ?? 'postgresql'}${revision === null ? '' : `, revision ${quoted(revision)}`}`]
  let before: Block['kind'] | null = null
  for (const b of n.blocks) {
    const members = memberLines(b)
    if (before !== b.kind || members.length > 0) out.push('')
    out.push(headText(b), ...members.map((l) => `  ${l}`))
    before = members.length > 0 ? null : b.kind
  }
  return `${out.join('\n')}\n`
}

// ---- what somebody typed

export type Formatted = { readonly ok: true; readonly text: string } | { readonly ok: false; readonly problems: readonly NotationProblem[] }

/** The text laid out; comments stay with their lines. One with errors is left as it is, and they are told. */
export function formatNotation(f: NotationFile): Formatted {
  const { notation, problems } = parseNotation([f])
  if (problems.length > 0) return { ok: false, problems }
  const byStart = new Map<number, string>()
  const heads = new Set<number>()
  for (const b of notation.blocks) {
    byStart.set(b.at.from, headText(b))
    heads.add(b.at.from)
    if (b.kind !== 'entity') continue
    const width = widthOf(b)
    for (const l of b.lines) byStart.set(l.at.from, l.kind === 'definition' ? 'query' : lineText(l, width))
  }
  const out: string[] = []
  // Comments right above a block go with it.
  let above: string[] = []
  const previous = { word: '', members: true }
  for (const line of scan(f.file, f.text).lines) {
    const isHead = heads.has(line.from)
    if (isHead) {
      const word = line.tokens[0]?.text ?? ''
      const apart = previous.members || previous.word !== word || word === 'entity' || word === 'join'
      if (apart && out.at(-1) !== '') out.push('')
      previous.word = word
      previous.members = false
    } else if (line.tokens.length > 0) previous.members = true
    const made = formatted(line, byStart, isHead)
    const loose = line.tokens.length === 0 && line.verbatim === null
    if (loose && !line.indented && line.comments.length > 0) above.push(...made)
    else {
      // A blank line of the block that is left, where a comment belongs to the next.
      if (above.length > 0 && isHead && out.at(-1) !== '') out.push('')
      out.push(...above, ...made)
      above = []
    }
  }
  out.push(...above)
  return {
    ok: true,
    text: `${out
      .join('\n')
      .replace(/\n{3,}/g, '\n\n')
      .trimEnd()}\n`,
  }
}

function formatted(line: Line, byStart: ReadonlyMap<number, string>, isHead: boolean): readonly string[] {
  if (line.verbatim !== null) return [`    | ${line.verbatim}`.trimEnd()]
  const [last, ...before] = line.comments.toReversed()
  const comment = (text: string) => `#${text === '' || text.startsWith(' ') ? '' : ' '}${text.trimEnd()}`
  if (line.tokens.length === 0) return last === undefined ? [''] : [`${line.indented ? '  ' : ''}${comment(last)}`]
  const indent = isHead || !line.indented ? '' : '  '
  const text = byStart.get(line.from) ?? joined(line.tokens)
  return [...before.toReversed().map((c) => `${indent}${comment(c)}`), `${indent}${text}${last === undefined ? '' : `  ${comment(last)}`}`]
}

/** Tokens with the spaces that they have everywhere. */
function joined(tokens: readonly Token[]): string {
  let out = ''
  let glued = true
  for (const t of tokens) {
    const text =
      t.kind === 'name' ? nameText(t.text) : t.kind === 'text' ? quoted(t.text) : t.kind === 'code' ? quoted(t.text, '`') : t.text === '…' ? '...' : t.text
    const closes = t.kind === 'sign' && [',', ')', '.'].includes(t.text)
    out += glued || closes ? text : ` ${text}`
    glued = t.kind === 'sign' && ['(', '.'].includes(t.text)
  }
  return out
}
