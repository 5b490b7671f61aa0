// What begins a block, and the blocks that are no entity.
import { comparisons, typescriptSettings } from '../model/index.ts'
import { caseStyles, nearestNames } from '../names/index.ts'
import { type Cursor, Wrong } from './cursor.ts'
import { entityLine } from './entityLines.ts'
import { address, heldAs, typeText, type Writable } from './pieces.ts'
import type { Block, EntityBlock, EntityLine, LayoutBlock, QueryBlock, RoutineBlock, Said, WhereLine } from './syntax.ts'
import { blockWords, relationWords } from './words.ts'

/** A block that is being read: the lines that follow it add to it. */
export interface Open {
  readonly member: (c: Cursor) => void
  readonly verbatim: ((text: string) => void) | null
  readonly close: () => Block
}

export function openBlock(c: Cursor, whole: (b: Block) => void): Open | null {
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
      return done({ kind: 'domain', at, type, over: typeText(c), optional: optionalBehind(c) })
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
    } else if (c.accept('held')) held = heldAs(c)
    else throw c.expected('"called" or "held"', ['called', 'held'])
  }
  return { kind: 'type', at, type, called, held }
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

function optionalBehind(c: Cursor): boolean {
  if (!c.accept(',')) return false
  c.expect('optional')
  return true
}

function query(c: Cursor, at: Block['at']): Open {
  const name = c.text('the name of a query in quotes')
  c.expect('from')
  const from = c.name('a class')
  c.end()
  const where: WhereLine[] = []
  let steps: QueryBlock['steps'] = []
  return {
    verbatim: null,
    member: (m) => {
      const word = m.word('where or then', ['where', 'then'] as const).value
      if (word === 'where') {
        const lineAt = m.at
        const path = dotted(m)
        const is = m.word(`a comparison: ${comparisons.join(', ')}`, comparisons).value
        where.push({ at: lineAt, path, is, value: is === 'empty' || is === 'filled' ? '' : m.text('a value in quotes').value })
      } else steps = dotted(m)
      m.end()
    },
    close: () => ({ kind: 'query', at, name, from, where, steps }),
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
    throw new Wrong({
      code: 'bad-value',
      at: t.at,
      what: 'typescript',
      problem: error instanceof SyntaxError ? 'this is no JSON' : 'these are not the settings of docs/formats/ledger.md',
    })
  }
}
