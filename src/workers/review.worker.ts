// Holds the catalog of one review off the main thread: infers once, derives and lays out after each entry.
import { type Catalog, relationText, type SnapshotHash, type Statistics } from '../core/catalog/index.ts'
import { rowQuestions } from '../core/infer/index.ts'
import { activeEntries, describeModelDiagnostic, type Finding, foldAreas, type LedgerEntry } from '../core/model/index.ts'
import {
  bulkOf,
  checkRename,
  type Day,
  type DocketItem,
  dayOf,
  detailOf,
  docketItems,
  namingPreview,
  placesOnMap,
  platesOf,
  progressBy,
  type Review,
  type ReviewBase,
  reviewBase,
  reviewBaseWith,
  reviewWith,
  rulesInForce,
  sheetOf,
  sinceVisit,
  thresholdView,
  type Visit,
} from '../core/review/index.ts'
import type { RowEvidence } from '../core/rows/index.ts'
import { areaKey, areasOn, groundOf, isWholeMap, type MapWish, mapOf, proposeSplit, type Scene, usualShape, wholeMap } from '../core/strata/index.ts'
import { fetched } from './fetched.ts'
import type { AreaBlock, AreaDay, FromWorker, RowsView, SelectionView, ToWorker } from './messages.ts'

interface Opened {
  readonly base: ReviewBase
  readonly hash: SnapshotHash
  readonly statistics: Statistics
  readonly who: string
  readonly last: Visit | null
}

let opened: (Opened & { readonly rows: RowsView | null }) | null = null
let entries: readonly LedgerEntry[] = []
let review: Review | null = null
let scene: Scene | null = null
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
  const drawn = new Set(scene?.plates.map((p) => p.id))
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
  const { catalog, findings } = base
  const { model } = review
  const { statistics } = opened
  const areasRuled = foldAreas(entries)
  const sceneOf = (wanted: MapWish) => mapOf(catalog, findings, model, statistics, areasRuled, wanted, shape)
  // The docket goes by the whole map, whatever part of it is looked at.
  const whole = sceneOf(wholeMap)
  scene = isWholeMap(wish) ? whole : sceneOf(wish)
  const docket = docketItems(review, placesOnMap(whole, model))
  const areas = areasOn(whole)
  const day = dayOf(review, entries, midnight())
  const rows = review.revision.evidence
  post({
    type: 'view',
    heard,
    view: {
      wish,
      scene,
      docket,
      entities: model.entities.map((e) => ({ id: e.id, name: e.name })),
      areas,
      areaBlocks: areaBlocks(whole, new Set(groundOf(catalog, findings).areas.values())),
      progress: daysByArea(docket, areas, day),
      people: day.people,
      since: sinceVisit(base.findings, entries, opened.who, opened.last, { snapshot: opened.hash, rows }),
      threshold: thresholdView(review, entries),
      head: entries.at(-1)?.seq ?? 0,
      diagnostics: review.model.diagnostics.map(describeModelDiagnostic),
      rows: opened.rows,
      naming: { rules: rulesInForce(activeEntries(entries)), schemas: [...new Set(base.catalog.relations.map((r) => r.schema))].sort() },
    },
    selection: selection(),
  })
}

/** A block's key ends in the name that was first proposed for its area. */
function areaBlocks(whole: Scene, proposed: ReadonlySet<string>): readonly AreaBlock[] {
  return whole.blocks
    .filter((b) => b.kind === 'area')
    .map((b) => {
      const own = b.key.slice(areaKey('').length)
      return {
        name: b.name,
        count: b.count,
        by: proposed.has(own) ? { proposed: own } : { tables: whole.plates.filter((p) => p.block === b.key).map((p) => p.id) },
      }
    })
}

/** The day begins where the reader is. */
function midnight(): string {
  const now = new Date()
  return new Date(now.getFullYear(), now.getMonth(), now.getDate()).toISOString()
}

function daysByArea(docket: readonly DocketItem[], areas: readonly string[], day: Day): readonly AreaDay[] {
  const today = progressBy(
    docket.filter((i) => day.ruled.has(i.id)),
    'area',
    areas,
  )
  return progressBy(docket, 'area', areas).map((h) => {
    const t = today.find((o) => o.text === h.text)
    return { ...h, today: t ? t.settled + t.asked + t.open : 0 }
  })
}

/** What reading the rows would come to; it depends on the whole snapshot only. */
function rowsView(o: Opened): RowsView {
  const questions = rowQuestions(o.base.whole)
  const tables = new Set(
    [...[...questions.sets, ...questions.kinds].map((q) => q.child), ...questions.partners].map((t) => relationText({ schema: t.schema, name: t.table })),
  )
  const estimates = o.statistics.relations.filter((r) => tables.has(relationText(r))).map((r) => r.rows)
  const { rows } = o.base
  const orphans = rows?.inclusions.filter((i) => i.orphans > 0 && i.missing <= i.values / 5).length ?? 0
  return {
    dialect: o.base.whole.dialect,
    sets: questions.sets.length + questions.kinds.length + questions.partners.length,
    tables: tables.size,
    rows: estimates.some((n) => n === null) ? null : estimates.reduce((a: number, b) => a + (b ?? 0), 0),
    read: rows ? { at: rows.at, inclusions: rows.inclusions.length, orphans, unread: rows.unread.length } : null,
  }
}

const amountText = (n: number, of: string) => `${n.toLocaleString('en')} ${of}${n === 1 ? '' : 's'}`

async function open(message: Extract<ToWorker, { type: 'open' }>): Promise<void> {
  // Before the snapshot is there: what is appended meanwhile must not be lost.
  entries = message.entries
  const [catalog, rows, findings] = await Promise.all([
    fetched<Catalog>(message.snapshotUrl, 'snapshot'),
    message.rowsUrl === null ? null : fetched<RowEvidence>(message.rowsUrl, 'row evidence'),
    // Where they are others by now, or the server has none, they are worked out here.
    message.findingsUrl === null ? null : fetched<readonly Finding[]>(message.findingsUrl, 'findings', false).catch(() => null),
  ])
  const hash = message.snapshotUrl.slice(message.snapshotUrl.lastIndexOf('/') + 1) as SnapshotHash
  if (!findings) post({ type: 'doing', what: `Looking for the references of ${amountText(catalog.relations.length, 'relation')}` })
  const plain = {
    base: findings ? reviewBaseWith(catalog, entries, rows, findings) : reviewBase(catalog, entries, null, rows),
    hash,
    statistics: message.statistics,
    who: message.who,
    last: message.last,
  }
  opened = { ...plain, rows: null }
  post({
    type: 'doing',
    what: `Laying out ${amountText(plain.base.catalog.relations.length, 'relation')}, with ${amountText(plain.base.findings.length, 'finding')}`,
  })
  refresh()
  setTimeout(() => {
    if (!opened) return
    const amount = rowsView(opened)
    opened = { ...opened, rows: amount }
    post({ type: 'amount', rows: amount })
  })
}

async function handle(message: ToWorker): Promise<void> {
  switch (message.type) {
    case 'open':
      return open(message)
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
      shape = message.shape
      return refresh()
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
