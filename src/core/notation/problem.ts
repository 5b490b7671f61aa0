// What is wrong with a notation: code, place, facts. Wording in one function.
import type { Place } from './syntax.ts'

export type NotationProblem = { readonly at: Place } & (
  | { readonly code: 'no-header' }
  | { readonly code: 'other-version'; readonly version: string }
  | { readonly code: 'other-dialect'; readonly here: string; readonly there: string }
  | { readonly code: 'unclosed'; readonly text: string }
  | { readonly code: 'odd-character'; readonly text: string }
  | { readonly code: 'expected'; readonly what: string; readonly found: string; readonly near: readonly string[] }
  | { readonly code: 'too-much'; readonly found: string }
  | { readonly code: 'no-block'; readonly found: string }
  | { readonly code: 'twice'; readonly what: string; readonly name: string }
  | { readonly code: 'unknown'; readonly what: string; readonly of?: string; readonly name: string; readonly near: readonly string[] }
  /** `engines` have such a type; this one has not. */
  | { readonly code: 'other-engine'; readonly type: string; readonly engines: readonly string[]; readonly here: string; readonly near: readonly string[] }
  | { readonly code: 'bad-type'; readonly type: string; readonly problem: string }
  | { readonly code: 'bad-value'; readonly what: string; readonly problem: string }
  /** The two sides of one thing say it differently, or a fact and a claim. */
  | { readonly code: 'contradicts'; readonly what: string; readonly but: string }
  /** A fact of the database that no entry of the ledger changes. */
  | { readonly code: 'not-here'; readonly what: string; readonly instead: string }
)

const list = (near: readonly string[]) => (near.length === 0 ? '' : `; did you mean ${[...new Set(near)].slice(0, 3).join(' or ')}?`)

/** One line, without position. */
export function describeNotationProblem(p: NotationProblem): string {
  switch (p.code) {
    case 'no-header':
      return 'a file begins with the line "notation 1 for" and the engine: postgresql, mysql or sqlite'
    case 'other-version':
      return `this is version ${p.version} of the notation; version 1 is read here`
    case 'other-dialect':
      return `this file is for ${p.there}, and the schema is one of ${p.here}`
    case 'unclosed':
      return p.text === '`' ? 'the expression that begins here is not closed on its line' : `the quote ${p.text} that begins here is not closed on its line`
    case 'odd-character':
      return `"${p.text}" has no meaning here`
    case 'expected':
      return `${p.what} was expected${p.found === '' ? ', and the line ends' : `, not ${p.found}`}${list(p.near)}`
    case 'too-much':
      return `the line ends before ${p.found}: a comma is missing, or this is too much`
    case 'no-block':
      return `${p.found} is indented, and no block is open that it could belong to`
    case 'twice':
      return `${p.what} ${p.name} is said twice`
    case 'unknown':
      return p.of === undefined ? `there is no ${p.what} ${p.name}${list(p.near)}` : `${p.of} has no ${p.what} ${p.name}${list(p.near)}`
    case 'other-engine':
      return `${p.type} is a type of ${p.engines.join(' and ')}, not of ${p.here}${list(p.near)}`
    case 'bad-type':
      return `the type ${p.type} cannot be used: ${p.problem}`
    case 'bad-value':
      return `${p.what}: ${p.problem}`
    case 'contradicts':
      return `${p.what}, but ${p.but}`
    case 'not-here':
      return `${p.what}; ${p.instead}`
    default:
      return unreachable(p)
  }
}

function unreachable(p: never): never {
  throw new Error(`a problem of no known code: ${JSON.stringify(p)}`)
}

/** Line and column of an offset, both from 1. */
export function lineAndColumn(text: string, offset: number): { readonly line: number; readonly column: number } {
  const before = text.slice(0, offset)
  const line = before.split('\n').length
  return { line, column: offset - (before.lastIndexOf('\n') + 1) + 1 }
}

/** `file:line:column: text`. */
export function notationProblemLine(p: NotationProblem, texts: ReadonlyMap<string, string>): string {
  const { line, column } = lineAndColumn(texts.get(p.at.file) ?? '', p.at.from)
  return `${p.at.file}:${line}:${column}: ${describeNotationProblem(p)}`
}
