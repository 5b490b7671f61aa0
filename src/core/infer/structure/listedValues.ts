// A check that lists the words a column may hold, read by scanning: checks come from anybody, and no pattern may go back over them.

type Token = { readonly kind: 'name' | 'text' | 'mark'; readonly text: string }

const wordCharacter = (c: string | undefined): boolean => c !== undefined && /[\w$\u0080-\uffff]/.test(c)

/** The end of a quoted text that starts at `i`: behind its closing quote, which is doubled to stand within; null where it is never closed. */
function quotedEnd(text: string, i: number): number | null {
  const quote = text[i] as string
  for (let at = text.indexOf(quote, i + 1); at >= 0; at = text.indexOf(quote, at + 2)) if (text[at + 1] !== quote) return at + 1
  return null
}

/** Words, texts and marks; null where a quote is never closed. O(length). */
function tokens(text: string): readonly Token[] | null {
  const found: Token[] = []
  let i = 0
  while (i < text.length) {
    const c = text[i] as string
    if (c <= ' ') i += 1
    else if (c === "'" || c === '"' || c === '`') {
      const end = quotedEnd(text, i)
      if (end === null) return null
      found.push({ kind: c === "'" ? 'text' : 'name', text: text.slice(i + 1, end - 1).replaceAll(c + c, c) })
      i = end
    } else if (wordCharacter(c)) {
      const from = i
      while (wordCharacter(text[i])) i += 1
      found.push({ kind: 'name', text: text.slice(from, i) })
    } else if (text.startsWith('::', i)) {
      found.push({ kind: 'mark', text: '::' })
      i += 2
    } else {
      found.push({ kind: 'mark', text: c })
      i += 1
    }
  }
  return found
}

const isMark = (t: Token | undefined, text: string): boolean => t?.kind === 'mark' && t.text === text
const isWord = (t: Token | undefined, word: string): boolean => t?.kind === 'name' && t.text.toLowerCase() === word

/** The type behind `::` goes, with its length and brackets: `::character varying(3)[]`. */
function withoutCasts(list: readonly Token[]): readonly Token[] {
  const left: Token[] = []
  let i = 0
  while (i < list.length) {
    if (!isMark(list[i], '::')) {
      left.push(list[i] as Token)
      i += 1
      continue
    }
    i += 1
    while (list[i]?.kind === 'name') i += 1
    if (isMark(list[i], '(') && list[i + 1]?.kind === 'name' && isMark(list[i + 2], ')')) i += 3
    if (isMark(list[i], '[') && isMark(list[i + 1], ']')) i += 2
  }
  return left
}

/** What stands in brackets after a word is its argument, but for the words that introduce a list. */
function callsFunction(list: readonly Token[]): boolean {
  return list.some((t, i) => t.kind === 'name' && isMark(list[i + 1], '(') && !['in', 'any', 'or', 'check'].includes(t.text.toLowerCase()))
}

/** Texts with commas between, up to the end. */
function commaList(list: readonly Token[]): readonly string[] | null {
  const values = list.filter((_, i) => i % 2 === 0)
  const commas = list.filter((_, i) => i % 2 === 1)
  return list.length > 0 && values.every((t) => t.kind === 'text') && commas.every((t) => isMark(t, ',')) ? values.map((t) => t.text) : null
}

/** `a = 'x' or a = 'y'`. */
function orChain(list: readonly Token[], isColumn: (t: Token | undefined) => boolean): readonly string[] | null {
  const values: string[] = []
  for (let i = 0; i < list.length; i += 4) {
    const value = list[i + 2]
    if (!isColumn(list[i]) || !isMark(list[i + 1], '=') || value?.kind !== 'text' || (i + 3 < list.length && !isWord(list[i + 3], 'or'))) return null
    values.push(value.text)
  }
  return values.length > 1 && list.length % 4 === 3 ? values : null
}

/** The words of a check that says which ones a column may hold, in the order they are written; null where it says anything else. O(length). */
export function listedValues(expression: string, column: string): readonly string[] | null {
  // Most checks list nothing: they are told before anything is read.
  if (!expression.includes("'") || !expression.includes(column)) return null
  const all = tokens(expression)
  if (all === null || callsFunction(withoutCasts(all))) return null
  const bare = withoutCasts(all).filter((t) => !isMark(t, '(') && !isMark(t, ')'))
  const list = isWord(bare[0], 'check') ? bare.slice(1) : bare
  const isColumn = (t: Token | undefined) => t?.kind === 'name' && t.text.toLowerCase() === column.toLowerCase()
  if (!isColumn(list[0])) return null
  const behind = list.slice(1)
  const isArray = isMark(behind[0], '=') && isWord(behind[1], 'any') && isWord(behind[2], 'array') && isMark(behind[3], '[') && isMark(behind.at(-1), ']')
  const found = isWord(behind[0], 'in') ? commaList(behind.slice(1)) : isArray ? commaList(behind.slice(4, -1)) : orChain(list, isColumn)
  return found === null ? null : [...new Set(found)]
}
