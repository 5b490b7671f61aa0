// Looks into text from outside without patterns that go back over it: each of these reads a character once, whatever stands there.

const isBlank = (c: string | undefined): boolean => c !== undefined && (c <= ' ' || (c > '~' && /\s/.test(c)))

/** `varchar(20)[]` → `varchar[]`: without the first group of brackets; the text itself where there is none, or none that is closed. */
export function withoutFirstBrackets(text: string): string {
  const open = text.indexOf('(')
  const close = open < 0 ? -1 : text.indexOf(')', open)
  return close < 0 ? text : text.slice(0, open) + text.slice(close + 1)
}

/** What stands between the first bracket and the last character, where that closes one; null where it does not. */
export function insideLastBrackets(text: string): string | null {
  const open = text.indexOf('(')
  return open >= 0 && text.endsWith(')') ? text.slice(open + 1, -1) : null
}

/** Words in front of a bracket, as functions are called: letters, digits, and what `more` says may stand in a name. In order, as written. */
export function wordsBeforeBrackets(text: string, isPart: (c: string) => boolean): readonly string[] {
  const found: string[] = []
  for (let open = text.indexOf('('); open >= 0; open = text.indexOf('(', open + 1)) {
    let to = open
    while (to > 0 && isBlank(text[to - 1])) to -= 1
    let from = to
    while (from > 0 && isPart(text[from - 1] as string)) from -= 1
    if (from < to) found.push(text.slice(from, to))
  }
  return found
}

/** Runs of blanks as one space, or as one line feed where the run has one. */
export function withSingleBlanks(text: string): string {
  const parts: string[] = []
  let from = 0
  let i = 0
  while (i < text.length) {
    if (!isBlank(text[i])) {
      i += 1
      continue
    }
    parts.push(text.slice(from, i))
    let line = false
    for (; i < text.length && isBlank(text[i]); i += 1) if (text[i] === '\n') line = true
    parts.push(line ? '\n' : ' ')
    from = i
  }
  parts.push(text.slice(from))
  return parts.join('')
}

/** Words that end a text, in any case, with blanks between: gives the text before the first of them; null where it does not end so. */
export function beforeEnding(text: string, words: readonly string[]): string | null {
  let rest = text.trimEnd()
  for (const word of words.toReversed()) {
    if (rest.slice(-word.length).toUpperCase() !== word) return null
    const before = rest.slice(0, -word.length)
    const trimmed = before.trimEnd()
    if (before !== '' && trimmed === before) return null
    rest = trimmed
  }
  return rest
}

/** The same text on one line: what stands around a line feed goes, and a space is put for it. */
export const onOneLine = (text: string): string =>
  text
    .split('\n')
    .map((line, i, all) => (all.length === 1 ? line : i === 0 ? line.trimEnd() : i === all.length - 1 ? line.trimStart() : line.trim()))
    .filter((line, i, all) => line !== '' || i === 0 || i === all.length - 1)
    .join(' ')

/** `any` stands for any text, `one` for one character. Goes back to the last `*` only: O(pattern × text) at worst, and no more. */
export function globMatches(pattern: string, text: string, any: string, one: string): boolean {
  let p = 0
  let star = -1
  let from = 0
  let t = 0
  while (t < text.length) {
    if (p < pattern.length && pattern[p] === any) {
      star = p
      from = t
      p += 1
    } else if (p < pattern.length && (pattern[p] === one || pattern[p] === text[t])) {
      p += 1
      t += 1
    } else if (star >= 0) {
      from += 1
      p = star + 1
      t = from
    } else return false
  }
  while (pattern[p] === any) p += 1
  return p === pattern.length
}

/** Brackets within brackets, deeper than anybody writes them (the server itself stops at its max_stack_depth). */
const deepest = 300

/**
 * Is the text nested so deeply that work that grows with the depth is not worth it? Brackets in quotes count, too: it is told too early
 * rather than too late. O(length).
 */
export function nestsDeeply(text: string): boolean {
  let depth = 0
  for (let i = 0; i < text.length; i += 1) {
    const c = text.charCodeAt(i)
    if (c === 40 || c === 91) {
      depth += 1
      if (depth > deepest) return true
    } else if ((c === 41 || c === 93) && depth > 0) depth -= 1
  }
  return false
}

/** Characters that change the direction in which what follows is shown (Unicode, UAX 9, 2.1 to 2.4). */
export const bidirectional = /[\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069]/g

/** Characters that turn the direction of text: embeddings, overrides, isolates and marks (Unicode, UAX 9, 2). As `\u202e`, which is read as them in strings. */
export const withoutControls = (text: string): string => text.replace(bidirectional, (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`)

/** A text for a terminal: control characters but line feeds and tabs (ECMA-48, 5.2 and 5.3) are told instead of done. */
export const printable = (text: string): string =>
  // biome-ignore lint/suspicious/noControlCharactersInRegex: those are what is looked for.
  withoutControls(text).replace(/[\u0000-\u0008\u000b-\u001f\u007f-\u009f]/g, (c) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`)
