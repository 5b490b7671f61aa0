// An SQLite file through Debian's sqlite3, opened read-only by URI (SQLite, "Uniform Resource Identifiers", mode=ro).
import { execFile } from 'node:child_process'
import { existsSync, statSync } from 'node:fs'
import { resolve } from 'node:path'
import { columnQuery, type FileReading, readSqliteFile, referenceQuery, schemaQuery } from '../../core/dialect/sqlite/crossCheck.ts'

export type SqliteFailure =
  | { readonly kind: 'no sqlite3' }
  | { readonly kind: 'not a database'; readonly said: string }
  | { readonly kind: 'busy'; readonly said: string }
  | { readonly kind: 'refused'; readonly said: string }

export type SqliteAnswer =
  | { readonly ok: true; readonly reading: FileReading; readonly version: string; readonly wal: boolean }
  | { readonly ok: false; readonly failure: SqliteFailure }

export function describeSqliteFailure(f: SqliteFailure, file: string): { readonly message: string; readonly detail: string; readonly hint: string } {
  switch (f.kind) {
    case 'no sqlite3':
      return { message: 'sqlite3 is not installed', detail: 'SQLite files are read through it.', hint: 'Install it: apt-get install sqlite3.' }
    case 'not a database':
      return { message: `"${file}" is no SQLite database`, detail: f.said, hint: 'It may be encrypted, cut off, or something else altogether.' }
    case 'busy':
      return { message: `"${file}" is locked by another program`, detail: f.said, hint: 'Wait until it is done, or read a copy.' }
    case 'refused':
      return { message: `"${file}" cannot be read`, detail: f.said, hint: 'Check the rights on the file and its folder.' }
    default:
      return unreachable(f)
  }
}

function unreachable(f: never): never {
  throw new Error(`a failure of no known kind: ${JSON.stringify(f)}`)
}

/** Characters that a URI file name gives a meaning to ("Uniform Resource Identifiers", 3.1). */
const uriOf = (file: string) => `file:${resolve(file).replaceAll('%', '%25').replaceAll('?', '%3f').replaceAll('#', '%23')}?mode=ro`

export class Failed extends Error {
  constructor(readonly failure: SqliteFailure) {
    super(failure.kind)
  }
}

function failureOf(error: Error & { readonly code?: unknown }, stderr: string): SqliteFailure {
  const said = stderr.trim().split('\n')[0] ?? ''
  if (error.code === 'ENOENT') return { kind: 'no sqlite3' }
  if (/not a database|malformed|file is encrypted/i.test(said)) return { kind: 'not a database', said }
  return /locked|busy/i.test(said) ? { kind: 'busy', said } : { kind: 'refused', said }
}

/** Rows of a query. No dot command and no text of a user's is ever part of it. */
export function query<T>(file: string, sql: string): Promise<readonly T[]> {
  return new Promise((done, fail) => {
    execFile('sqlite3', ['-batch', '-json', '-cmd', '.timeout 5000', uriOf(file), sql], { maxBuffer: 1 << 29, timeout: 120_000 }, (error, stdout, stderr) => {
      if (error) fail(new Failed(failureOf(error, stderr)))
      else done(stdout.trim() === '' ? [] : (JSON.parse(stdout) as T[]))
    })
  })
}

/** Survey a file. `wal` says that changes not yet in the file lie beside it; sqlite3 reads them along. */
export async function surveySqlite(file: string): Promise<SqliteAnswer> {
  try {
    const rows = await query<{ type: string; name: string; sql: string }>(file, schemaQuery)
    const columns = await query<never>(file, columnQuery)
    const references = await query<never>(file, referenceQuery)
    const [about] = await query<{ version: string }>(file, 'select sqlite_version() as version')
    const wal = existsSync(`${file}-wal`) && statSync(`${file}-wal`).size > 0
    return { ok: true, reading: readSqliteFile(file, { rows, columns, references }), version: about?.version ?? '', wal }
  } catch (error) {
    if (error instanceof Failed) return { ok: false, failure: error.failure }
    throw error
  }
}
