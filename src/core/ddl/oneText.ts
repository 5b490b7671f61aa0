// Texts that are to be one expression or one type, and nothing behind it: what people type goes into statements as it is, so that a second
// statement, a further action or a comment that hides what follows would run with them.
import { expressionUntil, typeName } from './clauses.ts'
import type { Lexis } from './lexis.ts'
import { Scanner } from './scanner.ts'
import { Unreadable } from './unreadable.ts'

/** Why a text is not taken, and where: an offset in it, in UTF-16 code units from 0. */
export interface TextRefusal {
  readonly at: number
  readonly because: string
}

/** Words that begin another clause of a column, or another action, where an operand has ended. */
const clauseWords = [
  'CHECK',
  'REFERENCES',
  'PRIMARY',
  'UNIQUE',
  'GENERATED',
  'CONSTRAINT',
  'DEFAULT',
  'USING',
  'DEFERRABLE',
  'INITIALLY',
  'ALTER',
  'ADD',
  'DROP',
] as const

const shown = (text: string, from: number) => JSON.stringify(text.slice(from, from + 30))

/** Between tokens stand blanks; what else does is a comment. */
function commentIn(text: string, lexis: Lexis): number | null {
  const s = new Scanner(text, lexis)
  for (;;) {
    const gap = text.slice(s.before, s.kind === 'end' ? text.length : s.from)
    if (gap.trim() !== '') return s.before + gap.length - gap.trimStart().length
    if (s.kind === 'end') return null
    s.next()
  }
}

function refusalOf(text: string, lexis: Lexis, read: (s: Scanner) => void, what: string): TextRefusal | null {
  try {
    if (text.includes('\u0000')) return { at: text.indexOf('\u0000'), because: 'a character with the number 0 stands in no text of a database' }
    const comment = commentIn(text, lexis)
    if (comment !== null) return { at: comment, because: `a comment may hide what follows: leave ${shown(text, comment)} away` }
    const s = new Scanner(text, lexis)
    read(s)
    // Tried again: a text that ends within something was not closed.
    if (s.kind === 'end' && s.from >= text.trimEnd().length) return openQuote(text, lexis)
    return { at: s.from, because: `${what} ends before ${shown(text, s.from)}` }
  } catch (error) {
    if (error instanceof Unreadable) return { at: error.from, because: error.expected }
    throw error
  }
}

/** A quote that the text ends within. */
function openQuote(text: string, lexis: Lexis): TextRefusal | null {
  const s = new Scanner(`${text}\n;`, lexis)
  while (s.kind !== 'end' && s.kind !== 'stop') s.next()
  return s.kind === 'stop' && s.from === text.length + 1 ? null : { at: 0, because: 'a quote or a bracket in it is never closed' }
}

/** Does an operand end here, and another clause begin? `a IS NOT NULL` and `NOT a` are expressions; `1 NOT NULL` is two things. */
function clauseBegins(s: Scanner, previous: () => string): boolean {
  if (s.kind !== 'word') return false
  if (s.is('NOT')) {
    const start = s.place()
    const follows = previous()
    s.next()
    const isRule = s.is('NULL') && follows !== 'IS'
    s.back(start)
    return isRule
  }
  return clauseWords.some((w) => s.is(w)) && previous() !== '.'
}

/** Null where the text is one expression. O(length). */
export function refuseExpression(text: string, lexis: Lexis): TextRefusal | null {
  return refusalOf(
    text,
    lexis,
    (s) => {
      const previous = () =>
        s.text
          .slice(0, s.before)
          .trimEnd()
          .slice(-2)
          .toUpperCase()
          .replace(/^.*\.$/, '.')
      expressionUntil(s, () => clauseBegins(s, previous))
    },
    'the expression',
  )
}

/** Null where the text is one type, with its length, its brackets and nothing else. O(length). */
export const refuseType = (text: string, lexis: Lexis): TextRefusal | null => refusalOf(text, lexis, (s) => void typeName(s), 'the type')

/** Null where the text is one statement, with or without its end mark; comments within it are its own affair. O(length). */
export function refuseQuery(text: string, lexis: Lexis): TextRefusal | null {
  try {
    const s = new Scanner(text, lexis)
    while (!s.done) s.next()
    if (s.kind === 'stop') s.next()
    if (s.kind !== 'end') return { at: s.from, because: `the query ends before ${shown(text, s.from)}` }
    const lastLine = text.slice(Math.max(s.before, text.lastIndexOf('\n') + 1))
    if (lastLine.trim() !== '') return { at: text.length - lastLine.trimStart().length, because: 'a comment at its end would hide what follows' }
    return openQuote(text.trimEnd().replace(/;$/, ''), lexis)
  } catch (error) {
    if (error instanceof Unreadable) return { at: error.from, because: error.expected }
    throw error
  }
}
