// Whether what a notation says can be so: names that exist, names said once, both sides of a relationship in agreement.
import { type Expression, relationText } from '../catalog/index.ts'
import { refuseExpression, refuseQuery } from '../ddl/oneText.ts'
import { nameProblem, nearestNames } from '../names/index.ts'
import { type EndLine, type EntityBlock, type EntityLine, linesOf, type PropertyLine, type QueryBlock, type Said } from './syntax.ts'
import type { World } from './world.ts'

/** Everything that is wrong, into the world's list. `whole`: the files are all there is, so both ends must be said. */
export function checkNotation(w: World, whole: boolean): void {
  for (const [id, b] of w.blocks) {
    checkNames(w, b)
    for (const l of b.lines) checkLine(w, id, b, l)
  }
  if (whole) for (const [id, b] of w.blocks) for (const e of linesOf(b, 'end')) checkOtherEnd(w, id, e)
  for (const b of w.notation.blocks) {
    if (b.kind === 'domain') w.typeOf(b.over)
    if (b.kind === 'composite') for (const a of b.attributes) w.typeOf(a.type)
    if (b.kind === 'type') w.typeOf(b.type)
    if (b.kind === 'group' && b.name) legal(w, b.name, 'class')
    if (b.kind === 'query') checkQuery(w, b)
  }
}

function legal(w: World, name: Said<string>, of: 'class' | 'property'): void {
  const problem = nameProblem(name.value, of)
  if (problem === null) return
  const words =
    problem === 'reserved'
      ? of === 'class'
        ? 'a class name begins with a capital letter and is not one of TypeScript’s own'
        : 'the emitted code keeps this name for itself'
      : 'a name is letters, digits and underscores, and does not begin with a digit'
  w.complain({ code: 'bad-value', at: name.at, what: `the name ${name.value}`, problem: words })
}

function checkNames(w: World, b: EntityBlock): void {
  if (b.name) legal(w, b.name, 'class')
  const names = new Set<string>()
  const columns = new Set<string>()
  for (const l of b.lines) {
    if (l.kind !== 'property' && l.kind !== 'end') continue
    // A table that hides has no class, and no names in it.
    if (b.name) {
      legal(w, l.name, 'property')
      const key = l.name.value.toLowerCase()
      if (names.has(key)) w.complain({ code: 'twice', at: l.name.at, what: 'the property', name: l.name.value })
      names.add(key)
    }
    if (l.kind !== 'property') continue
    if (columns.has(l.column.value)) w.complain({ code: 'twice', at: l.column.at, what: 'the column', name: l.column.value })
    columns.add(l.column.value)
  }
  for (const kind of ['key', 'known', 'note', 'definition'] as const) {
    const second = linesOf(b, kind)[1]
    if (second) w.complain({ code: 'twice', at: second.at, what: 'of this table', name: kind === 'definition' ? 'the query' : `the ${kind}` })
  }
}

function checkLine(w: World, id: string, b: EntityBlock, l: EntityLine): void {
  switch (l.kind) {
    case 'property':
      return checkProperty(w, id, l)
    case 'end':
      return checkEnd(w, id, b, l)
    case 'key':
      if (l.key) w.columns(id, l.key.columns.value, l.key.columns.at)
      return
    case 'known':
    case 'unique':
    case 'index':
    case 'nowhere':
      w.columns(id, l.columns.value, l.columns.at)
      return
    case 'kind':
      w.columns(id, [l.kindColumn.value], l.kindColumn.at)
      w.columns(id, [l.idColumn.value], l.idColumn.at)
      for (const t of l.targets) {
        const target = w.classAt(t.target)
        if (target !== null) w.columns(target, t.columns, t.target.at)
      }
      return
    case 'note':
      return
    case 'definition':
      if (l.text !== w.relations.get(id)?.definition?.written) w.refuse(refuseQuery(l.text, w.lexis), l.at, 'the query')
      return
    default:
      return unreachable(l)
  }
}

function unreachable(l: never): never {
  throw new Error(`a line of no known kind: ${JSON.stringify(l)}`)
}

const said = (e: Expression | null | undefined): string | null => (e ? (e.canonical ?? e.written) : null)

function checkProperty(w: World, id: string, p: PropertyLine): void {
  const now = w.columnNow(id, p)
  const { default: preset, computed } = p
  // A text that is there already is the server's own.
  if (preset?.value && preset.value !== said(now?.default)) w.refuse(refuseExpression(preset.value, w.lexis), preset.at, 'the default', preset.value.length)
  if (computed && computed.value.expression !== said(now?.generated?.expression))
    w.refuse(refuseExpression(computed.value.expression, w.lexis), computed.at, 'what it is computed by', computed.value.expression.length)
  if (p.type && now?.type !== p.type.value.text) w.typeOf(p.type)
  if (p.type || now) return
  const there = [...(w.relations.get(id)?.columns.map((c) => c.name) ?? [])]
  w.complain({ code: 'unknown', at: p.column.at, what: 'column', of: id, name: p.column.value, near: nearestNames(p.column.value, there) })
}

function checkEnd(w: World, id: string, b: EntityBlock, e: EndLine): void {
  const target = w.classAt(e.target)
  const { over } = e
  const inView = b.of === 'view' || b.of === 'materialized view'
  if (over.kind === 'own') {
    w.columns(id, over.columns.value, over.columns.at)
    if (e.leadsTo.value === 'any number')
      w.complain({ code: 'contradicts', at: e.leadsTo.at, what: `${e.name.value} is by columns of its own`, but: 'those lead to one at most' })
    if (target === null) return
    if (over.to) w.columns(target, over.to.value, over.to.at)
    const to = over.to?.value ?? w.keyOf(target)
    if (to.length !== over.columns.value.length)
      w.complain({
        code: 'contradicts',
        at: over.columns.at,
        what: `${over.columns.value.length === 1 ? 'one column refers' : `${over.columns.value.length} columns refer`}`,
        but: to.length === 0 ? `${w.className(target)} has no key: say "to" and the columns` : `to ${to.length}: ${to.join(', ')}`,
      })
    if (inView && e.state?.value.constraint) w.complain({ code: 'contradicts', at: e.state.at, what: 'a constraint is named', but: 'a view has none' })
  } else if (over.kind === 'other') {
    if (e.leadsTo.value === 'exactly one')
      w.complain({
        code: 'contradicts',
        at: e.leadsTo.at,
        what: `${e.name.value} is by columns of ${e.target.value}`,
        but: 'no rule makes a row stand there: say "at most one"',
      })
    if (target !== null) w.columns(target, over.columns.value, over.columns.at)
  } else {
    if (e.leadsTo.value !== 'any number')
      w.complain({ code: 'contradicts', at: e.leadsTo.at, what: `${e.name.value} goes through a join table`, but: 'that leads to any number' })
    if (w.has(over.table, 'table')) w.columns(relationText(over.table.value), over.columns.value, over.columns.at)
  }
}

const same = (a: readonly string[], b: readonly string[]) => a.length === b.length && a.every((v, i) => v === b[i])

/** Is the other end of a relationship said, and does it lead back here? */
function checkOtherEnd(w: World, id: string, e: EndLine): void {
  const target = w.classOf(e.target.value)
  const there = target === undefined ? undefined : w.blocks.get(target)
  if (!there) return
  const own = w.className(id)
  const { over } = e
  const missing = (line: string) =>
    w.complain({
      code: 'contradicts',
      at: e.at,
      what: `${own}.${e.name.value} leads to ${e.target.value}`,
      but: `${e.target.value} does not say the other end: ${line}`,
    })
  const isOther = (x: EndLine): boolean => {
    if (w.classOf(x.target.value) !== id) return false
    if (over.kind === 'own') return x.over.kind === 'other' && same(x.over.columns.value, over.columns.value)
    if (over.kind === 'other') return x.over.kind === 'own' && same(x.over.columns.value, over.columns.value)
    return x.over.kind === 'through' && relationText(x.over.table.value) === relationText(over.table.value) && x !== e
  }
  if (linesOf(there, 'end').some(isOther)) return
  const columns = over.columns.value.join(', ')
  if (over.kind === 'own') {
    // The halves of a many-to-many lead back through it.
    if (w.blocks.get(id)?.name === null) return
    missing(`a line such as "name any number ${own} by its (${columns})"`)
  } else if (over.kind === 'other') missing(`a line such as "name exactly one ${own} by (${columns})"`)
  else missing(`a line such as "name any number ${own} through ${relationText(over.table.value)} (…)"`)
}

function checkQuery(w: World, q: QueryBlock): void {
  const from = w.classAt(q.from)
  if (from === null) return
  w.walk(from, q.steps)
  for (const c of q.where) {
    const reached = w.walk(from, c.path.slice(0, -1))
    const last = c.path.at(-1)
    if (reached !== null && last) w.propertyAt(reached.at, last)
  }
}
