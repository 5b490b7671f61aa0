// Rows of an SQLite file, read for evidence through Debian's sqlite3, read-only.
import { type ReadRowsOptions, type RowEvidence, type RowQuestions, type RunQuery, readRows } from '../../core/rows/index.ts'
import { Failed, query } from './survey.ts'

/** A query that fails is listed; throws an AbortError when cancelled between two. */
export function profileSqlite(file: string, questions: RowQuestions, o: Pick<ReadRowsOptions, 'at' | 'onProgress' | 'signal'>): Promise<RowEvidence> {
  const run: RunQuery = async (sql) => {
    try {
      return { ok: true, rows: await query<Record<string, unknown>>(file, sql) }
    } catch (error) {
      if (!(error instanceof Failed)) throw error
      return { ok: false, because: 'said' in error.failure ? error.failure.said : error.failure.kind }
    }
  }
  return readRows(questions, {
    ...o,
    dialect: 'sqlite',
    source: file,
    run: [run, run],
  })
}
