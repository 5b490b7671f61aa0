// Reads notation files: every line that can be read is, and all that is wrong is told at once, each with its place.
import type { Dialect } from '../catalog/index.ts'
import { type Open, openBlock } from './blocks.ts'
import { Cursor, Wrong } from './cursor.ts'
import type { NotationProblem } from './problem.ts'
import { type Line, scan } from './scan.ts'
import type { Block, Notation } from './syntax.ts'
import { dialects } from './words.ts'

export interface NotationFile {
  readonly file: string
  readonly text: string
}

export interface ParsedNotation {
  readonly notation: Notation
  /** Of the first file that names one; what its outputs were made from. */
  readonly revision: string | null
  /** In order of file and place. */
  readonly problems: readonly NotationProblem[]
}

class FileReader {
  readonly blocks: Block[] = []
  readonly problems: NotationProblem[] = []
  dialect: Dialect | null = null
  revision: string | null = null
  private open: Open | null = null
  private headed = false
  /** The block's first line was wrong: its members are not complained about. */
  private passed = false

  constructor(
    private readonly file: string,
    private readonly text: string,
  ) {}

  read(): void {
    const scanned = scan(this.file, this.text)
    this.problems.push(...scanned.problems)
    const broken = scanned.problems.map((p) => p.at.from)
    for (const line of scanned.lines) {
      if (line.tokens.length === 0 && line.verbatim === null) continue
      // The scanner has said what is wrong with it.
      const told = broken.some((at) => at >= line.from && at < line.to)
      try {
        this.line(line)
      } catch (error) {
        if (!(error instanceof Wrong)) throw error
        if (!told) this.problems.push(error.problem)
      }
    }
    this.close()
    if (!this.headed) this.problems.unshift({ code: 'no-header', at: { file: this.file, from: 0, to: Math.min(1, this.text.length) } })
  }

  private close(): void {
    if (this.open) this.blocks.push(this.open.close())
    this.open = null
  }

  private line(line: Line): void {
    if (line.verbatim !== null) {
      if (this.open?.verbatim) this.open.verbatim(line.verbatim)
      else if (!this.passed) throw new Wrong({ code: 'no-block', at: { file: this.file, from: line.from, to: line.to }, found: 'a line of a query' })
      return
    }
    const c = new Cursor(this.file, this.text, line)
    if (!this.headed && c.is('notation')) return this.header(c)
    if (line.indented) {
      if (this.open) this.open.member(c)
      else if (!this.passed) throw new Wrong({ code: 'no-block', at: c.at, found: `"${c.token?.text ?? ''}"` })
      return
    }
    this.close()
    this.passed = true
    this.open = openBlock(c, (b) => this.blocks.push(b))
    this.passed = false
  }

  private header(c: Cursor): void {
    this.headed = true
    c.expect('notation')
    const version = c.number('the version')
    if (version.value !== '1') throw new Wrong({ code: 'other-version', at: version.at, version: version.value })
    c.expect('for')
    this.dialect = c.word('an engine', dialects).value
    if (c.accept(',')) {
      c.expect('revision')
      this.revision = c.text('the revision in quotes').value
    }
    c.end()
  }
}

/** Files in the order of their names. The dialect is that of the first; a file of another is told. */
export function parseNotation(files: readonly NotationFile[]): ParsedNotation {
  const blocks: Block[] = []
  const problems: NotationProblem[] = []
  let dialect: Dialect | null = null
  let revision: string | null = null
  for (const { file, text } of files) {
    const reader = new FileReader(file, text)
    reader.read()
    if (dialect !== null && reader.dialect !== null && reader.dialect !== dialect)
      problems.push({
        code: 'other-dialect',
        at: { file, from: 0, to: text.indexOf('\n') === -1 ? text.length : text.indexOf('\n') },
        here: dialect,
        there: reader.dialect,
      })
    dialect ??= reader.dialect
    revision ??= reader.revision
    blocks.push(...reader.blocks)
    problems.push(...reader.problems.toSorted((a, b) => a.at.from - b.at.from))
  }
  return { notation: { dialect, blocks }, revision, problems }
}
