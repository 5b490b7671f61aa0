// The scanner: a cursor over one text that makes no token objects. What it stands on is told by its fields; positions are
// UTF-16 code units. It reads on demand, so what nobody asks for (rows, bodies) costs one look at each character.
import { classes, isDigit, isPart, isSpace, isStart, mayPrefix } from './characters.ts'
import type { Lexis } from './lexis.ts'
import { stringValue, unquote } from './literals.ts'
import { Unreadable } from './unreadable.ts'

/** What the scanner stands on. `end` is the end of the text, `stop` the end of a statement. */
export type Kind = 'end' | 'stop' | 'word' | 'name' | 'string' | 'number' | 'mark'

/** A longer name may be cut (PostgreSQL manual 4.1.1: NAMEDATALEN). */
const shortestCut = 64

/** No engine keeps longer ones but SQLite, where nobody writes them; what is made of names is made many times over. */
const longestName = 1000

/** MariaDB takes no heed of MySQL's own versions, 5.7 to 9.99 (MariaDB, Comment Syntax). */
const runsFrom = (ofMariaDb: boolean, version: number, server: NonNullable<Lexis['conditional']>): boolean =>
  version <= server.version && (server.mariadb ? ofMariaDb || version < 50_700 || version > 99_999 : !ofMariaDb)

/** What a scanner stood on, and whether inside conditional code. */
export interface Place {
  readonly kind: Kind
  readonly from: number
  readonly to: number
  readonly before: number
  readonly mark: number
  readonly lower: boolean
  readonly upper: boolean
  readonly conditional: boolean
}

/** Scripts are often templates. What stands for a prefix is gone over, what stands for a whole name is one. */
const skippedHole = /^(?:\$\w+->|\$[A-Za-z_]\w*(?![\w$])|\$\{[^}\n]*\}|\{\$[^}\n]*\}|\{\{[^}\n]*\}\})/
const namedHole = /^@[A-Za-z_]\w*@/

export class Scanner {
  kind: Kind = 'end'
  /** Start of what it stands on, and the end after it. */
  from: number
  to: number
  /** End of what stood before: where a captured piece of text ends. */
  before: number
  /** The character code of a mark. */
  mark = 0
  /** Up to here the blanks before what it stands on are whole: no comment goes on beyond, no conditional code is open. */
  blankTo = 0
  /** True when the end of the text was met inside something or before a statement's end. */
  starved = false
  /** Places a template engine would fill, as they stand in the text: `@NAMESPACE@`, `${prefix}`. */
  readonly holes = new Set<string>()
  /** A word of small ASCII letters, digits and `_` only: it is folded as it stands. */
  private lower = false
  /** The same of capitals: it is its own `word`. */
  private upper = false
  private conditional = false
  /** The last word asked for in capitals, and where it stands. */
  private capitals = ''
  private capitalsAt = -1

  constructor(
    readonly text: string,
    public lexis: Lexis,
    at = 0,
    /** Ends a statement; another one than `;` after DELIMITER. */
    public delimiter = ';',
  ) {
    this.from = at
    this.to = at
    this.before = at
    this.next()
  }

  /** Go to the next token. */
  next(): void {
    this.before = this.to
    const { text } = this
    const at = this.skipBlank(this.to)
    this.from = at
    if (at >= text.length) {
      this.kind = 'end'
      this.to = at
      this.starved = true
      return
    }
    const c = text.charCodeAt(at)
    if (this.delimiter === ';' ? c === 59 : text.startsWith(this.delimiter, at)) {
      this.kind = 'stop'
      this.to = at + this.delimiter.length
      return
    }
    this.to = this.token(at, c)
  }

  /** Begin again at a place, as if freshly made there. */
  jump(at: number): void {
    this.to = at
    this.conditional = false
    this.next()
  }

  private skipBlank(from: number): number {
    const { text, lexis } = this
    let at = from
    for (;;) {
      let c = text.charCodeAt(at)
      while (isSpace(c)) {
        at += 1
        c = text.charCodeAt(at)
      }
      if (!this.conditional && !this.starved) this.blankTo = at
      // What begins a word begins nothing to skip.
      if (c < 128 && ((classes[c] as number) & 1) !== 0) return at
      if (c === 45 && text.charCodeAt(at + 1) === 45 && (!lexis.dashNeedsSpace || isSpace(text.charCodeAt(at + 2)) || at + 2 >= text.length))
        at = this.lineEnd(at)
      else if (c === 35 && lexis.hashComments) at = this.lineEnd(at)
      else if (c === 47 && text.charCodeAt(at + 1) === 42) at = this.comment(at)
      else if (c === 42 && this.conditional && text.charCodeAt(at + 1) === 47) {
        this.conditional = false
        at += 2
      } else {
        const hole = c === 36 || c === 123 ? skippedHole.exec(text.slice(at, at + 80)) : null
        if (!hole) return at
        this.holes.add(hole[0])
        at += hole[0].length
      }
    }
  }

  private lineEnd(at: number): number {
    const end = this.text.indexOf('\n', at)
    if (end < 0) this.starved = true
    return end < 0 ? this.text.length : end
  }

  private comment(at: number): number {
    const { text, lexis } = this
    if (lexis.conditional) {
      const m = /^\/\*(M?)!(\d*)/.exec(text.slice(at, at + 12))
      const runs = m && runsFrom(m[1] === 'M', Number(m[2] || 0), lexis.conditional)
      if (m && runs) {
        this.conditional = true
        return at + m[0].length
      }
    }
    if (!lexis.nestedComments) return this.closing('*/', at + 2)
    let depth = 0
    for (let i = at; i < text.length; i += 1) {
      if (text.charCodeAt(i) === 47 && text.charCodeAt(i + 1) === 42) {
        depth += 1
        i += 1
      } else if (text.charCodeAt(i) === 42 && text.charCodeAt(i + 1) === 47) {
        depth -= 1
        i += 1
        if (depth === 0) return i + 1
      }
    }
    this.starved = true
    return text.length
  }

  /** The end after the next `mark`; the end of the text where there is none. */
  private closing(mark: string, from: number): number {
    const end = this.text.indexOf(mark, from)
    if (end >= 0) return end + mark.length
    this.starved = true
    return this.text.length
  }

  private token(at: number, c: number): number {
    const { text, lexis } = this
    if (isStart(c) && !mayPrefix(text.charCodeAt(at + 1))) return this.wordEnd(at)
    // Brackets, comma, equals sign: most of what is no word, and never anything else.
    if (c === 40 || c === 41 || c === 44 || c === 61) {
      this.kind = 'mark'
      this.mark = c
      return at + 1
    }
    const hole = c === 64 ? namedHole.exec(text.slice(at, at + 80)) : null
    if (hole) {
      this.kind = 'name'
      this.holes.add(hole[0])
      return at + hole[0].length
    }
    if (lexis.postgresStrings && text.charCodeAt(at + 1) === 39 && /[EeBbXxNn]/.test(text[at] as string)) {
      this.kind = 'string'
      return this.quoted(at + 1, 39, c === 69 || c === 101)
    }
    if (lexis.postgresStrings && (c === 85 || c === 117) && text.charCodeAt(at + 1) === 38 && /["']/.test(text[at + 2] ?? '')) {
      const quote = text.charCodeAt(at + 2)
      this.kind = quote === 39 ? 'string' : 'name'
      return this.quoted(at + 2, quote, false)
    }
    if (!lexis.postgresStrings && text.charCodeAt(at + 1) === 39 && /[XxBbNn]/.test(text[at] as string)) {
      this.kind = 'string'
      return this.quoted(at + 1, 39, false)
    }
    if (isStart(c)) return this.wordEnd(at)
    if (isDigit(c) || (c === 46 && isDigit(text.charCodeAt(at + 1)))) return this.numberOrWord(at)
    const ch = text[at] as string
    if (lexis.stringQuotes.includes(ch)) {
      this.kind = 'string'
      return this.quoted(at, c, lexis.backslashEscapes)
    }
    if (lexis.nameQuotes.includes(ch)) {
      this.kind = 'name'
      return c === 91 ? this.closing(']', at + 1) : this.quoted(at, c, false)
    }
    if (c === 36 && lexis.postgresStrings) {
      const tag = /^\$(?:[A-Za-z_\u0080-\uffff][\w\u0080-\uffff]*)?\$/.exec(text.slice(at, at + 80))?.[0]
      if (tag !== undefined) {
        this.kind = 'string'
        return this.closing(tag, at + tag.length)
      }
    }
    this.kind = 'mark'
    this.mark = c
    return at + 1
  }

  private wordEnd(at: number): number {
    const { text } = this
    this.kind = 'word'
    let i = at
    let seen = 0
    for (;;) {
      const c = text.charCodeAt(i)
      // NaN, the end of the text, is none of either.
      const own = c < 128 ? (classes[c] as number) : c >= 128 ? 1 | 8 | 16 : 0
      if ((own & 3) === 0) break
      seen |= own
      i += 1
    }
    this.lower = (seen & 8) === 0
    this.upper = (seen & 16) === 0
    return i
  }

  /** MySQL allows names that begin with a digit; a number ends where neither digits, a point nor an exponent follow. */
  private numberOrWord(at: number): number {
    const { text } = this
    let plain = at
    while (isDigit(text.charCodeAt(plain))) plain += 1
    const after = text.charCodeAt(plain)
    if (plain > at && after !== 46 && !isPart(after)) {
      this.kind = 'number'
      return plain
    }
    const m = /^(?:0x[0-9a-f]+|(?:\d+\.?\d*|\.\d+)(?:e[+-]?\d+)?)/i.exec(text.slice(at, at + 64))
    let i = at + (m?.[0].length ?? 1)
    if (!isPart(text.charCodeAt(i))) {
      this.kind = 'number'
      return i
    }
    this.kind = 'word'
    this.lower = false
    this.upper = false
    while (isPart(text.charCodeAt(i))) i += 1
    return i
  }

  /** The end after a quoted piece that opens at `at`; the quote doubled stands for itself. */
  private quoted(at: number, quote: number, escapes: boolean): number {
    const { text } = this
    for (let i = at + 1; i < text.length; i += 1) {
      const c = text.charCodeAt(i)
      if (c === 92 && escapes) i += 1
      else if (c === quote) {
        if (text.charCodeAt(i + 1) !== quote) return i + 1
        i += 1
      }
    }
    this.starved = true
    return text.length
  }

  /** Does it stand on this word? `word` is given in capitals. */
  is(word: string): boolean {
    if (this.kind !== 'word' || this.to - this.from !== word.length) return false
    for (let i = 0; i < word.length; i += 1) {
      const c = this.text.charCodeAt(this.from + i)
      if ((c >= 97 && c <= 122 ? c - 32 : c) !== word.charCodeAt(i)) return false
    }
    return true
  }

  isMark(mark: string): boolean {
    return this.kind === 'mark' && this.mark === mark.charCodeAt(0)
  }

  /** The text it stands on, as it is written. */
  get raw(): string {
    return this.text.slice(this.from, this.to)
  }

  /** Go over these words if they all follow; else stay. Written out rather than as a list: it is asked some millions of times. */
  accept(first: string, second?: string, third?: string, fourth?: string, fifth?: string): boolean {
    if (!this.is(first)) return false
    if (second === undefined) {
      this.next()
      return true
    }
    // Kept one by one: most that ask for two words stop here, and none of them should cost an object.
    const { from, to, before, mark, lower, upper, conditional } = this
    this.next()
    if (this.rest(second) && this.rest(third) && this.rest(fourth) && this.rest(fifth)) return true
    this.kind = 'word'
    this.from = from
    this.to = to
    this.before = before
    this.mark = mark
    this.lower = lower
    this.upper = upper
    this.conditional = conditional
    return false
  }

  private rest(word: string | undefined): boolean {
    if (word === undefined) return true
    if (!this.is(word)) return false
    this.next()
    return true
  }

  /** The same for a list. */
  acceptAll(words: readonly string[]): boolean {
    return this.accept(words[0] as string, words[1], words[2], words[3], words[4])
  }

  /** The word it stands on, in capitals; "" where it stands on none. */
  get word(): string {
    if (this.kind !== 'word') return ''
    if (this.capitalsAt !== this.from) {
      this.capitals = this.upper ? this.raw : this.raw.toUpperCase()
      this.capitalsAt = this.from
    }
    return this.capitals
  }

  acceptMark(mark: string): boolean {
    if (!this.isMark(mark)) return false
    this.next()
    return true
  }

  expect(...words: readonly string[]): void {
    for (const w of words) {
      if (!this.is(w)) throw this.unreadable(`${w} was expected`)
      this.next()
    }
  }

  expectMark(mark: string): void {
    if (!this.acceptMark(mark)) throw this.unreadable(`"${mark}" was expected`)
  }

  unreadable(expected: string): Unreadable {
    return new Unreadable(this.from, this.to, expected)
  }

  get atEnd(): boolean {
    return this.kind === 'end'
  }

  get done(): boolean {
    return this.kind === 'stop' || this.kind === 'end'
  }

  /** A place to come back to with `back`. */
  place(): Place {
    const { kind, from, to, before, mark, lower, upper, conditional } = this
    return { kind, from, to, before, mark, lower, upper, conditional }
  }

  /** Nothing is read again. */
  back(p: Place): void {
    this.kind = p.kind
    this.from = p.from
    this.to = p.to
    this.before = p.before
    this.mark = p.mark
    this.lower = p.lower
    this.upper = p.upper
    this.conditional = p.conditional
  }

  /** The name it stands on, as the catalog keeps it: folded where it is not quoted. Goes on. */
  name(what = 'a name'): string {
    if (this.to - this.from > longestName && (this.kind === 'word' || this.kind === 'name'))
      throw this.unreadable(`a name of at most ${longestName} characters was expected`)
    return this.anyName(what)
  }

  /** The same, however long it is: for texts that are only looked into. */
  anyName(what = 'a name'): string {
    const { kind, text, from, to, lower, lexis } = this
    if (kind === 'word') {
      this.next()
      const written = text.slice(from, to)
      return lower && to - from < shortestCut ? written : lexis.fold(written)
    }
    if (kind === 'name' || (kind === 'string' && lexis.nameQuotes.length > 1)) {
      this.next()
      return unquote(text.slice(from, to))
    }
    throw this.unreadable(`${what} was expected`)
  }

  /** The value of the string it stands on. Goes on; adjacent strings are one (SQL:2016, 5.3). */
  string(): string {
    if (this.kind !== 'string') throw this.unreadable('a string was expected')
    const value = stringValue(this.raw, this.lexis)
    this.next()
    return value
  }
}
