// Cuts a script into statements and reads each; what cannot be read is told with its place, and the rest is still read.
// Text comes in pieces of any size; no more is kept than the statement that is not whole yet. Rows of COPY are never kept.
import type { Lexis } from './lexis.ts'
import { readStatement } from './read.ts'
import { Scanner } from './scanner.ts'
import type { Statement } from './statement.ts'
import { Unreadable } from './unreadable.ts'

/** Where a piece of a script is. Offsets count UTF-16 code units from 0, `to` exclusive; line and column count from 1. */
export interface TextPlace {
  readonly file: string
  readonly from: number
  readonly to: number
  readonly line: number
  readonly column: number
}

export interface ReaderSink {
  readonly statement: (s: Statement, place: TextPlace) => void
  /** A statement that was not read: what was expected at the place, its beginning as text, and where it is as a whole. */
  readonly unreadable: (place: TextPlace, expected: string, text: string, whole: TextPlace) => void
}

const excerptLength = 200

export class StatementReader {
  private buffer = ''
  /** Of the buffer's first character within the file. */
  private offset = 0
  /** Lines are counted up to here, and the last one begins there; both within the buffer. */
  private at = 0
  private line = 1
  private lineStart = 0
  /** Not tried again before the buffer is this long: each try reads the statement from its start. */
  private wanted = 0
  private inRows = false
  private delimiter = ';'
  /** Placeholders of a template met so far. */
  readonly holes = new Set<string>()

  constructor(
    private readonly file: string,
    private lexis: Lexis,
    private readonly sink: ReaderSink,
  ) {}

  /** Takes the next piece of the file; `last` says that nothing follows. */
  feed(text: string, last: boolean): void {
    this.buffer += text
    if (!last && this.buffer.length < this.wanted) return
    this.wanted = 0
    this.run(last)
  }

  private run(last: boolean): void {
    if (this.inRows && !this.skipRows(last)) return
    const s = new Scanner(this.buffer, this.lexis, 0, this.delimiter)
    let kept = 0
    while (s.kind !== 'end') {
      if (s.kind === 'stop') {
        s.next()
        continue
      }
      // From before the blanks: conditional code may have begun in them.
      const start = s.before
      const command = this.isCommand(s)
      const whole = command ? this.commandLine(s, last) : this.one(s, last)
      if (!whole) {
        this.drop(start)
        this.wanted = this.buffer.length * 2
        return
      }
      if (command) continue
      kept = s.to
      if (this.inRows) {
        this.drop(s.to)
        if (this.skipRows(last)) this.run(last)
        return
      }
      s.next()
    }
    // What is left is blank, but for a comment that may not be whole yet.
    this.drop(last ? this.buffer.length : Math.max(kept, s.blankTo))
    if (!last) this.wanted = this.buffer.length * 2
  }

  /** Reads one statement; false where it is not whole yet. */
  private one(s: Scanner, last: boolean): boolean {
    const start = s.from
    s.starved = false
    let statement: Statement | Unreadable
    try {
      statement = readStatement(s)
    } catch (error) {
      if (!(error instanceof Unreadable)) throw error
      statement = error
      while (!s.done) s.next()
    }
    if (s.starved && !last) return false
    if (s.holes.size > 0) for (const hole of s.holes) this.holes.add(hole)
    if (statement instanceof Unreadable)
      this.sink.unreadable(this.placeOf(statement.from, statement.to), statement.expected, this.excerpt(start, s.from), this.placeOf(start, s.before))
    else if (statement.kind === 'rows follow') this.inRows = true
    else {
      if (statement.kind === 'ignored' && this.lexis.underMode) this.setMode(s, this.excerpt(start, s.from))
      this.sink.statement(statement, this.placeOf(start, s.before))
    }
    return true
  }

  private excerpt(from: number, to: number): string {
    return this.buffer.slice(from, Math.min(to, from + excerptLength))
  }

  /** SET SQL_MODE changes how what follows is cut into tokens. */
  private setMode(s: Scanner, text: string): void {
    const { underMode } = this.lexis
    const said = underMode && /^SET\b/i.test(text) ? /\bSQL_MODE\s*:?=\s*(?:'([^']*)'|\S)/i.exec(text) : null
    if (!underMode || !said) return
    this.lexis = underMode(said[1] ?? null)
    s.lexis = this.lexis
  }

  /** Lines for the client program: `\connect`, `.mode`, DELIMITER. */
  private isCommand(s: Scanner): boolean {
    const atLineStart = () => /(^|\n)[ \t]*$/.test(this.buffer.slice(Math.max(0, s.from - 80), s.from))
    return s.isMark('\\') || s.is('DELIMITER') || (s.isMark('.') && atLineStart())
  }

  /** Over such a line; false where it is not whole yet. */
  private commandLine(s: Scanner, last: boolean): boolean {
    const end = this.buffer.indexOf('\n', s.from)
    if (end < 0 && !last) return false
    const to = end < 0 ? this.buffer.length : end
    if (s.is('DELIMITER')) {
      s.delimiter = this.buffer.slice(s.from, to).trim().split(/\s+/)[1] ?? ';'
      this.delimiter = s.delimiter
    }
    s.jump(to)
    return true
  }

  /** Over the rows of COPY, to after the line `\.`; false where more text is needed. */
  private skipRows(last: boolean): boolean {
    const end = /(?:^|\n)\\\.\r?(?:\n|$)/.exec(this.buffer)
    if (!end) {
      this.drop(last ? this.buffer.length : Math.max(0, this.buffer.length - 5))
      return last
    }
    this.drop(end.index + end[0].length)
    this.inRows = false
    return true
  }

  /** Forgets the beginning of the buffer. */
  private drop(count: number): void {
    this.walkTo(count)
    this.offset += count
    this.at -= count
    this.lineStart -= count
    this.buffer = this.buffer.slice(count)
  }

  /** Counts lines up to a place; places come in order, so each character is looked at once. */
  private walkTo(to: number): void {
    for (let next = this.buffer.indexOf('\n', this.at); next >= 0 && next < to; next = this.buffer.indexOf('\n', next + 1)) {
      this.line += 1
      this.lineStart = next + 1
    }
    this.at = Math.max(this.at, to)
  }

  private placeOf(from: number, to: number): TextPlace {
    // A complaint may be about a place before the last one: within one statement, which is short.
    if (from < this.at) return this.placeBefore(from, to)
    this.walkTo(from)
    return { file: this.file, from: this.offset + from, to: this.offset + to, line: this.line, column: from - this.lineStart + 1 }
  }

  private placeBefore(from: number, to: number): TextPlace {
    let line = this.line
    for (let next = this.buffer.indexOf('\n', from); next >= 0 && next < this.at; next = this.buffer.indexOf('\n', next + 1)) line -= 1
    const lineStart = line === this.line ? this.lineStart : this.buffer.lastIndexOf('\n', from - 1) + 1
    return { file: this.file, from: this.offset + from, to: this.offset + to, line, column: from - lineStart + 1 }
  }
}
