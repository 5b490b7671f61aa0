// `pelvok rehearse`: plans on a scratch database, with a sample of rows or rows of a model's own.
import type { Command } from 'commander'
import { type Catalog, canonicalText, hashText } from '../core/catalog/index.ts'
import { review } from '../core/review/index.ts'
import { type AppliedPlan, connect, declaredLinks, type Location, parseUrl, plannedLinks, readSample, rehearse } from '../engines/postgres/index.ts'
import { checkFixtures, type FixtureReport } from '../server/fixtures.ts'
import { proofOf } from '../server/rehearsals.ts'
import { chainFaults, isBroken } from './checkPlans.ts'
import { badInput } from './exit.ts'
import { fixtureLines, fixturesOf } from './fixtures.ts'
import { readLedgerFile } from './ledger.ts'
import { folderOf, readPlans, writeProof } from './plans.ts'
import { rehearsalLines } from './print.ts'
import { urlIn } from './source.ts'
import { print } from './terminal.ts'

export interface Talk {
  readonly say: (line: string) => void
  readonly progress: (line: string) => void
}

/** The server that a source is; null where it is none. */
export function locationIn(text: string): Location | null {
  const url = urlIn(text)
  const parsed = url === null ? null : parseUrl(url)
  return parsed?.ok ? parsed.location : null
}

export function serverAt(option: string, text: string): Location {
  const url = urlIn(text)
  const parsed = url === null ? null : parseUrl(url)
  if (!parsed?.ok) throw badInput(parsed ? parsed.problem : `${option} is not a URL`, `Example: ${option} postgresql://postgres@127.0.0.1:5432/app`)
  return parsed.location
}

/** Rows to rehearse with: closed under what is declared and what the plan is about to declare. */
async function sampleFor(p: AppliedPlan, from: Location, perTable: number, seed: number, progress: (line: string) => void) {
  const base = p.base as Catalog
  const client = await connect(from)
  try {
    return await readSample(client, base, [...declaredLinks(base), ...plannedLinks(p.plan)], {
      seed,
      perTable,
      atMost: 5000,
      onProgress: (table) => progress(`rows of ${table}`),
    })
  } finally {
    await client.end().catch(() => {})
  }
}

/** Rows into a scratch database, of the model that its schema and the rulings come to. */
async function fixturesIn(
  scratch: Location,
  catalog: Catalog,
  o: { readonly fixtures: string | true; readonly ledger?: string; readonly rows: number; readonly seed: number },
  say: Talk['say'],
): Promise<FixtureReport> {
  const { model, revision } = review(catalog, hashText(canonicalText(catalog)), o.ledger === undefined ? [] : readLedgerFile(o.ledger))
  const wanted = { seed: o.seed, rows: o.rows, ...(o.fixtures === true ? {} : { from: o.fixtures }) }
  return checkFixtures(scratch, fixturesOf(catalog, model, wanted, say), model, revision)
}

interface RehearseWish {
  readonly on: string
  readonly json?: boolean
  readonly rowsFrom?: string
  readonly rows: number
  readonly seed: number
  readonly fixtures?: string | true
  readonly ledger?: string
  readonly all?: boolean
}

async function rehearsed(p: AppliedPlan, server: Location, o: RehearseWish, { say, progress }: Talk) {
  let rows: FixtureReport | null = null
  const sample = o.rowsFrom !== undefined && p.base ? await sampleFor(p, serverAt('--rows-from', o.rowsFrom), o.rows, o.seed, progress) : null
  const { fixtures } = o
  const withRows =
    fixtures === undefined
      ? {}
      : {
          onScratch: async (scratch: Location) => {
            rows = await fixturesIn(scratch, p.expected, { ...o, fixtures }, say)
          },
        }
  const result = await rehearse(p.plan, p.expected, server, {
    base: p.base,
    sample,
    onProgress: (doing, done, total) => progress(`${done} of ${total}: ${doing}`),
    ...withRows,
  })
  return { result, rows: rows as FixtureReport | null }
}

export function rehearseCommand(program: Command, talk: Talk): void {
  program
    .command('rehearse')
    .argument('<dir>', 'a plan folder, or a folder of them')
    .requiredOption('--on <server>', 'a postgresql:// URL or env:NAME of a server that may hold a scratch database')
    .option('--rows-from <server>', 'a sample of rows of this database goes along')
    .option('--rows <n>', 'rows to begin with, of each table', Number, 100)
    .option('--seed <n>', 'of the sample, and of rows that are generated', Number, 1)
    .option('--fixtures [path]', 'rows at the end, read back through the emitted stores: CSV files, or generated')
    .option('--ledger <file>', 'the rulings that the stores are emitted by')
    .option('--all', 'each difference, instead of one of each kind')
    .option('--json', 'print the result as JSON')
    .description('up, down and up on a scratch database, surveys compared')
    .action(async (dir: string, o: RehearseWish) => {
      const server = serverAt('--on', o.on)
      const results = []
      for (const f of chainFaults(dir).filter(isBroken)) {
        talk.say(`${f.folder} ${f.says}. ${f.remedy}`)
        process.exitCode = 1
      }
      for (const p of readPlans(dir)) {
        const name = `${String(p.number).padStart(4, '0')}-${p.name}`
        const { result, rows } = await rehearsed(p, server, o, talk)
        writeProof(folderOf(dir, p), p, proofOf({ rehearsal: result, fixtures: rows, mark: '' }, new Date().toISOString()), talk.say)
        results.push({ plan: name, ...result, ...(rows ? { fixtures: rows } : {}) })
        if (!o.json)
          print(`${results.length > 1 || p.base ? `${name}: ` : ''}${rehearsalLines(result, server, o.all ?? false)}\n${rows ? `${fixtureLines(rows)}\n` : ''}`)
        if (!result.ok || rows?.ok === false) process.exitCode = 1
      }
      if (o.json) process.stdout.write(`${JSON.stringify(results.length === 1 ? results[0] : results, null, 2)}\n`)
    })
}
