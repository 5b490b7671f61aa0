// The command line: the same work without a browser. Results go to standard output, everything else to standard error.
import { Command } from 'commander'
import { type Catalog, canonicalText, relationText } from '../core/catalog/index.ts'
import { conventionRemarks } from '../core/emit/typescript/index.ts'
import { type EntityId, fillOrder, printedRelationships, printLedger, revisionText, rowLinks } from '../core/model/index.ts'
import type { Review } from '../core/review/index.ts'
import { isTold } from '../core/text/told.ts'
import { isView } from '../core/views/index.ts'
import { describeFailure, SourceError } from '../engines/postgres/index.ts'
import { aboutWrite, writeOne } from '../server/files.ts'
import { type EmitOptions, emitInto } from './emit.ts'
import { badInput, ExitError } from './exit.ts'
import { fixtureCommands } from './fixtures.ts'
import { openIn } from './gate.ts'
import { readLedgerFile } from './ledger.ts'
import { mapCommand } from './map.ts'
import { notationCommands } from './notation.ts'
import { planCommands } from './planCommands.ts'
import { findingLines, orderLines, relationshipLines } from './print.ts'
import { type ReadOptions, readReview, readRowsOf, readWithLedger, several, sourceOptions, withLedger, withPatterns, withRows } from './reading.ts'
import { readSource } from './source.ts'
import { print, progress, say } from './terminal.ts'

const json = (value: unknown) => `${JSON.stringify(value, null, 2)}\n`
const output = (text: string, file?: string) => {
  if (file) writeOne(file, text)
  else process.stdout.write(text)
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

withRows(withPatterns(withLedger(onSource('findings'))))
  .option('--json', 'print pelvok.findings/1')
  .option('--take', 'do not end with 1 where findings are open that change what comes out')
  .description('every question about the schema, its ranked answers and their evidence; exit 1 where one is open that changes what comes out')
  .action(async (source: string, o: ReadOptions & { json?: boolean; take?: boolean }) => {
    const read = await readReview(source, o)
    const { review: made } = read
    process.exitCode = o.take || openIn(read).length === 0 ? 0 : 1
    const findings = made.findings.map((f) => ({ ...f, status: made.statuses.get(f.id) }))
    if (o.json) output(json({ format: 'pelvok.findings/1', revision: revisionText(made.revision), findings }))
    else print(`${findingLines(made.findings, made.statuses)}\n`)
  })

onSource('rows')
  .option('--out <file>', 'write to a file instead of standard output')
  .description('what rows say about references, as a file for --rows-file: counts and queries, no values')
  .action(async (source: string, o: ReadOptions & { out?: string }) => {
    output(json(await readRowsOf(await readSource(source, sourceOptions(o)))), o.out)
  })

withRows(withPatterns(withLedger(onSource('emit'))))
  .requiredOption('--target <language>', 'typescript')
  .requiredOption('--out <dir>', 'the folder for the files')
  .option('--check', 'write nothing: is the folder what the model gives?')
  .option('--diff', 'write nothing: print what would change, with full paths')
  .option('--overwrite', 'also where people changed what is rewritten')
  .option('--take', 'take what open findings propose as it stands; the manifest lists them')
  .description('entity classes')
  .action(async (source: string, o: ReadOptions & EmitOptions & { target: string }) => {
    if (o.target !== 'typescript') throw badInput(`there is no target "${o.target}"`, 'Use --target typescript.')
    const read = await readReview(source, o)
    const { review: made } = read
    const isSo = emitInto(read, o, say)
    if (o.check || o.diff) {
      process.exitCode = isSo ? 0 : 1
      return
    }
    for (const r of conventionRemarks(made.model))
      say(`${r.says} ${r.about.slice(0, 5).join(', ')}${r.about.length > 5 ? ` and ${r.about.length - 5} more` : ''}`)
  })

mapCommand({ onSource: (name) => withRows(withLedger(onSource(name))), read: readReview, output })
planCommands(program, { say, progress })
fixtureCommands({ onSource: (name) => withLedger(onSource(name)), read: (source, o) => readReview(source, o), say })
notationCommands(program, { onSource: (name) => withRows(withPatterns(withLedger(onSource(name)))), read: readReview, readPlain: readWithLedger, say })

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
