// `pelvok fixtures`: rows for tests, generated or from CSV, as SQL, CSV or TypeScript; and rows for a rehearsal.
import { existsSync, readdirSync, readFileSync, statSync } from 'node:fs'
import { join } from 'node:path'
import type { Command } from 'commander'
import type { Catalog } from '../core/catalog/index.ts'
import { fixturesTypeScript } from '../core/emit/typescript/index.ts'
import {
  type FixtureFile,
  fixtureCsv,
  fixtureProblemLine,
  fixtureSql,
  generateFixtures,
  type NamedFixtures,
  namedFixtures,
  readFixtures,
} from '../core/fixtures/index.ts'
import type { EntityModel } from '../core/model/index.ts'
import type { Review } from '../core/review/index.ts'
import { writeFiles } from '../server/files.ts'
import type { FixtureReport } from '../server/fixtures.ts'
import { badInput } from './exit.ts'

type Say = (line: string) => void

export interface RowsWanted {
  readonly seed: number
  readonly rows: number
  /** A folder of CSV files, or one; generated where it is left out. */
  readonly from?: string
}

/** Rows under the names of a model. Throws ExitError, with everything wrong told before. */
export function fixturesOf(catalog: Catalog, model: EntityModel, o: RowsWanted, say: Say): NamedFixtures {
  if (catalog.dialect !== 'postgresql') throw badInput('rows are made for PostgreSQL only, so far', 'Give a schema of PostgreSQL.')
  if (!Number.isInteger(o.rows) || o.rows < 1 || !Number.isInteger(o.seed))
    throw badInput('the number of rows and the seed are whole numbers, and there is one row or more', 'Example: --each 5 --seed 1')
  const f = o.from === undefined ? namedFixtures(catalog, model, generateFixtures(catalog, o.seed, o.rows)) : fromCsv(catalog, model, o.from, say)
  for (const l of f.left) say(`left out: ${l.relation}: ${l.why}`)
  return f
}

function fromCsv(catalog: Catalog, model: EntityModel, path: string, say: Say): NamedFixtures {
  if (!existsSync(path)) throw badInput(`there is no "${path}"`, 'Give a folder of CSV files named after classes, or one of them.')
  const names = statSync(path).isDirectory()
    ? readdirSync(path)
        .filter((n) => /\.csv$/i.test(n))
        .sort()
        .map((n) => join(path, n))
    : [path]
  if (names.length === 0) throw badInput(`"${path}" has no CSV file`, 'Files are named after classes: Crate.csv, or 03-Crate.csv.')
  const read = readFixtures(
    catalog,
    model,
    names.map((name) => ({ path: name, text: readFileSync(name, 'utf8') })),
  )
  if (read.ok) return namedFixtures(catalog, model, read.fixtures)
  for (const p of read.problems) say(fixtureProblemLine(p))
  throw badInput(
    `${read.problems.length === 1 ? 'one thing is' : `${read.problems.length} things are`} wrong in the rows; none was taken`,
    'Mend what is told above; docs/guide/fixtures.md has what files say.',
  )
}

const forms = ['sql', 'csv', 'typescript'] as const

function filesOf(f: NamedFixtures, model: EntityModel, form: (typeof forms)[number], say: Say): readonly FixtureFile[] {
  if (form === 'csv') return fixtureCsv(f)
  if (form === 'sql') return [{ path: 'fixtures.sql', text: fixtureSql(f) }]
  const code = fixturesTypeScript(f, model)
  for (const l of code.left) say(`left out of the code: ${l.relation}: ${l.why}`)
  return [{ path: 'fixtures.ts', text: code.text }]
}

interface FixtureCommands {
  /** A command on a SOURCE, with --ledger. */
  readonly onSource: (name: string) => Command
  readonly read: (source: string, o: never) => Promise<{ readonly catalog: Catalog; readonly review: Review }>
  readonly say: Say
}

export function fixtureCommands({ onSource, read, say }: FixtureCommands): void {
  onSource('fixtures')
    .option('--seed <n>', 'of what is generated', Number, 1)
    .option('--each <n>', 'so many rows of each table', Number, 5)
    .option('--from <path>', 'CSV files in the place of what is generated')
    .option('--as <form>', 'sql, csv or typescript', 'sql')
    .option('--out <dir>', 'write files there instead of printing')
    .description('rows for tests, in the order in which they can be stored')
    .action(async (source: string, o: Omit<RowsWanted, 'rows'> & { each: number; as: string; out?: string }) => {
      const form = forms.find((x) => x === o.as)
      if (!form) throw badInput(`--as "${o.as}" is not known`, `Use ${forms.join(', ')}.`)
      if (form === 'csv' && o.out === undefined) throw badInput('CSV is several files', 'Name a folder with --out.')
      const { catalog, review } = await read(source, o as never)
      const f = fixturesOf(catalog, review.model, { ...o, rows: o.each }, say)
      const files = filesOf(f, review.model, form, say)
      if (o.out === undefined) process.stdout.write(files[0]?.text ?? '')
      else {
        writeFiles(new Map(files.map((x) => [join(o.out as string, x.path), x.text])))
        say(`${f.rows.length} rows in ${files.length === 1 ? join(o.out, files[0]?.path ?? '') : `${files.length} files in ${o.out}`}`)
      }
    })
}

/** What became of rows in a rehearsal, line by line. */
export function fixtureLines(r: FixtureReport): string {
  const lines = r.failure
    ? [`rows: not stored: ${r.failure.said}`, `  ${r.failure.statement}`]
    : [
        `rows: ${r.stored} stored; ${r.compared} of ${r.classes} classes read back through the emitted stores, ${r.differences.length === 0 ? 'all as they were' : `${r.differences.length} otherwise`}`,
        ...r.differences.map((d) => `  ${d.of} (${d.row}): ${d.says}`),
      ]
  return [...lines, ...r.left.map((l) => `  left out: ${l.relation}: ${l.why}`)].join('\n')
}
