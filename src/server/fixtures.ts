// Rows in a database, read back through the emitted stores and compared value by value.
import { fork } from 'node:child_process'
import { mkdirSync, mkdtempSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { basename, dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { build } from 'esbuild'
import type pg from 'pg'
import { emitTypeScript } from '../core/emit/typescript/index.ts'
import { fixtureStatements, type NamedFixtures } from '../core/fixtures/index.ts'
import type { EntityModel, Revision } from '../core/model/index.ts'
import { connect, type Location } from '../engines/postgres/index.ts'
import type { Compared, RowDifference, RowsTask } from './rowsTask.ts'

export interface FixtureReport {
  /** Everything was stored and came back as it was. */
  readonly ok: boolean
  readonly stored: number
  /** Rows that were compared, and of how many classes. */
  readonly compared: number
  readonly classes: number
  /** The statement that failed; nothing is stored then. */
  readonly failure: { readonly statement: string; readonly said: string } | null
  readonly differences: readonly RowDifference[]
  readonly left: readonly { readonly relation: string; readonly why: string }[]
}

/** The emitted code of a model, as one file in `dir`; its path. */
async function bundled(dir: string, model: EntityModel, revision: Revision): Promise<string> {
  const { base } = model.settings
  for (const f of emitTypeScript(model, revision)) {
    mkdirSync(dirname(join(dir, f.path)), { recursive: true })
    writeFileSync(join(dir, f.path), f.text)
  }
  writeFileSync(
    join(dir, 'rows.ts'),
    `import * as stores from './index.js'\nimport * as values from './${base}/values.js'\nimport { connect } from './${base}/db.js'\nexport { connect, stores, values }\n`,
  )
  const outfile = join(dir, 'rows.cjs')
  const packages = createRequire(import.meta.url).resolve.paths('pg') ?? []
  await build({
    entryPoints: [join(dir, 'rows.ts')],
    bundle: true,
    format: 'cjs',
    platform: 'node',
    external: ['pg-native'],
    nodePaths: packages,
    outfile,
    logLevel: 'silent',
  })
  return outfile
}

/** The program of rowsProcess.ts: beside ours where that is built, else where it is built to. */
function program(): string {
  const here = dirname(fileURLToPath(import.meta.url))
  return basename(here) === 'dist' ? join(here, 'rowsProcess.cjs') : join(here, '..', '..', 'dist', 'rowsProcess.cjs')
}

/** Long enough for any sample; whoever needs longer hangs. */
const longest = 10 * 60_000

/**
 * Emitted code runs in a process of its own, with no variables, under the permission model (Node manual, "Process-based permissions"):
 * it reads its own folder and nothing else, writes nothing, and starts nothing.
 */
export function runApart(dir: string, task: RowsTask): Promise<Compared> {
  const child = fork(program(), [], {
    cwd: dir,
    env: {} as NodeJS.ProcessEnv,
    execArgv: ['--experimental-permission', `--allow-fs-read=${program()}`, `--allow-fs-read=${dir}/*`, '--no-warnings'],
    serialization: 'advanced',
    stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
  })
  return new Promise((resolve, reject) => {
    const guard = setTimeout(() => child.kill('SIGKILL'), longest)
    child.once('message', (found: Compared) => resolve(found))
    child.once('error', reject)
    child.once('exit', (code, signal) => {
      clearTimeout(guard)
      resolve({ is: 'failed', said: `the process that ran them ended (${signal ?? `exit status ${code}`})` })
    })
    child.send(task)
  })
}

/** Stores rows in a database that has the schema, and compares what the emitted stores read. Throws SourceError where it cannot be reached. */
export async function checkFixtures(on: Location, f: NamedFixtures, model: EntityModel, revision: Revision): Promise<FixtureReport> {
  const nothing = { ok: false, stored: 0, compared: 0, classes: 0, differences: [] as const, left: f.left }
  const client = await connect(on)
  try {
    const failure = await storeRows(client, f)
    if (failure) return { ...nothing, failure }
  } finally {
    await client.end().catch(() => {})
  }
  const dir = realpathSync(mkdtempSync(join(tmpdir(), 'pelvok-rows-')))
  try {
    const found = await runApart(dir, { code: await bundled(dir, model, revision), on, fixtures: f, model })
    if (found.is === 'failed') return { ...nothing, stored: f.rows.length, failure: { statement: 'the emitted stores', said: found.said } }
    const { differences, compared, classes } = found
    return { ok: differences.length === 0, stored: f.rows.length, compared, classes, failure: null, differences, left: [...f.left, ...found.left] }
  } finally {
    rmSync(dir, { recursive: true, force: true })
  }
}

/** All rows in one transaction, or none. */
async function storeRows(client: pg.Client, f: NamedFixtures): Promise<FixtureReport['failure']> {
  await client.query('BEGIN')
  for (const statement of fixtureStatements(f)) {
    try {
      await client.query(statement)
    } catch (error) {
      await client.query('ROLLBACK')
      return { statement, said: error instanceof Error ? error.message : String(error) }
    }
  }
  await client.query('COMMIT')
  return null
}
