// What could stand at a place of a notation that is being typed: words of the notation, and names of the model.
import { relationText } from '../catalog/index.ts'
import { typeWords as mysqlWords } from '../dialect/mysql/types.ts'
import { neutralKinds } from '../dialect/nativeTypes.ts'
import { typeWords as postgresWords } from '../dialect/postgres/typeNames.ts'
import { comparisons } from '../model/index.ts'
import { knownTypes } from './ofModel.ts'
import { parseNotation } from './parse.ts'
import { nameText, scan, type Token } from './scan.ts'
import { type EntityBlock, linesOf, said } from './syntax.ts'
import { actions, blockWords, endWords, lineWords, propertyWords, typeTargets } from './words.ts'
import { type NotationBase, World } from './world.ts'

export interface Completion {
  readonly label: string
  /** Beside it: what it is. */
  readonly detail: string
}

export interface Completions {
  /** Offset that the chosen text begins at. */
  readonly from: number
  readonly options: readonly Completion[]
}

const words = (list: readonly string[], detail = ''): readonly Completion[] => list.map((label) => ({ label, detail }))

/** `at`: offset of the cursor. O(text): the text is read so that its own names are known. */
export function completionsAt(text: string, at: number, base: NotationBase): Completions {
  const lineStart = text.lastIndexOf('\n', at - 1) + 1
  const before = text.slice(lineStart, at)
  let start = before.length
  while (start > 0 && /[\p{L}\p{N}_$]/u.test(before[start - 1] as string)) start -= 1
  const typed = before.slice(start)
  const from = at - typed.length
  // The line that is being typed would only be in the way.
  const rest = `${text.slice(0, lineStart)}${text.slice(text.indexOf('\n', at) === -1 ? text.length : text.indexOf('\n', at))}`
  const world = new World(parseNotation([{ file: '', text: rest }]).notation, base)
  const tokens = scan('', before.slice(0, before.length - typed.length).trimStart()).lines[0]?.tokens ?? []
  const indented = /^[\t ]/.test(before)
  return { from, options: indented ? inBlock(tokens, headAbove(text, lineStart), world) : atMargin(tokens, world) }
}

const classes = (w: World) => w.allClasses().map(([label, id]) => ({ label, detail: id }))
const tables = (w: World) =>
  [...w.relations].map(([, r]) => ({ label: r.schema === '' ? nameText(r.name) : `${nameText(r.schema)}.${nameText(r.name)}`, detail: r.kind }))

function atMargin(t: readonly Token[], w: World): readonly Completion[] {
  const [first, second, third] = t.map((x) => x.text)
  if (t.length === 0) return words([...blockWords.filter((b) => b !== 'window'), 'window function'])
  if (first === 'entity') return t.length === 1 ? [] : t.length === 2 ? words(['=']) : third === '=' && t.length === 3 ? words(kinds) : tables(w)
  if (first === 'join') return t.length === 1 ? words(kinds) : tables(w)
  if (first === 'type') return t.at(-1)?.text === ',' ? words(['called', 'held as', 'held plainly']) : t.at(-1)?.text === 'as' ? words(typeTargets) : types(w)
  if (first === 'query') return t.at(-1)?.text === 'from' ? classes(w) : second === undefined ? [] : words(['from'])
  return []
}
const kinds = ['table', 'view', 'materialized view', 'partitioned table', 'foreign table']

function types(w: World): readonly Completion[] {
  const own = w.base ? [...knownTypes(w.base.catalog).named] : []
  const dialect = w.dialect
  return [
    ...words(dialect === 'postgresql' ? postgresWords : dialect === 'mysql' ? mysqlWords : [], 'type'),
    ...words(own.sort(), 'of this schema'),
    ...words(
      neutralKinds.map((k) => `some ${k}`),
      'as this engine has it',
    ),
  ]
}

/** The first line of the block that a line belongs to. */
function headAbove(text: string, lineStart: number): readonly Token[] {
  const lines = text.slice(0, lineStart).split('\n')
  const head = lines.findLast((l) => /^[^\s#|]/.test(l))
  return head === undefined ? [] : (scan('', head).lines[0]?.tokens ?? [])
}

function inBlock(t: readonly Token[], head: readonly Token[], w: World): readonly Completion[] {
  const kind = head[0]?.text
  if (kind === 'query') return inQuery(t, head, w)
  if (kind !== 'entity' && kind !== 'join') return kind === 'layout' ? words(['files', 'typescript']) : words(['takes', 'types', 'gives', 'note'])
  const name = head.slice(kind === 'entity' ? 3 : 1)
  const parts = name.filter((x) => x.kind !== 'sign' && !['table', 'view', 'materialized', 'partitioned', 'foreign'].includes(x.text)).map((x) => x.text)
  const [schema, table] = parts.length > 1 ? [parts[0] as string, parts[1] as string] : ['', parts[0] ?? '']
  return inEntity(t, relationText({ schema, name: table }), w)
}

function inEntity(t: readonly Token[], id: string, w: World): readonly Completion[] {
  const last = t.at(-1)?.text ?? ''
  const open = openBracket(t)
  if (open !== null) return columnsIn(t, open, id, w)
  const texts = t.map((x) => x.text)
  const isEnd = ['exactly', 'at', 'any'].includes(texts[1] ?? '')
  if (t.length === 0) return [...words(lineWords), ...unnamed(id, w)]
  if (last === ':') return types(w)
  if (last === 'some') return words(neutralKinds, 'as this engine has it')
  if (last === '=') return [...w.columnsOf(id)].map((label) => ({ label: nameText(label), detail: 'column' }))
  if (isEnd) return inEnd(texts, last, w)
  if (last === 'as') return words(typeTargets)
  if (last === 'held') return words(['as', 'plainly'])
  if (last === ',' && (texts.includes(':') || texts.includes('='))) return words(propertyWords)
  if (texts[0] === 'unique' && t.length === 1) return words(['index'])
  return t.length === 1 ? words(['exactly one', 'at most one', 'any number']) : []
}

function inEnd(texts: readonly string[], last: string, w: World): readonly Completion[] {
  if (last === 'one' || last === 'number') return classes(w)
  if (last === 'through') return tables(w)
  if (last === ',') return words([...endWords.filter((x) => x !== 'on'), 'on delete', 'on update'])
  if (last === 'delete' || last === 'update') return words(actions)
  if (last === 'at' || last === 'exactly' || last === 'any') return words([{ at: 'most one', exactly: 'one', any: 'number' }[last] as string])
  return texts.length === 4 || texts.length === 5 ? words(['by', 'by its', 'through']) : words(['to'])
}

/** Columns of the table, as lines that give each a property, where none is said yet. */
function unnamed(id: string, w: World): readonly Completion[] {
  const b = w.blocks.get(id)
  const told = new Set(b ? linesOf(b, 'property').map((p) => p.column.value) : [])
  const entity = w.entities.get(id)
  return [...w.columnsOf(id)].flatMap((c) => {
    const name = entity?.properties.find((p) => p.column === c)?.name ?? c
    return told.has(c) ? [] : [{ label: name === c ? nameText(c) : `${nameText(name)} = ${nameText(c)}`, detail: 'column' }]
  })
}

/** Where the last bracket that is not closed stands among the tokens. */
function openBracket(t: readonly Token[]): number | null {
  const open: number[] = []
  for (const [i, x] of t.entries()) {
    if (x.kind !== 'sign') continue
    if (x.text === '(') open.push(i)
    if (x.text === ')') open.pop()
  }
  return open.at(-1) ?? null
}

function columnsIn(t: readonly Token[], open: number, id: string, w: World): readonly Completion[] {
  const before = t.slice(0, open).map((x) => x.text)
  const last = before.at(-1)
  if (last === 'of' || before.includes(':')) return []
  const target = ['one', 'number'].includes(before[2] ?? '') ? w.classOf(before[3] ?? '') : undefined
  const through = before.indexOf('through')
  const table = through === -1 ? null : before.slice(through + 1).filter((x) => x !== '.')
  const of = table
    ? relationText(table.length > 1 ? { schema: table[0] as string, name: table[1] as string } : { schema: '', name: table[0] ?? '' })
    : last === 'its' || last === 'to'
      ? (target ?? id)
      : id
  return [...w.columnsOf(of)].map((label) => ({ label: nameText(label), detail: of }))
}

function inQuery(t: readonly Token[], head: readonly Token[], w: World): readonly Completion[] {
  const from = w.classOf(head.at(-1)?.text ?? '')
  if (t.length === 0) return words(['where', 'then'])
  if (from === undefined) return []
  const last = t.at(-1)
  const ends = t.slice(1).filter((x) => x.text !== '.')
  const path = last?.text === '.' ? ends : []
  if (t.length > 1 && last?.text !== '.') return t[0]?.text === 'where' ? words(comparisons) : []
  const reached = w.walk(
    from,
    path.map((x) => said(x.text)),
  )
  return reached ? members(reached.at, t[0]?.text === 'where', w) : []
}

function members(id: string, properties: boolean, w: World): readonly Completion[] {
  const b: EntityBlock | undefined = w.blocks.get(id)
  const entity = w.entities.get(id)
  const ends = b ? linesOf(b, 'end').map((e) => e.name.value) : []
  const others = (w.base?.model.relationships ?? []).flatMap((r) => [
    ...(r.from.entity === id ? [r.from.property] : []),
    ...(r.to.entity === id ? [r.to.property] : []),
  ])
  const own = properties ? [...(b ? linesOf(b, 'property').map((p) => p.name.value) : []), ...(entity?.properties.map((p) => p.name) ?? [])] : []
  return [...new Set(own)]
    .map((label) => ({ label: nameText(label), detail: 'property' }))
    .concat([...new Set([...ends, ...others])].map((label) => ({ label: nameText(label), detail: 'leads on' })))
}
