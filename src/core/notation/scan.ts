// Cuts the text of a notation into lines, and those into tokens. A line that ends with a comma goes on in the next.
import type { Place } from './syntax.ts'

export type TokenKind =
  /** A bare word: a letter or underscore first. */
  | 'word'
  /** A name in double quotes, quotes gone. */
  | 'name'
  /** A text in single quotes. */
  | 'text'
  /** An expression in backticks. */
  | 'code'
  | 'number'
  | 'sign'

export interface Token {
  readonly kind: TokenKind
  /** Without quotes and escapes. */
  readonly text: string
  readonly from: number
  readonly to: number
}

export interface Line {
  /** A member of the block above it; else the beginning of one. */
  readonly indented: boolean
  readonly tokens: readonly Token[]
  /** Of lines that begin with `|`: what follows, as it stands. */
  readonly verbatim: string | null
  /** From `#` on, without it; one of each physical line. */
  readonly comments: readonly string[]
  readonly from: number
  readonly to: number
}

export interface ScanProblem {
  readonly code: 'unclosed' | 'odd-character'
  readonly at: Place
  readonly text: string
}

const wordAt = /[\p{L}_][\p{L}\p{N}_$]*/uy
const numberAt = /-?\d+(\.\d+)?/y
const signs = new Set(['(', ')', ',', ':', '=', '.', '[', ']', '…', '?', '/'])

/** `\n`, `\t`, `\r`, `\\`, `\u{1f41d}`; any other character stands for itself. */
const unescaped = (text: string) =>
  text.replace(/\\(u\{([0-9a-f]{1,6})\}|[\s\S])/gi, (_, c: string, hex: string | undefined) => {
    if (hex !== undefined) return Number.parseInt(hex, 16) <= 0x10ffff ? String.fromCodePoint(Number.parseInt(hex, 16)) : '\uFFFD'
    return c === 'n' ? '\n' : c === 't' ? '\t' : c === 'r' ? '\r' : c
  })

const controls: Readonly<Record<string, string>> = { '\n': '\\n', '\t': '\\t', '\r': '\\r', '\\': '\\\\' }
const escaped = (text: string) =>
  text.replace(
    /[\p{Cc}\u2028\u2029\\]|[\uD800-\uDBFF](?![\uDC00-\uDFFF])|(?<![\uD800-\uDBFF])[\uDC00-\uDFFF]/gu,
    (c) => controls[c] ?? `\\u{${c.charCodeAt(0).toString(16)}}`,
  )

/** A text as the notation quotes it. */
export const quoted = (text: string, quote: "'" | '"' | '`' = "'"): string => `${quote}${escaped(text).replaceAll(quote, quote + quote)}${quote}`

const bare = /^[\p{L}_][\p{L}\p{N}_$]*$/u
/** A name of the database or the code: bare where it can be. */
export const nameText = (name: string): string => (bare.test(name) ? name : quoted(name, '"'))

const quotes: Readonly<Record<string, TokenKind>> = { "'": 'text', '"': 'name', '`': 'code' }

const isDigit = (c: number) => c >= 48 && c <= 57
const isWordStart = (c: number) => (c >= 97 && c <= 122) || (c >= 65 && c <= 90) || c === 95
const isWordPart = (c: number) => isWordStart(c) || isDigit(c) || c === 36

class Scan {
  readonly tokens: Token[] = []
  readonly problems: ScanProblem[] = []
  comment: string | null = null

  constructor(
    private readonly file: string,
    private readonly text: string,
    private at: number,
    private readonly end: number,
  ) {}

  run(): void {
    while (this.at < this.end && this.comment === null) this.next()
  }

  private next(): void {
    const from = this.at
    const code = this.text.charCodeAt(from)
    if (isWordStart(code)) return this.word()
    const c = this.text.charAt(from)
    if (c === ' ' || c === '\t' || c === '\r' || c === '\uFEFF' || c === '\u00A0') this.at += 1
    else if (c === '#') this.comment = this.text.slice(from + 1, this.end).trimEnd()
    else if (quotes[c] !== undefined) this.quoted(c, quotes[c])
    else if (code > 127 && this.pattern(wordAt, 'word')) return
    else if ((isDigit(code) || c === '-') && this.pattern(numberAt, 'number')) return
    else this.sign(c)
  }

  private sign(first: string): void {
    const from = this.at
    const dots = first === '.' && this.text.startsWith('...', from)
    const sign = dots ? '...' : signs.has(first) ? first : String.fromCodePoint(this.text.codePointAt(from) as number)
    this.at += sign.length
    this.tokens.push({ kind: 'sign', text: dots ? '…' : sign, from, to: this.at })
    if (!dots && !signs.has(sign)) this.problems.push({ code: 'odd-character', at: { file: this.file, from, to: this.at }, text: sign })
  }

  /** Of plain letters mostly; any other is looked at by the pattern. */
  private word(): void {
    const from = this.at
    let at = from + 1
    while (at < this.end && isWordPart(this.text.charCodeAt(at))) at += 1
    if (at < this.end && this.text.charCodeAt(at) > 127) {
      this.pattern(wordAt, 'word')
      return
    }
    this.tokens.push({ kind: 'word', text: this.text.slice(from, at), from, to: at })
    this.at = at
  }

  private pattern(pattern: RegExp, kind: TokenKind): boolean {
    pattern.lastIndex = this.at
    const m = pattern.exec(this.text)
    if (!m || this.at + m[0].length > this.end) return false
    this.tokens.push({ kind, text: m[0], from: this.at, to: this.at + m[0].length })
    this.at += m[0].length
    return true
  }

  private quoted(quote: string, kind: TokenKind): void {
    const from = this.at
    let i = from + 1
    for (; i < this.end; i += 1) {
      if (this.text.charAt(i) === '\\') i += 1
      else if (this.text.charAt(i) !== quote) continue
      else if (this.text.charAt(i + 1) === quote && i + 1 < this.end) i += 1
      else break
    }
    const closed = i < this.end
    if (!closed) this.problems.push({ code: 'unclosed', at: { file: this.file, from, to: this.end }, text: quote })
    this.at = Math.min(i + 1, this.end)
    const inner = this.text.slice(from + 1, Math.min(i, this.end)).replaceAll(quote + quote, quote)
    this.tokens.push({ kind, text: unescaped(inner), from, to: this.at })
  }
}

interface OpenLine {
  readonly indented: boolean
  readonly tokens: readonly Token[]
  readonly comments: readonly string[]
  readonly from: number
}

export interface Scanned {
  readonly lines: readonly Line[]
  readonly problems: readonly ScanProblem[]
}

/** Lines in order; blank ones and those of comments only have no tokens. O(text). */
export function scan(file: string, text: string): Scanned {
  const lines: Line[] = []
  const problems: ScanProblem[] = []
  let open: OpenLine | null = null
  for (let from = 0; from <= text.length; ) {
    const newline = text.indexOf('\n', from)
    const end = newline === -1 ? text.length : newline
    let first = 0
    for (let c = text.charCodeAt(from); from + first < end && (c === 32 || c === 9 || c === 0xfeff); c = text.charCodeAt(from + first)) first += 1
    const indented = text.charAt(from) === ' ' || text.charAt(from) === '\t'
    if (open === null && text.charAt(from + first) === '|') {
      const verbatim = text
        .slice(from + first + 1, end)
        .replace(/^ /, '')
        .replace(/\r$/, '')
      lines.push({ indented, tokens: [], verbatim, comments: [], from: from + first, to: end })
    } else {
      const s = new Scan(file, text, from + first, end)
      s.run()
      problems.push(...s.problems)
      const comments = s.comment === null ? [] : [s.comment]
      const begun: OpenLine = { indented, tokens: s.tokens, comments, from: from + first }
      // A line that begins a block ends whatever the one before it left open.
      if (open !== null && !indented && s.tokens.length > 0) {
        lines.push({ ...open, verbatim: null, to: from - 1 })
        open = null
      }
      const whole: OpenLine = open === null ? begun : { ...open, tokens: [...open.tokens, ...s.tokens], comments: [...open.comments, ...comments] }
      open = whole
      const last = whole.tokens.at(-1)
      const goesOn = last?.kind === 'sign' && last.text === ',' && newline !== -1
      if (!goesOn) {
        lines.push({ ...whole, verbatim: null, to: end })
        open = null
      }
    }
    if (newline === -1) break
    from = newline + 1
  }
  if (open !== null) lines.push({ ...open, verbatim: null, to: text.length })
  return { lines, problems }
}
