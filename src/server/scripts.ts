// Scripts that a user opens: read as they stream in, shown before anything is kept, then kept as a project's survey.
import { ZodError, z } from 'zod'
import { canonicalText, type Dialect, hashText, type ScriptReading } from '../core/catalog/index.ts'
import {
  ArchiveTooLarge,
  decodeText,
  ScriptReader,
  type ScriptResult,
  scriptDiagnosticLine,
  type TextPieces,
  textDecoderOf,
  unpackFiles,
  unpackScripts,
} from '../core/ddl/index.ts'
import { dialectLabel, type Guess, guessDialect, parseDialect, semanticsOf } from '../core/dialect/guess.ts'
import { defaultServer } from '../core/dialect/mysql/server.ts'
import { readSqliteFile } from '../core/dialect/sqlite/crossCheck.ts'
import type { LedgerEntry } from '../core/model/index.ts'
import { type NotationFile, notationProblemLine, notationSource } from '../core/notation/index.ts'
import type { Wording } from '../engines/postgres/index.ts'
import { findSource, findSurvey, importEntries, insertProject, insertSurvey } from '../store/index.ts'
import { catalogOf } from './catalogs.ts'

/** What a browser may send; more is for the command line, which reads piece by piece from the disk. */
export const scriptLimit = 100 * 1024 * 1024

export const scriptInput = z.object({
  file: z.string().trim().min(1).max(300),
  dialect: z
    .string()
    .max(30)
    .refine((d) => d === '' || parseDialect(d) !== null, 'there is no such dialect'),
  /** Empty for a look without keeping anything. */
  name: z.string().trim().max(80),
  project: z.string().max(80),
  /** The body is what a database file says of itself, as JSON. */
  facts: z.enum(['', 'sqlite']),
})

const named = { relation: z.string(), name: z.string() }
const fileFacts = z.object({
  rows: z.array(z.object({ type: z.string(), name: z.string(), sql: z.string() })),
  columns: z.array(z.object({ ...named, type: z.string(), pk: z.int(), hidden: z.int() })),
  references: z.array(z.object({ relation: z.string(), id: z.int(), from: z.string(), target: z.string() })),
})
export type ScriptInput = z.infer<typeof scriptInput>

/** What is shown before a project is made of it. */
export interface ScriptReport extends ScriptReading {
  readonly dialect: string
  readonly counts: readonly (readonly [string, number])[]
}

export type ScriptAnswer =
  | { readonly ok: true; readonly report: ScriptReport; readonly project: string | null }
  | { readonly ok: false; readonly wording: Wording }

const shownDiagnostics = 100
const headLength = 1 << 20

interface ReadScript {
  readonly result: ScriptResult
  readonly guess: Guess
  /** Where a file's own pragmas disagree with its text. */
  readonly disagreements: readonly string[]
  /** Of a notation: what makes the review of its catalog say what it says. */
  readonly entries?: readonly LedgerEntry[]
}

const refused = (message: string, detail: string, hint: string): ScriptAnswer => ({ ok: false, wording: { message, detail, hint } })

class TooLarge extends Error {}

/** What is wrong with a notation, line by line. */
class NotationWrong extends Error {
  constructor(readonly lines: readonly string[]) {
    super('notation')
  }
}

const isNotation = (name: string) => /\.pelvok$/i.test(name)

/** A model as text: its catalog, and the rulings it comes to. Throws NotationWrong. */
function readNotationFiles(files: readonly NotationFile[]): ReadScript {
  const source = notationSource(files)
  if (!source.ok) {
    const texts = new Map(files.map((f) => [f.file, f.text]))
    throw new NotationWrong(source.problems.map((p) => notationProblemLine(p, texts)))
  }
  const { catalog, entries } = source
  const blocks = catalog.relations.length
  return {
    result: { catalog, diagnostics: [], understood: blocks, structural: blocks, ignored: 0 },
    guess: {
      choice: catalog.dialect === 'mysql' ? { dialect: 'mysql', server: defaultServer } : { dialect: catalog.dialect },
      because: 'the notation says so',
    },
    disagreements: [],
    entries,
  }
}

/** A gzipped body as what is in it (RFC 1952, 2.3.1: it begins with 1f 8b); any other as it is. */
async function opened(body: ReadableStream<Uint8Array>): Promise<ReadableStream<Uint8Array>> {
  const reader = body.getReader()
  const first = await reader.read()
  const again = new ReadableStream<Uint8Array>({
    start: (c) => (first.done ? c.close() : c.enqueue(first.value)),
    pull: async (c) => {
      const next = await reader.read()
      if (next.done) c.close()
      else c.enqueue(next.value)
    },
    cancel: (reason) => reader.cancel(reason),
  })
  const isGzip = !first.done && first.value[0] === 0x1f && first.value[1] === 0x8b
  return isGzip ? again.pipeThrough(new DecompressionStream('gzip') as unknown as ReadableWritablePair<Uint8Array, Uint8Array>) : again
}

/** Pieces of a body as they arrive. Throws TooLarge past the limit. */
async function* piecesOf(body: ReadableStream<Uint8Array>): AsyncGenerator<Uint8Array> {
  const reader = body.getReader()
  let n = 0
  for (;;) {
    const { value, done } = await reader.read()
    if (done) break
    n += value.length
    if (n <= scriptLimit) yield value
    // The rest is let in and dropped, within reason: an answer before the end of a request is lost on some clients.
    else if (n > 20 * scriptLimit) {
      await reader.cancel()
      break
    }
  }
  if (n > scriptLimit) throw new TooLarge()
}

async function readZip(pieces: AsyncGenerator<Uint8Array>, first: Uint8Array, dialect: string): Promise<ReadScript> {
  const all = [first]
  for await (const p of pieces) all.push(p)
  const bytes = new Uint8Array(Buffer.concat(all))
  const notation = unpackFiles(bytes, isNotation)
  if (notation.length > 0) return readNotationFiles(notation.map((f) => ({ file: f.name, text: f.text })))
  const files = unpackScripts(bytes)
  const guess = chosen(
    dialect,
    files
      .map((f) => f.text)
      .join('\n')
      .slice(0, headLength),
  )
  const reader = new ScriptReader(semanticsOf(guess.choice))
  for (const f of files) reader.feed(f.name, f.text, true)
  return { result: reader.finish(), guess, disagreements: [] }
}

async function readFacts(file: string, body: ReadableStream<Uint8Array>): Promise<ReadScript> {
  const all: Uint8Array[] = []
  for await (const p of piecesOf(body)) all.push(p)
  const reading = readSqliteFile(file, fileFacts.parse(JSON.parse(decodeText(new Uint8Array(Buffer.concat(all))))))
  return { result: reading, guess: { choice: { dialect: 'sqlite' }, because: 'it is an SQLite database file' }, disagreements: reading.disagreements }
}

function chosen(dialect: string, head: string): Guess {
  const given = dialect === '' ? null : parseDialect(dialect)
  return given ? { choice: given, because: 'it was said so' } : guessDialect(head)
}

/** Reads one script, or a zip of them. Only the statement that is not whole yet is kept of the text. */
async function readPieces(file: string, body: ReadableStream<Uint8Array>, dialect: string): Promise<ReadScript> {
  const pieces = piecesOf(await opened(body))
  const waiting: Uint8Array[] = []
  let length = 0
  let reader: ScriptReader | null = null
  let decoder: TextPieces | null = null
  let guess: Guess | null = null
  if (isNotation(file)) {
    const all: Uint8Array[] = []
    for await (const piece of pieces) all.push(piece)
    return readNotationFiles([{ file, text: decodeText(new Uint8Array(Buffer.concat(all))) }])
  }
  const begin = (whole: boolean) => {
    const head = new Uint8Array(Buffer.concat(waiting))
    decoder = textDecoderOf(head, whole)
    guess = chosen(dialect, decodeText(head.subarray(0, headLength)))
    reader = new ScriptReader(semanticsOf(guess.choice))
    reader.feed(file, decoder.decode(head, { stream: true }), false)
    waiting.length = 0
  }
  for await (const piece of pieces) {
    // Waited for here: who leaves the loop before ends the pieces.
    if (length === 0 && piece[0] === 0x50 && piece[1] === 0x4b && piece[2] === 3 && piece[3] === 4) return await readZip(pieces, piece, dialect)
    length += piece.length
    if (reader) (reader as ScriptReader).feed(file, (decoder as unknown as TextPieces).decode(piece, { stream: true }), false)
    else {
      waiting.push(piece)
      if (length >= headLength) begin(false)
    }
  }
  if (!reader) begin(true)
  const made = reader as unknown as ScriptReader
  made.feed(file, (decoder as unknown as TextPieces).decode(), true)
  return { result: made.finish(), guess: guess as unknown as Guess, disagreements: [] }
}

function readingOf({ result, guess, disagreements }: ReadScript): ScriptReading {
  const lines = [...disagreements, ...result.diagnostics.map(scriptDiagnosticLine)]
  return {
    because: guess.because,
    understood: result.understood,
    structural: result.structural,
    ignored: result.ignored,
    diagnostics: lines.slice(0, shownDiagnostics),
    diagnosticCount: lines.length,
  }
}

function countsOf({ catalog: c }: ScriptResult): ScriptReport['counts'] {
  const tables = c.relations.filter((r) => r.kind !== 'view' && r.kind !== 'materialized view')
  return [
    ['tables', tables.length],
    ['views', c.relations.length - tables.length],
    ['columns', c.relations.reduce((n, r) => n + r.columns.length, 0)],
    ['foreign keys', c.relations.reduce((n, r) => n + r.foreignKeys.length, 0)],
    ['routines', c.routines.length],
  ]
}

/** What cannot be read, in words; null for a fault of ours. */
function wordingOf(error: unknown, input: ScriptInput): ScriptAnswer | null {
  if (error instanceof TooLarge)
    return refused(
      'this is more than 100 MB',
      'A browser is the wrong way for so much.',
      `Read it on the command line: pelvok survey ${input.file} --out snapshot.json`,
    )
  if (error instanceof ArchiveTooLarge)
    return refused(`${input.file} holds too much`, `${error.message}.`, 'Unpack it, and read the scripts in it on the command line.')
  if (error instanceof NotationWrong)
    return refused(
      `${error.lines.length === 1 ? 'one thing is' : `${error.lines.length} things are`} wrong in the notation`,
      `${error.lines.slice(0, 8).join('. ')}${error.lines.length > 8 ? ` … and ${error.lines.length - 8} more` : ''}.`,
      'Mend them, and choose it again.',
    )
  if (/unexpected end of file|incorrect (header|data) check|terminated/i.test(String(error)) || String((error as { code?: unknown }).code).startsWith('Z_'))
    return refused(
      `${input.file} is cut off or no gzip that can be opened`,
      `${error instanceof Error ? error.message : ''}.`,
      'Copy it again, or unpack it and choose what is in it.',
    )
  if (/invalid zip|unexpected EOF/i.test(String(error)))
    return refused(
      `${input.file} is no zip that can be opened`,
      `${error instanceof Error ? error.message : ''}.`,
      'Pack it again, or choose its files themselves.',
    )
  if (input.facts === 'sqlite' && (error instanceof SyntaxError || error instanceof ZodError))
    return refused(`what was read from ${input.file} did not arrive whole`, '', 'Choose the file again.')
  return null
}

/** Look at a script; where a name or a project is given, keep it as a new project or as that project's newest survey. */
export async function openScript(input: ScriptInput, body: ReadableStream<Uint8Array>, by: string): Promise<ScriptAnswer> {
  let read: ReadScript
  try {
    read = input.facts === 'sqlite' ? await readFacts(input.file, body) : await readPieces(input.file, body, input.dialect)
  } catch (error) {
    const wording = wordingOf(error, input)
    if (wording) return wording
    throw error
  }
  const report: ScriptReport = { ...readingOf(read), dialect: dialectLabel(read.guess.choice), counts: countsOf(read.result) }
  if (read.result.catalog.relations.length === 0)
    return refused(
      `no table was found in ${input.file}`,
      `It was read as ${report.dialect}: ${report.because}. ${report.diagnostics[0] ?? 'It has no statement that makes one.'}`,
      'Choose the dialect where the guess is wrong; give a dump of the structure, not only of the rows.',
    )
  const other = input.project === '' ? null : await otherDialect(input.project, read.result.catalog.dialect)
  if (other !== null)
    return refused(
      `this project is of ${other}, and the script is of ${report.dialect}`,
      'A project is one schema on one engine: rulings on names and types of one say nothing of the other.',
      'Make a project of its own for it, or choose the dialect where the guess is wrong.',
    )
  if (read.entries && input.project !== '')
    return refused(
      'a notation is no newer version of a schema',
      'It says what a review says, and only a part of the schema.',
      'Open it under Code, as notation: there it is shown what it changes.',
    )
  const project = await keep(input, read, report, by)
  return { ok: true, report, project }
}

/** The dialect of the project's newest snapshot where it is another one; null where it is the same, or there is none yet. */
async function otherDialect(projectId: string, dialect: Dialect): Promise<string | null> {
  const survey = await findSurvey(projectId)
  if (!survey) return null
  const was = (await catalogOf(survey.hash)).dialect
  return was === dialect ? null : { postgresql: 'PostgreSQL', mysql: 'MySQL or MariaDB', sqlite: 'SQLite' }[was]
}

async function keep(input: ScriptInput, read: ReadScript, report: ScriptReport, by: string): Promise<string | null> {
  if (input.name === '' && input.project === '') return null
  const project =
    input.project !== ''
      ? input.project
      : await insertProject({ name: input.name, by, kind: 'script', label: input.file, location: { file: input.file, dialect: input.dialect }, secret: null })
  const source = await findSource(project)
  if (!source) throw new Error(`project ${project} has no source`)
  const { catalog } = read.result
  const text = canonicalText(catalog)
  const at = new Date().toISOString()
  await insertSurvey({
    projectId: project,
    sourceId: source.id,
    hash: hashText(text),
    canonicalText: text,
    relations: catalog.relations.length,
    unmodelled: catalog.unmodelled.length,
    statistics: JSON.stringify({ at, relations: [], sequences: [] }),
    reading: JSON.stringify({
      server:
        input.facts === 'sqlite'
          ? `the SQLite file ${input.file}`
          : read.entries
            ? `the notation ${input.file}`
            : `the script ${input.file}, read as ${report.dialect}`,
      serverVersion: 0,
      database: input.file,
      user: by,
      at,
      census: [],
      notReadable: [],
      withGrants: 0,
      script: readingOf(read),
    }),
  })
  if (read.entries)
    await importEntries(
      project,
      read.entries.map((e) => ({ ...e, at, by })),
    )
  return project
}
