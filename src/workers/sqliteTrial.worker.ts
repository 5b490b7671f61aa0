// A trial on the rows of an SQLite file in the browser: they stay there. The model is derived here, as the review derives it.
import { type Catalog, canonicalText, hashText, type SnapshotHash } from '../core/catalog/index.ts'
import { readSqliteFile } from '../core/dialect/sqlite/crossCheck.ts'
import { type ReviewBase, reviewBase, reviewWith } from '../core/review/index.ts'
import type { RowEvidence } from '../core/rows/index.ts'
import { type Ask, compareWays, resolve, runTrial, sqliteText, Writer } from '../core/trial/index.ts'
import { fetched } from './fetched.ts'
import type { FromSqliteTrial, ToSqliteTrial } from './messages.ts'
import { type FileDatabase, factsOf, openDatabase } from './sqliteDatabase.ts'

interface Opened {
  readonly db: FileDatabase
  readonly base: ReviewBase
  readonly snapshot: SnapshotHash
  readonly entries: Extract<ToSqliteTrial, { type: 'open' }>['entries']
}

let opened: Opened | null = null
const post = (message: FromSqliteTrial) => self.postMessage(message)

async function open(m: Extract<ToSqliteTrial, { type: 'open' }>): Promise<void> {
  const db = await openDatabase(m.bytes)
  const catalog: Catalog = readSqliteFile(m.name, factsOf(db)).catalog
  if (hashText(canonicalText(catalog)) !== m.snapshot) {
    db.close()
    return post({ type: 'other file' })
  }
  const rows = m.rowsUrl === null ? null : await fetched<RowEvidence>(m.rowsUrl, 'row evidence')
  opened = { db, base: reviewBase(catalog, m.entries, null, rows), snapshot: m.snapshot as SnapshotHash, entries: m.entries }
  post({ type: 'open' })
}

async function run({ ask: n, path, portion, compare }: Extract<ToSqliteTrial, { type: 'run' }>): Promise<void> {
  if (!opened) throw new Error('no file is open')
  const { db, base, snapshot, entries } = opened
  const found = resolve(reviewWith(reviewBase(base.whole, entries, base), snapshot, entries).model, path)
  if (!found.ok) throw new Error(found.problem)
  const ask: Ask = async (s) => {
    const started = performance.now()
    const rows = db.asked(s.sql, s.values as readonly (string | null)[]).map((r) => r.map(sqliteText))
    return { rows, milliseconds: Math.round((performance.now() - started) * 10) / 10 }
  }
  const writer = new Writer(base.catalog)
  const trial = await runTrial(found.trial, writer, ask, portion)
  post({ type: 'answer', ask: n, trial, compared: compare ? await compareWays(found.trial, trial, writer, ask, portion) : null })
}

self.onmessage = ({ data }: MessageEvent<ToSqliteTrial>) => {
  if (data.type === 'entries') {
    if (opened) opened = { ...opened, entries: data.entries }
    return
  }
  const work = data.type === 'open' ? open(data) : run(data)
  work.catch((error: unknown) =>
    post({ type: 'failed', ask: data.type === 'run' ? data.ask : null, message: error instanceof Error ? error.message : String(error) }),
  )
}
