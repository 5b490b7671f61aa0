// The lines of an entity: properties, ends, keys and rules.
import type { ReferentialAction } from '../catalog/index.ts'
import { type End, parseJsonShape } from '../model/index.ts'
import { nearestNames } from '../names/index.ts'
import { type Cursor, Wrong } from './cursor.ts'
import { address, heldAs, typeText, type Writable } from './pieces.ts'
import type { EndLine, EntityLine, KindLine, Over, Place, PropertyLine, Said } from './syntax.ts'
import { actions, endWords, lineWords, propertyWords } from './words.ts'

/** A name of a key or index, where one is said before the brackets. */
const ownName = (c: Cursor): string | null => (c.is('(') ? null : c.name('a name or the columns in brackets').value)

export function entityLine(c: Cursor): EntityLine {
  const at = c.at
  const second = c.ahead(1)
  const ends = second?.kind === 'word' && ['exactly', 'at', 'any'].includes(second.text)
  const isProperty = second?.kind === 'sign' && (second.text === ':' || second.text === '=')
  if (isProperty) return property(c, at)
  // A key or an index may be called so.
  if (ends && !c.is('(', 2)) return endLine(c, at)
  const line = ruleLine(c, at)
  c.end()
  return line
}

function ruleLine(c: Cursor, at: Place): EntityLine {
  if (c.is('(')) {
    const columns = c.columns()
    c.expect('leads', 'nowhere')
    return { kind: 'nowhere', at, columns }
  }
  if (c.accept('no', 'key')) return { kind: 'key', at, key: null }
  if (c.accept('no', 'note')) return { kind: 'note', at, text: null }
  if (c.accept('key')) return { kind: 'key', at, key: { name: ownName(c), columns: c.columns() } }
  if (c.accept('known', 'by')) return { kind: 'known', at, columns: c.columns() }
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
    what: 'a property (name : type), an end (name, how many, class) or one of key, known, unique, index, note, kind, query',
    found: `"${t?.text ?? ''}"`,
    near: t?.kind === 'word' ? nearestNames(t.text, lineWords) : [],
  })
}

function kindLine(c: Cursor, at: Place): KindLine {
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

function property(c: Cursor, at: Place): PropertyLine {
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
      p.default = c.code('an expression in backticks')
      return
    case 'computed': {
      const kept = c.accept('virtual') ? 'virtual' : 'stored'
      const { value: expression, at: place } = c.code('an expression in backticks')
      p.computed = { value: { expression, kept }, at: place }
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
    case 'held':
      p.held = heldAs(c)
      return
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

function howMany(c: Cursor): End['leadsTo'] {
  if (c.accept('exactly', 'one')) return 'exactly one'
  if (c.accept('at', 'most', 'one')) return 'at most one'
  c.expect('any', 'number')
  return 'any number'
}

function endLine(c: Cursor, at: Place): EndLine {
  const name = c.name('a property')
  const from = c.token?.from ?? at.from
  const leads = howMany(c)
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
    unguarded: false,
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
  const word = c.word('enforced, declared, model, guessed, on delete, on update, there or unguarded', endWords)
  if (word.value === 'there') end.there = c.name('a property')
  else if (word.value === 'unguarded') end.unguarded = true
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
