// Holds a snapshot off the main thread and answers questions about it: what takes part, what there is, where a name occurs.
import { columnNames, matchesObject, type ObjectRow, objectDetail, objectRows, occurrencesOf, overviewOf, plainName } from '../core/browse/index.ts'
import { type Catalog, openSnapshot, type SnapshotHash } from '../core/catalog/index.ts'
import { changesBetween } from '../core/lineage/index.ts'
import type { EntityModel, LedgerEntry } from '../core/model/index.ts'
import { type ReviewBase, reviewBase, reviewWith } from '../core/review/index.ts'
import { foldScope, neighbours, scopeColumns, scopeView } from '../core/scope/index.ts'
import type { CatalogAnswers, CatalogQuestion, FromCatalog, ToCatalog } from './catalogMessages.ts'

let catalog: Promise<Catalog> = Promise.reject(new Error('no snapshot was opened'))
catalog.catch(() => {})
let entries: readonly LedgerEntry[] = []
/** Where snapshots are, by their hash. */
let snapshots = ''

async function fetched(url: string): Promise<Catalog> {
  const response = await fetch(url)
  if (!response.ok || !response.body) throw new Error(`the snapshot could not be fetched (${response.status})`)
  return openSnapshot(await new Response(response.body.pipeThrough(new DecompressionStream('gzip'))).text())
}

/** What is made of the catalog and the ledger, kept while both are the same. */
let made: { readonly of: Catalog; readonly entries: readonly LedgerEntry[]; readonly base: ReviewBase; readonly model: EntityModel } | null = null
let rows: { readonly of: Catalog; readonly list: readonly ObjectRow[] } | null = null

function modelOf(c: Catalog): EntityModel {
  if (made?.of === c && made.entries.length === entries.length) return made.model
  const base = reviewBase(c, entries, made?.base ?? null)
  // Only the model is shown here; no output names this revision.
  const { model } = reviewWith(base, '' as SnapshotHash, entries)
  made = { of: c, entries, base, model }
  return model
}

function rowsOf(c: Catalog): readonly ObjectRow[] {
  rows = rows?.of === c ? rows : { of: c, list: objectRows(c) }
  return rows.list
}

const answers: {
  readonly [K in CatalogQuestion['ask']]: (c: Catalog, q: Extract<CatalogQuestion, { ask: K }>) => CatalogAnswers[K] | Promise<CatalogAnswers[K]>
} = {
  scope: (c) => scopeView(c, foldScope(entries)),
  columns: (c, q) => scopeColumns(c, foldScope(entries), q.subject),
  changes: async (_, q) => changesBetween(...(await Promise.all([fetched(`${snapshots}/${q.was}`), fetched(`${snapshots}/${q.is}`)]))),
  objects: (c) => rowsOf(c),
  overview: (c) => overviewOf(c),
  object: (c, q) => objectDetail(c, modelOf(c), q.id),
  occurrences: (c, q) => occurrencesOf(c, q.name),
  find: (c, q) => {
    const plain = plainName(q.text)
    return {
      objects: rowsOf(c)
        .filter((r) => matchesObject(r, q.text))
        .slice(0, 8),
      columns: columnNames(c)
        .filter(([name]) => plain !== '' && plainName(name).includes(plain))
        .slice(0, 6),
    }
  },
  neighbours: (c, q) => [...neighbours(c, q.subject, q.distance)],
}

async function handle(message: ToCatalog): Promise<void> {
  if (message.type === 'open') {
    entries = message.entries
    catalog = fetched(message.snapshotUrl)
    snapshots = message.snapshotUrl.slice(0, message.snapshotUrl.lastIndexOf('/'))
    catalog.catch(() => {})
    return
  }
  if (message.type === 'entries') {
    entries = message.entries
    return
  }
  const answer = answers[message.question.ask] as (c: Catalog, q: CatalogQuestion) => unknown
  self.postMessage({ id: message.id, ok: true, value: await answer(await catalog, message.question) } satisfies FromCatalog)
}

self.onmessage = (event: MessageEvent<ToCatalog>) => {
  const { data } = event
  handle(data).catch((error: unknown) => {
    if (data.type === 'ask') self.postMessage({ id: data.id, ok: false, message: error instanceof Error ? error.message : String(error) } satisfies FromCatalog)
  })
}
