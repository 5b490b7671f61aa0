// Holds the catalog of one review off the main thread: infers once, derives and lays out after each entry.
import type { Catalog, SnapshotHash, Statistics } from '../core/catalog/index.ts'
import { type Finding, foldAreas, type LedgerEntry } from '../core/model/index.ts'
import {
  bulkOf,
  checkRename,
  detailOf,
  inParts,
  isSmall,
  namingPreview,
  platesOf,
  portionOf,
  type Review,
  type ReviewBase,
  recognized,
  reviewBase,
  reviewBaseWith,
  reviewWith,
  rowOrderOf,
  rowsView,
  type Seen,
  seenOf,
  sheetOf,
  type ViewFacts,
  type ViewPortion,
  type Visit,
  viewAfter,
} from '../core/review/index.ts'
import type { RowEvidence } from '../core/rows/index.ts'
import { decodeFrame, type Frame, type MapWish, proposeSplit, standsOn, usualShape, wholeMap } from '../core/strata/index.ts'
import { amount } from '../core/text/amount.ts'
import { fetched } from './fetched.ts'
import type { FromWorker, SelectionView, ToWorker } from './messages.ts'

interface Opened {
  readonly base: ReviewBase
  readonly hash: SnapshotHash
  readonly statistics: Statistics
  readonly who: string
  readonly last: Visit | null
}

let opened: Opened | null = null
let entries: readonly LedgerEntry[] = []
let review: Review | null = null
/** What the page shows, or will once all that is on its way has come. */
let told: Seen | null = null
let onItsWay: ViewPortion[] = []
let wish: MapWish = wholeMap
let shape = usualShape
let sheets = false
let selected: string | null = null
/** Number of the last thing told. */
let heard = 0

const post = (message: FromWorker) => self.postMessage(message)

function selection(): SelectionView {
  if (!opened || !review || selected === null) return { id: selected, detail: null, plates: [], sheets: [] }
  const { base } = opened
  const { model } = review
  const drawn = new Set(told?.scene.plates.map((p) => p.id))
  const about = selected.startsWith('entity:') ? [selected.slice('entity:'.length)] : platesOf(selected, model, new Set(model.entities.map((e) => e.id)))
  return {
    id: selected,
    detail: detailOf(selected, base.catalog, review, entries),
    plates: platesOf(selected, model, drawn),
    sheets: sheets ? [...new Set(about)].flatMap((id) => sheetOf(id, base.catalog, base.whole, review as Review) ?? []) : [],
  }
}

/** Before the snapshot is open there is nothing to show: the view that comes then answers all that was told. */
function answerSelection(): void {
  if (review) post({ type: 'selection', heard, selection: selection() })
}

function refresh(): void {
  if (!opened) return
  const base = reviewBase(opened.base.whole, entries, opened.base)
  opened = { ...opened, base }
  review = reviewWith(base, opened.hash, entries)
  const { who, last, hash, statistics } = opened
  show(seenOf(base, review, hash, entries, statistics, { who, last, dayFrom: midnight() }, wish, shape))
}

/** Tells only what is not shown yet; a docket that is another comes in several parts, between which the page and this go on. */
function show(now: Seen): void {
  for (const portion of onItsWay.splice(0)) post({ type: 'view', heard, portion, selection: null })
  const before = told && recognized(told, now)
  told = now
  const change = portionOf(before, now)
  if (isSmall(change)) return post({ type: 'view', heard, portion: change, selection: selection() })
  const [first, ...rest] = inParts(change, now)
  onItsWay = rest
  if (first) post({ type: 'view', heard, portion: first, selection: selection() })
  later()
}

function later(): void {
  setTimeout(() => {
    const portion = onItsWay.shift()
    if (!portion) return
    post({ type: 'view', heard, portion, selection: null })
    later()
  })
}

/** The day begins where the reader is. */
function midnight(): string {
  const now = new Date()
  return new Date(now.getFullYear(), now.getMonth(), now.getDate()).toISOString()
}

async function open(message: Extract<ToWorker, { type: 'open' }>): Promise<void> {
  // Before the snapshot is there: what is appended meanwhile must not be lost.
  entries = message.entries
  shape = message.shape
  frameAt = (wanted) => `${message.framesUrl}${wanted}${message.of === null ? '' : `?of=${message.of}`}`
  const [catalog, rows, findings, frame] = await Promise.all([
    fetched<Catalog>(message.snapshotUrl, 'snapshot'),
    message.rowsUrl === null ? null : fetched<RowEvidence>(message.rowsUrl, 'row evidence'),
    // Where they are others by now, or the server has none, they are worked out here.
    message.findingsUrl === null ? null : fetched<readonly Finding[]>(message.findingsUrl, 'findings', false).catch(() => null),
    frameOf(shape),
  ])
  const hash = message.snapshotUrl.slice(message.snapshotUrl.lastIndexOf('/') + 1) as SnapshotHash
  if (!findings) post({ type: 'doing', what: `Looking for the references of ${amount(catalog.relations.length, 'relation')}` })
  opened = {
    base: findings ? reviewBaseWith(catalog, entries, rows, findings) : reviewBase(catalog, entries, null, rows),
    hash,
    statistics: message.statistics,
    who: message.who,
    last: message.last,
  }
  const { base, statistics } = opened
  if (frame) standsOn(base.catalog, base.findings, shape, frame)
  post({
    type: 'doing',
    what: `Laying out ${amount(base.catalog.relations.length, 'relation')}, with ${amount(base.findings.length, 'finding')}`,
  })
  refresh()
  for (const question of asked.splice(0)) await handle(question)
  setTimeout(() => post({ type: 'amount', rows: rowsView(base, statistics) }))
}

/** Where the frame of a shape is, once the review is opened. */
let frameAt: ((shape: number) => string) | null = null

/** As all see the map; null where the server has none now: then it is packed here. */
const frameOf = async (wanted: number): Promise<Frame | null> =>
  frameAt && decodeFrame(await fetched<unknown>(frameAt(wanted), 'frame of the map', false).catch(() => null))

/** Numbers the shapes that were asked for: what a later one has overtaken is not laid out. */
let shapesAsked = 0

async function reshape(wanted: number): Promise<void> {
  shapesAsked += 1
  const own = shapesAsked
  const frame = await frameOf(wanted)
  if (own !== shapesAsked) return
  if (frame && opened) standsOn(opened.base.catalog, opened.base.findings, wanted, frame)
  shape = wanted
  refresh()
}

/** Asked while the review is opened still: answered once it is. */
const asked: ToWorker[] = []

async function handle(message: ToWorker): Promise<void> {
  if ('ask' in message && !review) {
    asked.push(message)
    return
  }
  switch (message.type) {
    case 'open':
      return open(message)
    case 'shown': {
      if (told) return
      const { scene, docket } = viewAfter(null, message.portion)
      told = { facts: message.portion.facts as ViewFacts, scene, docket }
      return
    }
    case 'append': {
      heard = message.n
      const known = new Set(entries.map((e) => e.seq))
      const fresh = message.entries.filter((e) => !known.has(e.seq))
      if (fresh.length === 0) return answerSelection()
      entries = [...entries, ...fresh].sort((a, b) => a.seq - b.seq)
      return refresh()
    }
    case 'select':
      heard = message.n
      selected = message.id
      return answerSelection()
    case 'sheets':
      heard = message.n
      sheets = message.on
      return answerSelection()
    case 'map':
      heard = message.n
      wish = message.wish
      return refresh()
    case 'shape':
      heard = message.n
      if (message.shape === shape) return answerSelection()
      return reshape(message.shape)
    case 'bulk':
      if (opened && review)
        post({ type: 'bulk', ask: message.ask, bulk: bulkOf(message.id, opened.base, review, entries, new Set(message.left), message.batch) })
      return
    case 'split':
      post({
        type: 'split',
        ask: message.ask,
        parts: opened ? proposeSplit(opened.base.catalog, opened.base.findings, foldAreas(entries), message.area) : null,
      })
      return
    case 'order':
      post({ type: 'order', ask: message.ask, order: opened && review ? rowOrderOf(opened.base.catalog, review) : null })
      return
    case 'rename':
      post({ type: 'rename', ask: message.ask, check: opened ? checkRename(opened.base, opened.hash, entries, message.name, message.wanted) : null })
      return
    case 'preview':
      if (opened) post({ type: 'preview', ask: message.ask, renamings: namingPreview(opened.base, entries, message.rule) })
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
