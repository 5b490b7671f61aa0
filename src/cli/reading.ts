// A source as commands read it: narrowed, with the rulings on it, and with what its rows say.
import { existsSync, readFileSync } from 'node:fs'
import type { Command } from 'commander'
import { canonicalText, hashText } from '../core/catalog/index.ts'
import { rowQuestions, statementJoins } from '../core/infer/index.ts'
import type { LedgerEntry } from '../core/model/index.ts'
import { claimQuestions, type Review, type ReviewBase, reviewBase, reviewWith } from '../core/review/index.ts'
import { inclusionKey, type RowEvidence, rowEvidence } from '../core/rows/index.ts'
import { scopeByPatterns, scopedCatalog } from '../core/scope/index.ts'
import { isView } from '../core/views/index.ts'
import { badInput } from './exit.ts'
import { readLedgerFile } from './ledger.ts'
import { diagnosticLines } from './print.ts'
import { statementTexts } from './script.ts'
import { type ReadSource, readSource, type SourceOptions } from './source.ts'
import { progress, say } from './terminal.ts'

export const several = (value: string, before: string[]): string[] => [...before, value]

export interface ReadOptions {
  readonly schema: string[]
  readonly ledger?: string
  readonly dialect?: string
  readonly rows?: boolean
  readonly rowsFile?: string
  readonly queries?: string
  readonly only?: string[]
  readonly without?: string[]
}

export const withRows = (c: Command): Command =>
  c
    .option('--rows', 'read rows as evidence: read-only, a sample first')
    .option('--rows-file <file>', 'take what rows say from a file that "pelvok rows" wrote')
    .option('--queries <dir>', 'statements of the application, as evidence: .sql files in a folder, or one file')
export const withLedger = (c: Command): Command => c.option('--ledger <file>', 'the rulings of a review: pelvok.ledger.jsonl')
export const withPatterns = (c: Command): Command =>
  c
    .option('--only <pattern>', 'these tables or columns only: table, schema.table or schema.table.column, with * and ?; may be repeated', several, [])
    .option('--without <pattern>', 'leave these tables or columns out; may be repeated', several, [])

export const sourceOptions = (o: ReadOptions): SourceOptions => ({
  schemas: o.schema.length > 0 ? o.schema : null,
  dialect: o.dialect ?? null,
  progress,
  say,
})

export type Read = ReadSource & { readonly entries: readonly LedgerEntry[]; readonly isNotation: boolean }
export type ReadReview = Read & { readonly base: ReviewBase; readonly review: Review }

/** A source, and the rulings on it: its own where it is a notation. */
export async function readWithLedger(source: string, o: ReadOptions): Promise<Read> {
  const read = await readSource(source, sourceOptions(o))
  if (read.entries && o.ledger !== undefined)
    throw badInput('--ledger goes with a schema; a notation says itself what was ruled', 'Leave --ledger away, or take the notation in with "pelvok edits".')
  return {
    ...read,
    catalog: narrowed(read, o),
    isNotation: read.entries !== undefined,
    entries: read.entries ?? (o.ledger === undefined ? [] : readLedgerFile(o.ledger)),
  }
}

function narrowed({ catalog }: ReadSource, { only = [], without = [] }: ReadOptions): ReadSource['catalog'] {
  const { scope, idle } = scopeByPatterns(catalog, { only, without })
  const [first] = idle
  if (first !== undefined)
    throw badInput(`no table and no column is called "${first}"`, 'Patterns are table, schema.table, table.column or schema.table.column, with * and ?.')
  return scopedCatalog(catalog, scope)
}

export async function readReview(source: string, o: ReadOptions): Promise<ReadReview> {
  const read = await readWithLedger(source, o)
  const { entries } = read
  const rows = withStatements(await rowsFor(read, o), read, o.queries)
  const base = reviewBase(read.catalog, entries, null, rows)
  const made = reviewWith(base, hashText(canonicalText(read.catalog)), entries)
  for (const line of diagnosticLines(made.model)) say(`note: ${line}`)
  return { ...read, base, review: made }
}

async function rowsFor(read: Read, o: ReadOptions): Promise<RowEvidence | null> {
  if (o.rowsFile === undefined) return o.rows ? readRowsOf(read, read.entries) : null
  if (o.rows) throw badInput('--rows reads rows now, and --rows-file takes what was read before', 'Give one of them.')
  return readRowsFile(o.rowsFile)
}

function readRowsFile(file: string): RowEvidence {
  if (!existsSync(file)) throw badInput(`there is no "${file}"`, 'Write it with "pelvok rows SOURCE --out FILE".')
  const hint = 'Write it anew with "pelvok rows SOURCE --out FILE"; docs/formats/rows.md has the format.'
  let value: unknown
  try {
    value = JSON.parse(readFileSync(file, 'utf8'))
  } catch (error) {
    throw badInput(`"${file}" is no JSON`, hint, (error as Error).message)
  }
  const parsed = rowEvidence.safeParse(value)
  if (parsed.success) return parsed.data
  const [issue] = parsed.error.issues
  throw badInput(`"${file}" does not say what rows say`, hint, `${issue?.path.join('.') || 'the whole'}: ${issue?.message ?? 'not understood'}`)
}

/** What rows say, read now. Throws ExitError where the source has none. */
export async function readRowsOf(read: ReadSource, entries: readonly LedgerEntry[] = []): Promise<RowEvidence> {
  if (!read.profile) throw badInput(`"${read.label}" holds no rows that can be read`, 'Give the URL of a server, or an SQLite file, or leave --rows away.')
  const at = new Date().toISOString()
  const rows = await read.profile(rowQuestions(read.catalog, claimQuestions(read.catalog, entries)), {
    at,
    onProgress: (done, all) => progress(`rows: ${done} of ${all} sets of columns`),
  })
  for (const u of rows.unread) say(`not read: ${inclusionKey(u.child, u.parent)}: ${u.because}`)
  return rows
}

/** What statements of the application join by, beside what rows say. Without rows it is evidence of its own. */
function withStatements(rows: RowEvidence | null, read: ReadSource, folder: string | undefined): RowEvidence | null {
  if (folder === undefined) return rows
  const texts = statementTexts(folder)
  const joins = statementJoins(
    texts,
    read.catalog.relations.filter((r) => !isView(r) && r.kind !== 'partition'),
  )
  say(
    `${texts.length} ${texts.length === 1 ? 'statement' : 'statements'} of the application: ${joins.length} ${joins.length === 1 ? 'pair of columns is' : 'pairs of columns are'} joined`,
  )
  const own = { joins: [...joins], statements: texts.length }
  if (rows) return { ...rows, joins: [...rows.joins, ...own.joins], statements: (rows.statements ?? 0) + texts.length }
  return { format: 'pelvok.rows/1', source: 'statements', at: new Date().toISOString(), inclusions: [], kinds: [], partners: [], ...own, unread: [] }
}
