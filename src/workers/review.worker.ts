// Holds the catalog of one review off the main thread: infers once, derives and lays out after each entry.
import { type Catalog, relationText, type SnapshotHash, type Statistics } from '../core/catalog/index.ts'
import { rowQuestions } from '../core/infer/index.ts'
import { describeModelDiagnostic, type LedgerEntry } from '../core/model/index.ts'
import { detailOf, docketItems, platesOf, type Review, type ReviewBase, reviewBase, reviewWith } from '../core/review/index.ts'
import type { RowEvidence } from '../core/rows/index.ts'
import { layoutMap, mapInput, type Scene } from '../core/strata/index.ts'
import type { FromWorker, RowsView, SelectionView, ToWorker } from './messages.ts'

interface Opened {
  readonly base: ReviewBase
  readonly hash: SnapshotHash
  readonly statistics: Statistics
}

let opened: (Opened & { readonly rows: RowsView }) | null = null
let entries: readonly LedgerEntry[] = []
let review: Review | null = null
let scene: Scene | null = null
let selected: string | null = null

const post = (message: FromWorker) => self.postMessage(message)

function selection(): SelectionView {
  if (!opened || !review || selected === null) return { id: selected, detail: null, plates: [] }
  const drawn = new Set(scene?.plates.map((p) => p.id))
  return { id: selected, detail: detailOf(selected, opened.base.catalog, review, entries), plates: platesOf(selected, review.model, drawn) }
}

function refresh(): void {
  if (!opened) return
  const base = reviewBase(opened.base.whole, entries, opened.base)
  opened = { ...opened, base }
  review = reviewWith(base, opened.hash, entries)
  scene = layoutMap(mapInput(base.catalog, base.findings, review.model, opened.statistics))
  post({
    type: 'view',
    view: {
      scene,
      docket: docketItems(review),
      head: entries.at(-1)?.seq ?? 0,
      diagnostics: review.model.diagnostics.map(describeModelDiagnostic),
      rows: opened.rows,
    },
    selection: selection(),
  })
}

async function fetched<T>(url: string, what: string): Promise<T> {
  const response = await fetch(url)
  if (!response.ok) throw new Error(`the ${what} could not be fetched (${response.status})`)
  if (!response.body) throw new Error(`the ${what} came empty`)
  return JSON.parse(await new Response(response.body.pipeThrough(new DecompressionStream('gzip'))).text()) as T
}

/** What reading the rows would come to; it depends on the whole snapshot only. */
function rowsView(o: Opened): RowsView {
  const questions = rowQuestions(o.base.whole)
  const tables = new Set([...questions.sets, ...questions.kinds].map((q) => relationText({ schema: q.child.schema, name: q.child.table })))
  const estimates = o.statistics.relations.filter((r) => tables.has(relationText(r))).map((r) => r.rows)
  const { rows } = o.base
  const orphans = rows?.inclusions.filter((i) => i.orphans > 0 && i.missing <= i.values / 5).length ?? 0
  return {
    sets: questions.sets.length + questions.kinds.length,
    tables: tables.size,
    rows: estimates.some((n) => n === null) ? null : estimates.reduce((a: number, b) => a + (b ?? 0), 0),
    read: rows ? { at: rows.at, inclusions: rows.inclusions.length, orphans, unread: rows.unread.length } : null,
  }
}

async function open(message: Extract<ToWorker, { type: 'open' }>): Promise<void> {
  // Before the snapshot is there: what is appended meanwhile must not be lost.
  entries = message.entries
  const [catalog, rows] = await Promise.all([
    fetched<Catalog>(message.snapshotUrl, 'snapshot'),
    message.rowsUrl === null ? null : fetched<RowEvidence>(message.rowsUrl, 'row evidence'),
  ])
  const hash = message.snapshotUrl.slice(message.snapshotUrl.lastIndexOf('/') + 1) as SnapshotHash
  const plain = { base: reviewBase(catalog, entries, null, rows), hash, statistics: message.statistics }
  opened = { ...plain, rows: rowsView(plain) }
  refresh()
}

async function handle(message: ToWorker): Promise<void> {
  switch (message.type) {
    case 'open':
      return open(message)
    case 'append': {
      const known = new Set(entries.map((e) => e.seq))
      const fresh = message.entries.filter((e) => !known.has(e.seq))
      if (fresh.length === 0) return
      entries = [...entries, ...fresh].sort((a, b) => a.seq - b.seq)
      return refresh()
    }
    case 'select':
      selected = message.id
      if (review) post({ type: 'selection', selection: selection() })
      return
    default:
      return unreachable(message)
  }
}

function unreachable(message: never): never {
  throw new Error(`a message of no known type: ${JSON.stringify(message)}`)
}

self.onmessage = (event: MessageEvent<ToWorker>) => {
  handle(event.data).catch((error: unknown) => post({ type: 'failed', message: error instanceof Error ? error.message : String(error) }))
}
