// How a notation is coloured: words of its own, names, types, texts.
import { StreamLanguage, type StringStream } from '@codemirror/language'
import { blockWords, lineWords } from '../../core/notation/words.ts'

interface State {
  /** What the line has had so far. */
  part: 'start' | 'name' | 'type' | 'rest'
  block: boolean
}

const blocks = new Set<string>([...blockWords])
const lines = new Set<string>([...lineWords, 'where', 'then', 'takes', 'types', 'gives', 'files', 'typescript'])
const words = new Set(
  'exactly one at most any number by its to through enforced declared model guessed as on delete update there optional counted always default computed virtual of value yes no version audit held plainly shape note some list table view materialized partitioned foreign for revision over called from leads nowhere'.split(
    ' ',
  ),
)

function quoted(stream: StringStream, quote: string): void {
  for (let c = stream.next(); c; c = stream.next()) {
    if (c === '\\') stream.next()
    else if (c === quote && !stream.eat(quote)) return
  }
}

function word(stream: StringStream, s: State): string {
  const w = stream.current()
  if (s.part === 'start') {
    const after = stream.string.slice(stream.pos)
    const isName = s.block && (/^\s*[:=]/.test(after) || /^\s+(exactly|at most|any number)/.test(after))
    s.part = isName ? 'name' : 'rest'
    if (isName) return 'propertyName'
    return (s.block ? lines : blocks).has(w) || w === 'notation' ? 'keyword' : 'name'
  }
  if (s.part === 'type') return 'typeName'
  if (/^\p{Lu}/u.test(w)) return 'className'
  return words.has(w) ? 'modifier' : 'name'
}

export const notationLanguage = StreamLanguage.define<State>({
  name: 'notation',
  startState: () => ({ part: 'start', block: false }),
  token(stream, s) {
    if (stream.sol()) {
      s.part = 'start'
      s.block = /^\s/.test(stream.string)
    }
    if (stream.eatSpace()) return null
    const c = stream.peek() ?? ''
    if (c === '#') {
      stream.skipToEnd()
      return 'comment'
    }
    if (c === '|' && s.part === 'start') {
      stream.skipToEnd()
      return 'string'
    }
    if (c === "'" || c === '`') {
      stream.next()
      quoted(stream, c)
      return 'string'
    }
    if (c === '"') {
      stream.next()
      quoted(stream, c)
      return 'name'
    }
    if (stream.match(/[\p{L}_][\p{L}\p{N}_$]*/u)) return word(stream, s)
    if (stream.match(/\d+(\.\d+)?/)) return s.part === 'type' ? 'typeName' : 'number'
    stream.next()
    if (c === ':') s.part = 'type'
    else if (c === ',') s.part = s.part === 'type' && /^\s*\d/.test(stream.string.slice(stream.pos)) ? 'type' : 'rest'
    return null
  },
})
