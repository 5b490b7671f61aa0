// Expressions are kept as text; these look into them token by token, never by pattern.
import { nestsDeeply } from '../text/scan.ts'
import type { Lexis } from './lexis.ts'
import { Scanner } from './scanner.ts'

/** Over a bracketed group; to the end of the text where it is not closed. */
export function passBrackets(s: Scanner): void {
  let depth = 0
  do {
    if (s.isMark('(')) depth += 1
    else if (s.isMark(')')) depth -= 1
    s.next()
  } while (depth > 0 && !s.atEnd)
}

/** Names in an expression that may be columns: not followed by a bracket, not part of a longer name unless its last one. In order, each once. */
export function namesIn(text: string, lexis: Lexis): readonly string[] {
  const found = new Set<string>()
  const s = new Scanner(text, lexis)
  while (s.kind !== 'end') {
    if (s.kind !== 'word' && s.kind !== 'name') {
      s.next()
      continue
    }
    const name = s.anyName()
    if (s.isMark('.') || s.isMark('(')) continue
    found.add(name)
  }
  return [...found]
}

export interface Call {
  readonly schema: string | null
  readonly name: string
  /** The text of each argument. */
  readonly arguments: readonly string[]
}

/** Functions that are called, inner ones too; of a text that nests deeply none. O(length × depth). */
export function callsIn(text: string, lexis: Lexis): readonly Call[] {
  const found: Call[] = []
  if (nestsDeeply(text)) return found
  const s = new Scanner(text, lexis)
  while (!s.atEnd) {
    if (s.kind !== 'word' && s.kind !== 'name') {
      s.next()
      continue
    }
    let schema: string | null = null
    let name = s.anyName()
    while (s.acceptMark('.') && (s.kind === 'word' || s.kind === 'name')) {
      schema = name
      name = s.anyName()
    }
    if (s.isMark('(')) found.push({ schema, name, arguments: argumentsAt(text, s.from, lexis) })
  }
  return found
}

function argumentsAt(text: string, at: number, lexis: Lexis): readonly string[] {
  const s = new Scanner(text, lexis, at)
  const found: string[] = []
  s.next()
  let from = s.from
  for (let depth = 1; depth > 0 && !s.atEnd; s.next()) {
    if (s.isMark('(') || s.isMark('[')) depth += 1
    else if (s.isMark(')') || s.isMark(']')) depth -= 1
    if (depth === 0 || (depth === 1 && s.isMark(','))) {
      if (s.from > from) found.push(text.slice(from, s.from).trim())
      from = s.to
    }
  }
  return found
}

/** Possibly qualified names in a query, wherever they stand. */
export function pathsIn(text: string, lexis: Lexis): readonly { readonly schema: string | null; readonly name: string }[] {
  const found: { schema: string | null; name: string }[] = []
  const s = new Scanner(text, lexis)
  while (s.kind !== 'end') {
    if (s.kind !== 'word' && s.kind !== 'name') {
      s.next()
      continue
    }
    const first = s.anyName()
    if (s.isMark('.')) {
      s.next()
      if (s.kind === 'word' || s.kind === 'name') {
        const second = s.anyName()
        found.push({ schema: first, name: second })
      }
    }
    found.push({ schema: null, name: first })
  }
  return found
}

/** The expression with one name replaced where it stands for itself. `quote` writes the new one. */
export function renameIn(text: string, from: string, to: string, lexis: Lexis, quote: (name: string) => string): string {
  let out = ''
  let kept = 0
  const s = new Scanner(text, lexis)
  while (s.kind !== 'end') {
    if (s.kind !== 'word' && s.kind !== 'name') {
      s.next()
      continue
    }
    const start = s.from
    const end = s.to
    const name = s.anyName()
    if (name !== from || s.isMark('(')) continue
    out += text.slice(kept, start) + quote(to)
    kept = end
  }
  return out + text.slice(kept)
}
