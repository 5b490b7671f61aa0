// The real PostgreSQL of the tests: databases made for one test and dropped after it, commands of ours and others'.
import { execFileSync, spawnSync } from 'node:child_process'
import { randomBytes } from 'node:crypto'
import pg from 'pg'
import type { Catalog, Survey } from '../../src/core/catalog/index.ts'
import { infer } from '../../src/core/infer/index.ts'
import { derive, type EntityModel } from '../../src/core/model/index.ts'
import { type Location, parseUrl, survey } from '../../src/engines/postgres/index.ts'

export const adminUrl = process.env['PELVOK_TEST_SERVER'] ?? ''

export function locationOf(url: string): Location {
  const parsed = parseUrl(url)
  if (!parsed.ok) throw new Error(`${parsed.problem} (run these tests with npm test, which makes the server)`)
  return parsed.location
}

export const adminLocation = (database = 'postgres'): Location => ({ ...locationOf(`${adminUrl}/${database}`), tls: 'disable' })

export const urlOf = (l: Location): string =>
  `postgresql://${encodeURIComponent(l.user)}:${encodeURIComponent(l.password ?? '')}@${l.host}:${l.port}/${encodeURIComponent(l.database)}`

/** Run statements as the administrator. */
export async function admin(database: string, ...statements: readonly string[]): Promise<void> {
  const client = new pg.Client({ connectionString: `${adminUrl}/${encodeURIComponent(database)}` })
  await client.connect()
  try {
    for (const s of statements) await client.query(s)
  } finally {
    await client.end()
  }
}

export async function rowsOf<T>(database: string, sql: string, values: readonly unknown[] = []): Promise<readonly T[]> {
  const client = new pg.Client({ connectionString: `${adminUrl}/${encodeURIComponent(database)}` })
  await client.connect()
  try {
    return (await client.query(sql, [...values])).rows as T[]
  } finally {
    await client.end()
  }
}

/** The server's major version. */
export const versionOf = async (): Promise<number> =>
  (await rowsOf<{ v: number }>('postgres', `select current_setting('server_version_num')::int / 10000 as v`))[0]?.v ?? 0

/** A fresh database, its location, and how to get rid of it. */
export async function makeDatabase(
  ...statements: readonly string[]
): Promise<{ readonly name: string; readonly location: Location; readonly url: string; readonly drop: () => Promise<void> }> {
  const name = `t_${process.pid}_${randomBytes(4).toString('hex')}`
  await admin('postgres', `create database ${name} template template0`)
  if (statements.length > 0) await admin(name, ...statements)
  const location = adminLocation(name)
  return { name, location, url: urlOf(location), drop: () => admin('postgres', `drop database if exists ${name} with (force)`) }
}

export async function surveyOf(location: Location): Promise<Survey> {
  return survey(location, { schemas: null })
}

/** Load a script with psql, as people do; errors of single statements do not stop it. */
export function loadScript(url: string, path: string): void {
  execFileSync('psql', ['-X', '-q', '-f', path, url], { stdio: ['ignore', 'ignore', 'ignore'] })
}

export interface CliResult {
  readonly status: number
  readonly out: string
  readonly err: string
}

/** Run the built command line. */
export function cli(args: readonly string[], env: Readonly<Record<string, string>> = {}): CliResult {
  const { status, stdout, stderr } = spawnSync(process.execPath, ['dist/cli.js', ...args], {
    encoding: 'utf8',
    maxBuffer: 1 << 28,
    env: { ...process.env, ...env },
  })
  return { status: status ?? -1, out: stdout, err: stderr }
}

/** A database of one test's own with the demo in it, more statements run, and what is read and derived from it. */
export async function demoDatabase(...statements: readonly string[]): Promise<{
  readonly db: Awaited<ReturnType<typeof makeDatabase>>
  readonly catalog: Catalog
  readonly model: EntityModel
}> {
  const db = await makeDatabase()
  loadScript(db.url, 'demo/schema.sql')
  loadScript(db.url, 'demo/rows.sql')
  if (statements.length > 0) await admin(db.name, ...statements)
  const catalog = (await surveyOf(db.location)).structure
  return { db, catalog, model: derive(catalog, infer(catalog).findings, []) }
}
