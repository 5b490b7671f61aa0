// The command line: the same work without a browser. Results go to standard output, everything else to standard error.
import { Command } from 'commander'
import { type Catalog, canonicalText, hashText, relationText } from '../core/catalog/index.ts'
import { conventionRemarks } from '../core/emit/typescript/index.ts'
import { rowQuestions, statementJoins } from '../core/infer/index.ts'
import { type EntityId, fillOrder, type LedgerEntry, printedRelationships, printLedger, revisionText, rowLinks } from '../core/model/index.ts'
import { blockingOf, type Review, review } from '../core/review/index.ts'
import { inclusionKey, type RowEvidence } from '../core/rows/index.ts'
import { isTold } from '../core/text/told.ts'
import { isView } from '../core/views/index.ts'
import { describeFailure, SourceError } from '../engines/postgres/index.ts'
import { aboutWrite, writeOne } from '../server/files.ts'
import { type EmitOptions, emitInto } from './emit.ts'
import { badInput, ExitError } from './exit.ts'
import { fixtureCommands } from './fixtures.ts'
import { readLedgerFile } from './ledger.ts'
import { mapCommand } from './map.ts'
import { notationCommands } from './notation.ts'
import { planCommands } from './planCommands.ts'
import { diagnosticLines, findingLines, orderLines, relationshipLines } from './print.ts'
import { statementTexts } from './script.ts'
import { type ReadSource, readSource, type SourceOptions } from './source.ts'
import { print, progress, say } from './terminal.ts'

const several = (value: string, before: string[]) => [...before, value]
const json = (value: unknown) => `${JSON.stringify(value, null, 2)}\n`
const output = (text: string, file?: string) => {
  if (file) writeOne(file, text)
  else process.stdout.write(text)
}

interface ReadOptions {
  readonly schema: string[]
  readonly ledger?: string
  readonly dialect?: string
  readonly rows?: boolean
  readonly queries?: string
}

const sourceOptions = (o: ReadOptions): SourceOptions => ({ schemas: o.schema.length > 0 ? o.schema : null, dialect: o.dialect ?? null, progress, say })

/** A source, and the rulings on it: its own where it is a notation. */
async function readWithLedger(source: string, o: ReadOptions): Promise<ReadSource & { readonly entries: readonly LedgerEntry[] }> {
  const read = await readSource(source, sourceOptions(o))
  if (read.entries && o.ledger !== undefined)
    throw badInput('--ledger goes with a schema; a notation says itself what was ruled', 'Leave --ledger away, or take the notation in with "pelvok edits".')
  return { ...read, entries: read.entries ?? (o.ledger === undefined ? [] : readLedgerFile(o.ledger)) }
}

async function readReview(source: string, o: ReadOptions): Promise<ReadSource & { readonly entries: readonly LedgerEntry[]; readonly review: Review }> {
  const read = await readWithLedger(source, o)
  const { entries } = read
  const rows = withStatements(o.rows ? await readRowsOf(read) : null, read, o.queries)
  const made = review(read.catalog, hashText(canonicalText(read.catalog)), entries, rows)
  for (const line of diagnosticLines(made.model)) say(`note: ${line}`)
  return { ...read, review: made }
}

async function readRowsOf(read: ReadSource): Promise<RowEvidence> {
  if (!read.profile) throw badInput(`"${read.label}" holds no rows that can be read`, 'Give the URL of a server, or an SQLite file, or leave --rows away.')
  const at = new Date().toISOString()
  const rows = await read.profile(rowQuestions(read.catalog), { at, onProgress: (done, all) => progress(`rows: ${done} of ${all} sets of columns`) })
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

const program = new Command('pelvok')
  .description('Turns an existing schema into decisions, and decisions into code and migrations that are proven.')
  .version('0.1.0')
const onSource = (name: string) =>
  program
    .command(name)
    .argument('<source>', 'a postgresql:// URL, env:NAME, a script (.sql, folder, zip), an SQLite file, a snapshot file, or a notation (.pelvok)')
    .option('--schema <name>', 'read this schema only; may be repeated', several, [])
    .option('--dialect <name>', 'of a script: postgresql, sqlite, mysql or mariadb, with a version where it matters (mysql:8.0)')
const withRows = (c: Command) =>
  c
    .option('--rows', 'read rows as evidence: read-only, a sample first')
    .option('--queries <dir>', 'statements of the application, as evidence: .sql files in a folder, or one file')
const withLedger = (c: Command) => c.option('--ledger <file>', 'the rulings of a review: pelvok.ledger.jsonl')

onSource('survey')
  .option('--out <file>', 'write to a file instead of standard output')
  .description('read the catalog and print its structure as JSON')
  .action(async (source: string, o: ReadOptions & { out?: string }) => {
    const { catalog } = await readSource(source, sourceOptions(o))
    output(canonicalText(catalog), o.out)
    for (const u of catalog.unmodelled) say(`not modelled yet: ${u.kind} ${u.identity}`)
  })

withRows(withLedger(onSource('relate')))
  .option('--min-confidence <c>', 'leave out what is less sure', Number, 0)
  .option('--views', 'with what views refer to by the tables they read')
  .option('--order', 'print instead in what order rows come and go: portions that can be filled together, and cycles')
  .option('--json', 'print pelvok.relationships/1, or with --order pelvok.order/1')
  .description('relationships with their evidence')
  .action(async (source: string, o: ReadOptions & { minConfidence: number; views?: boolean; order?: boolean; json?: boolean }) => {
    if (!(o.minConfidence >= 0 && o.minConfidence <= 1)) throw badInput('--min-confidence is not a number from 0 to 1', 'Example: --min-confidence 0.5')
    const { review: made, catalog } = await readReview(source, o)
    if (o.order) return printOrder(catalog, made, o.json ?? false)
    const list = printedRelationships(made.model, made.findings, made.statuses, o.minConfidence, o.views)
    const diagnostics = made.model.diagnostics.map((d) => ({ ...d }))
    if (o.json) output(json({ format: 'pelvok.relationships/1', revision: revisionText(made.revision), relationships: list, diagnostics }))
    else print(`${relationshipLines(list, made.model)}\n`)
  })

function printOrder(catalog: Catalog, { model, revision }: Review, asJson: boolean): void {
  const tables = catalog.relations.filter((r) => r.kind !== 'partition' && !isView(r)).map((r) => relationText(r) as EntityId)
  const { portions, cycles } = fillOrder(tables, rowLinks(catalog, model))
  if (!asJson) {
    print(`${orderLines(portions, cycles)}\n`)
    return
  }
  const told = cycles.map((c) => ({ members: c.members, breaks: c.breaks.map(({ link, how }) => ({ table: link.child, columns: link.columns, how })) }))
  output(json({ format: 'pelvok.order/1', revision: revisionText(revision), portions, cycles: told }))
}

withRows(withLedger(onSource('findings')))
  .option('--json', 'print pelvok.findings/1')
  .description('every question about the schema, its ranked answers and their evidence')
  .action(async (source: string, o: ReadOptions & { json?: boolean }) => {
    const { review: made } = await readReview(source, o)
    const findings = made.findings.map((f) => ({ ...f, status: made.statuses.get(f.id) }))
    if (o.json) output(json({ format: 'pelvok.findings/1', revision: revisionText(made.revision), findings }))
    else print(`${findingLines(made.findings, made.statuses)}\n`)
  })

withRows(withLedger(onSource('emit')))
  .requiredOption('--target <language>', 'typescript')
  .requiredOption('--out <dir>', 'the folder for the files')
  .option('--check', 'write nothing: is the folder what the model gives?')
  .option('--diff', 'write nothing: print what would change, with full paths')
  .option('--overwrite', 'also where people changed what is rewritten')
  .description('entity classes')
  .action(async (source: string, o: ReadOptions & EmitOptions & { target: string }) => {
    if (o.target !== 'typescript') throw badInput(`there is no target "${o.target}"`, 'Use --target typescript.')
    const { review: made } = await readReview(source, o)
    const isSo = emitInto(made, o, say)
    if (o.check || o.diff) {
      process.exitCode = isSo ? 0 : 1
      return
    }
    for (const r of conventionRemarks(made.model))
      say(`${r.says} ${r.about.slice(0, 5).join(', ')}${r.about.length > 5 ? ` and ${r.about.length - 5} more` : ''}`)
    const open = blockingOf(made).length
    if (open > 0) say(`${open === 1 ? 'one finding is open' : `${open} findings are open`}: what they propose was taken as it stands`)
  })

mapCommand({ onSource: (name) => withRows(withLedger(onSource(name))), read: readReview, output })
planCommands(program, { say, progress })
fixtureCommands({ onSource: (name) => withLedger(onSource(name)), read: (source, o) => readReview(source, o), say })
notationCommands(program, { onSource: (name) => withLedger(onSource(name)), read: (source, o) => readWithLedger(source, o), say })

const ledger = program.command('ledger').description('the review as a file beside the code')
ledger
  .command('export')
  .requiredOption('--project <id>', 'a project of the store that DATABASE_URL names')
  .option('--out <file>', 'write to a file instead of standard output')
  .action(async (o: { project: string; out?: string }) => {
    const { exportLedger } = await import('./project.ts')
    output(printLedger(await exportLedger(o.project)), o.out)
  })
ledger
  .command('import')
  .argument('<file>', 'pelvok.ledger.jsonl')
  .requiredOption('--project <id>', 'a project of the store that DATABASE_URL names')
  .action(async (file: string, o: { project: string }) => {
    const { importLedger } = await import('./project.ts')
    const n = await importLedger(o.project, readLedgerFile(file))
    say(`${n} entries added`)
  })

function knownOf(error: unknown): Pick<ExitError, 'status' | 'wording'> {
  if (error instanceof ExitError) return error
  if (error instanceof SourceError) return { status: 3, wording: describeFailure(error.failure, error.location) }
  if (isTold(error)) return { status: 2, wording: error.words }
  const { message, stack } = error instanceof Error ? error : new Error(String(error))
  const at = (stack ?? '')
    .split('\n')
    .find((line) => line.trimStart().startsWith('at '))
    ?.trim()
    .slice(3)
  return {
    status: 70,
    wording: {
      message: 'this failed because of a fault in Pelvok',
      detail: `${message}${at === undefined ? '' : ` (at ${at})`}`,
      hint: 'Nothing was lost by it. Report it with this text.',
    },
  }
}

/** Whoever reads may stop before the end, as head(1) does; anything else is told. */
process.stdout.on('error', (error: NodeJS.ErrnoException) => {
  if (error.code === 'EPIPE') process.exit(0)
  report(aboutWrite('standard output', error, 'What was written before is there.'))
  process.exit()
})

function report(error: unknown): void {
  if (process.stderr.isTTY) process.stderr.write('\r\x1b[K')
  const code = (error as { code?: string }).code ?? ''
  if (code.startsWith('commander.')) {
    process.exitCode = /^commander\.(help|helpDisplayed|version)$/.test(code) ? 0 : 2
    return
  }
  const known = knownOf(error)
  say(`pelvok: ${known.wording.message}`)
  if (known.wording.detail) say(`  ${known.wording.detail}`)
  say(`  ${known.wording.hint}`)
  process.exitCode = known.status
}

for (const c of [program, ...program.commands, ...ledger.commands]) c.exitOverride()
try {
  await program.parseAsync()
  if (process.stderr.isTTY) process.stderr.write('\r\x1b[K')
} catch (error) {
  report(error)
}
