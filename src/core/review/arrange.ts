// The docket as people lay it out: what is shown, in which order, under which headings.
import { z } from 'zod'
import type { DocketItem } from './docket.ts'

export const shows = ['waiting', 'relationships', 'classes', 'structure', 'ruled', 'asked', 'folded'] as const
export type Show = (typeof shows)[number]

export const orders = ['riskiest first', 'by area', 'by table', 'by kind', 'by state', 'by confidence', 'by who ruled'] as const
export type Order = (typeof orders)[number]

/** Lower bounds of the parts that confidences fall into, surest first. */
const parts = [0.95, 0.8, 0.5, 0] as const
export const confidenceParts = ['0.95 and over', '0.80 to 0.94', '0.50 to 0.79', 'under 0.50'] as const

const one = z.string().max(200).nullable()
export const arrangement = z.object({
  show: z.enum(shows),
  order: z.enum(orders),
  search: z.string().max(200),
  /** Null where all are wanted. */
  kind: one,
  area: one,
  table: one,
  state: one,
  confidence: one,
  /** Only what changed since the last visit. */
  fresh: z.boolean(),
})
export type Arrangement = Readonly<z.infer<typeof arrangement>>

/** Where somebody is in a review: how the docket is laid out, what is selected, and the finding of it they worked on last. */
export const place = z.object({ docket: arrangement, at: one, working: one })
export type Place = Readonly<z.infer<typeof place>>

export const everything: Arrangement = {
  show: 'waiting',
  order: 'riskiest first',
  search: '',
  kind: null,
  area: null,
  table: null,
  state: null,
  confidence: null,
  fresh: false,
}

/** By what the docket can be narrowed, beside the search. */
export const narrowings = ['kind', 'area', 'table', 'state', 'confidence'] as const
export type Narrowing = (typeof narrowings)[number]

/** The heading of a group of findings, and how far their review is. */
export interface Heading {
  readonly text: string
  readonly open: number
  readonly asked: number
  readonly settled: number
}

export type DocketLine = { readonly kind: 'item'; readonly item: DocketItem } | { readonly kind: 'heading'; readonly heading: Heading }

/** Halves of a many-to-many are reached through it. */
export const isShown: Readonly<Record<Show, (i: DocketItem) => boolean>> = {
  waiting: (i) => i.status === 'open' || i.changed,
  relationships: (i) => i.kind !== 'entity' && i.kind !== 'structure' && i.partOf === null && i.status !== 'folded',
  classes: (i) => i.kind === 'entity',
  structure: (i) => i.kind === 'structure',
  ruled: (i) => ['accepted', 'amended', 'rejected', 'asked', 'settled', 'taken'].includes(i.status),
  asked: (i) => i.status === 'asked',
  folded: (i) => i.status === 'folded',
}

/** What findings of each kind are called together. */
export const kindWords: Readonly<Record<DocketItem['kind'], string>> = {
  'join-table': 'join tables',
  polymorphic: 'kind and id',
  reference: 'references',
  entity: 'classes',
  structure: 'structure',
}
const stateWords = { enforced: 'enforced', declared: 'declared, not enforced', model: 'in the model only', guessed: 'guessed' } as const
const noArea = 'Standing alone'

/** The group of an item under each narrowing; the same words stand in the headings and in the choices. */
const groupOf: Readonly<Record<Narrowing, (i: DocketItem) => string>> = {
  kind: (i) => i.topic ?? kindWords[i.kind],
  area: (i) => i.area ?? noArea,
  table: (i) => i.table,
  state: (i) => (i.state === null ? 'no relationship' : stateWords[i.state]),
  confidence: (i) => confidenceParts[parts.findIndex((p) => i.confidence >= p)] ?? confidenceParts[3],
}

const whoRuled = (i: DocketItem): string => (i.by === null ? 'Not ruled on' : `${i.status}, ${i.by}`)

const compare = (a: string, b: string) => (a < b ? -1 : a > b ? 1 : 0)

function matches(i: DocketItem, needle: string): boolean {
  if (needle === '') return true
  if (i.subject.toLowerCase().includes(needle) || (i.area?.toLowerCase().includes(needle) ?? false)) return true
  return i.says.some((s) =>
    s
      .map((r) => r.text)
      .join('')
      .toLowerCase()
      .includes(needle),
  )
}

/** Parts of the docket in which something matches the search, and how much. */
export function foundIn(items: readonly DocketItem[], a: Arrangement): readonly { readonly show: Show; readonly n: number }[] {
  const needle = a.search.trim().toLowerCase()
  const found = items.filter((i) => matches(i, needle))
  return shows.map((show) => ({ show, n: found.filter(isShown[show]).length })).filter((f) => f.n > 0)
}

/** How many items stand in each part of the docket. */
export const showCounts = (items: readonly DocketItem[]): Readonly<Record<Show, number>> =>
  Object.fromEntries(shows.map((s) => [s, items.filter(isShown[s]).length])) as Record<Show, number>

/** What each narrowing can be set to, among the items of one part of the docket; in the order of the headings. */
export function choicesOf(items: readonly DocketItem[], show: Show, areas: readonly string[]): Readonly<Record<Narrowing, readonly string[]>> {
  const shown = items.filter(isShown[show])
  return Object.fromEntries(narrowings.map((n) => [n, inOrder(n, [...new Set(shown.map(groupOf[n]))], areas)])) as Record<Narrowing, readonly string[]>
}

function inOrder(n: Narrowing, groups: readonly string[], areas: readonly string[]): readonly string[] {
  const fixed: Partial<Record<Narrowing, readonly string[]>> = {
    area: [...areas, noArea],
    confidence: confidenceParts,
    state: [...Object.values(stateWords), 'no relationship'],
  }
  const order = fixed[n]
  return order ? order.filter((g) => groups.includes(g)) : groups.toSorted(compare)
}

/** How far the review of each group is, whatever part of the docket is shown: folded findings and halves of a many-to-many do not count. */
export function progressBy(items: readonly DocketItem[], by: Narrowing, areas: readonly string[]): readonly Heading[] {
  return headings(items, groupOf[by], (keys) => inOrder(by, keys, areas))
}

function headings(items: readonly DocketItem[], group: (i: DocketItem) => string, order: (keys: readonly string[]) => readonly string[]): readonly Heading[] {
  const counts = new Map<string, { open: number; asked: number; settled: number }>()
  for (const i of items) {
    const c = counts.get(group(i)) ?? { open: 0, asked: 0, settled: 0 }
    counts.set(group(i), c)
    if (i.status === 'folded' || i.partOf !== null) continue
    if (i.status === 'open' || i.changed) c.open += 1
    else if (i.status === 'asked') c.asked += 1
    else c.settled += 1
  }
  return order([...counts.keys()]).map((text) => ({ text, ...(counts.get(text) as { open: number; asked: number; settled: number }) }))
}

/**
 * The lines of a docket. Items come in as `docketItems` orders them, riskiest first; `areas` are those of the map from top to bottom, and
 * within an area, as within a table, findings stand in the order in which their tables can be created.
 */
export function arrange(items: readonly DocketItem[], a: Arrangement, areas: readonly string[], fresh: ReadonlySet<string> = new Set()): readonly DocketLine[] {
  const needle = a.search.trim().toLowerCase()
  const wanted = items.filter(
    (i) => isShown[a.show](i) && matches(i, needle) && narrowings.every((n) => a[n] === null || groupOf[n](i) === a[n]) && (!a.fresh || fresh.has(i.id)),
  )
  if (a.order === 'riskiest first') return wanted.map((item) => ({ kind: 'item', item }))
  const by = a.order === 'by who ruled' ? null : (a.order.slice(3) as Narrowing)
  const group = by === null ? whoRuled : groupOf[by]
  return headings(items, group, (keys) => (by === null ? keys.toSorted(compare) : inOrder(by, keys, areas))).flatMap((heading): readonly DocketLine[] => {
    const own = wanted.filter((i) => group(i) === heading.text)
    const sorted = by === 'area' || by === 'table' ? own.toSorted((x, y) => x.rank - y.rank || compare(x.subject, y.subject)) : own
    return own.length === 0 ? [] : [{ kind: 'heading', heading }, ...sorted.map((item): DocketLine => ({ kind: 'item', item }))]
  })
}
