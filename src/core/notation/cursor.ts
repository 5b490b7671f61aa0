// Goes over the tokens of one line; what does not fit is thrown as a problem with its place and ends the line, not the file.

import { nearestNames } from '../names/index.ts'
import { onOneLine } from '../text/scan.ts'
import type { NotationProblem } from './problem.ts'
import type { Line, Token } from './scan.ts'
import type { Place, Said } from './syntax.ts'

export class Wrong extends Error {
  constructor(readonly problem: NotationProblem) {
    super(problem.code)
  }
}

const shown = (t: Token | undefined) => (t === undefined ? '' : t.kind === 'text' ? 'a quoted text' : t.kind === 'code' ? 'an expression' : `"${t.text}"`)

export class Cursor {
  private i = 0

  constructor(
    readonly file: string,
    private readonly source: string,
    private readonly line: Line,
  ) {}

  get token(): Token | undefined {
    return this.line.tokens[this.i]
  }
  get done(): boolean {
    return this.i >= this.line.tokens.length
  }
  /** The whole line. */
  get at(): Place {
    const last = this.line.tokens.at(-1)
    return { file: this.file, from: this.line.from, to: last?.to ?? this.line.to }
  }
  placeOf = (t: Token): Place => ({ file: this.file, from: t.from, to: t.to })
  private get here(): Place {
    const t = this.token
    const end = this.line.tokens.at(-1)?.to ?? this.line.to
    return t ? this.placeOf(t) : { file: this.file, from: end, to: end }
  }

  ahead(n: number): Token | undefined {
    return this.line.tokens[this.i + n]
  }

  is(word: string, ahead = 0): boolean {
    const t = this.ahead(ahead)
    return t !== undefined && (t.kind === 'word' || t.kind === 'sign') && t.text === word
  }

  /** All of these words or signs, one after the other, or none of them. */
  accept(...words: readonly string[]): boolean {
    if (!words.every((w, i) => this.is(w, i))) return false
    this.i += words.length
    return true
  }

  expected(what: string, among: readonly string[] = []): Wrong {
    const t = this.token
    return new Wrong({ code: 'expected', at: this.here, what, found: shown(t), near: t?.kind === 'word' ? nearestNames(t.text, among) : [] })
  }

  expect(...words: readonly string[]): void {
    for (const w of words) if (!this.accept(w)) throw this.expected(`"${w}"`, [w])
  }

  private take(kinds: readonly Token['kind'][], what: string): Token {
    const t = this.token
    if (!t || !kinds.includes(t.kind)) throw this.expected(what)
    this.i += 1
    return t
  }

  name(what: string): Said<string> {
    const t = this.take(['word', 'name'], what)
    return { value: t.text, at: this.placeOf(t) }
  }
  text(what: string): Said<string> {
    const t = this.take(['text'], what)
    return { value: t.text, at: this.placeOf(t) }
  }
  code(what: string): Said<string> {
    const t = this.take(['code'], what)
    return { value: t.text, at: this.placeOf(t) }
  }
  number(what: string): Said<string> {
    const t = this.take(['number'], what)
    return { value: t.text, at: this.placeOf(t) }
  }
  /** One of these words; `what` is asked for where it is none. */
  word<W extends string>(what: string, words: readonly W[]): Said<W> {
    const t = this.token
    const found = words.find((w) => t?.kind === 'word' && t.text === w)
    if (!t || found === undefined) throw this.expected(what, words)
    this.i += 1
    return { value: found, at: this.placeOf(t) }
  }

  /** Items in brackets, with a comma between them; the place of all of it. */
  list<T>(item: () => T): Said<readonly T[]> {
    const from = this.here.from
    this.expect('(')
    const found: T[] = []
    if (!this.is(')'))
      do found.push(item())
      while (this.accept(','))
    const close = this.here
    this.expect(')')
    return { value: found, at: { file: this.file, from, to: close.to } }
  }
  columns(): Said<readonly string[]> {
    const found = this.list(() => this.name('a column').value)
    if (found.value.length === 0) throw new Wrong({ code: 'expected', at: found.at, what: 'a column', found: 'an empty list', near: [] })
    return found
  }

  /** The text as it stands up to a comma outside of brackets, a bracket that closes more than it opened, or the end of the line. */
  raw(what: string): Said<string> {
    const first = this.token
    let depth = 0
    let last: Token | null = null
    for (let t = this.token; t !== undefined; t = this.token) {
      const sign = t.kind === 'sign' ? t.text : ''
      if (depth === 0 && (sign === ',' || sign === ')')) break
      depth += sign === '(' ? 1 : sign === ')' ? -1 : 0
      last = t
      this.i += 1
    }
    if (!first || last === null) throw this.expected(what)
    return { value: onOneLine(this.source.slice(first.from, last.to)), at: { file: this.file, from: first.from, to: last.to } }
  }

  end(): void {
    if (!this.done) throw new Wrong({ code: 'too-much', at: this.here, found: shown(this.token) })
  }
}
