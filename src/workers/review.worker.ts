// Holds the catalog of one review off the main thread: infers once, derives and lays out after each entry.
import type { Catalog, SnapshotHash, Statistics } from '../core/catalog/index.ts'
import { describeModelDiagnostic, type LedgerEntry } from '../core/model/index.ts'
import { detailOf, docketItems, platesOf, type Review, type ReviewBase, reviewBase, reviewWith } from '../core/review/index.ts'
import { layoutMap, mapInput, type Scene } from '../core/strata/index.ts'
import type { FromWorker, SelectionView, ToWorker } from './messages.ts'

interface Opened {
  readonly base: ReviewBase
  readonly hash: SnapshotHash
  readonly statistics: Statistics
}

let opened: Opened | null = null
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
    view: { scene, docket: docketItems(review), head: entries.at(-1)?.seq ?? 0, diagnostics: review.model.diagnostics.map(describeModelDiagnostic) },
    selection: selection(),
  })
}

async function open(message: Extract<ToWorker, { type: 'open' }>): Promise<void> {
  // Before the snapshot is there: what is appended meanwhile must not be lost.
  entries = message.entries
  const response = await fetch(message.snapshotUrl)
  if (!response.ok) throw new Error(`the snapshot could not be fetched (${response.status})`)
  if (!response.body) throw new Error('the snapshot came empty')
  const text = await new Response(response.body.pipeThrough(new DecompressionStream('gzip'))).text()
  const catalog = JSON.parse(text) as Catalog
  const hash = message.snapshotUrl.slice(message.snapshotUrl.lastIndexOf('/') + 1) as SnapshotHash
  opened = { base: reviewBase(catalog, entries), hash, statistics: message.statistics }
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
