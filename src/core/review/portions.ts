// A view on its way to whoever shows it: only what is not there yet.
import { keptWith } from '../memo/memo.ts'
import type { Scene } from '../strata/index.ts'
import type { DocketItem } from './docket.ts'
import type { ReviewView, Seen, ViewFacts } from './view.ts'

/** A list by the one before it: positions there, and what is new. */
export type ListChange<T> = readonly (number | T)[]

type SceneLists = Pick<Scene, 'blocks' | 'bundles' | 'plates' | 'lines' | 'beads' | 'knots'>
const sceneLists = ['blocks', 'bundles', 'plates', 'lines', 'beads', 'knots'] as const satisfies readonly (keyof SceneLists)[]

export interface SceneChange {
  readonly width: number
  readonly height: number
  readonly lists: { readonly [K in keyof SceneLists]: ListChange<SceneLists[K][number]> }
}

export interface DocketChange {
  /** Rows of the order before that go, by their positions; null where all do. */
  readonly gone: readonly number[] | null
  /** Rows that come, with their positions in the order after, ascending. */
  readonly come: readonly (readonly [at: number, item: DocketItem])[]
  readonly complete: boolean
}

/** What is to be shown instead of what was; what is null stays. */
export interface ViewPortion {
  readonly facts: Partial<ViewFacts>
  readonly scene: SceneChange | null
  readonly docket: DocketChange | null
}

const textOf = (value: unknown): string => JSON.stringify(value)
const shapeText = keptWith((shape: object) => JSON.stringify(shape))

function changedList<T extends object>(before: readonly T[], now: readonly T[]): ListChange<T> {
  const at = new Map(before.map((x, i) => [shapeText(x), i]))
  return now.map((x) => at.get(shapeText(x)) ?? x)
}

const listAfter = <T>(before: readonly T[], change: ListChange<T>): readonly T[] => change.map((x) => (typeof x === 'number' ? (before[x] as T) : x))

const emptyScene: Pick<Scene, 'width' | 'height'> & SceneLists = { width: 0, height: 0, blocks: [], bundles: [], plates: [], lines: [], beads: [], knots: [] }

function sceneChange(before: Scene | null, now: Scene): SceneChange | null {
  if (before === now) return null
  const lists = Object.fromEntries(sceneLists.map((k) => [k, changedList<object>(before?.[k] ?? [], now[k])])) as unknown as SceneChange['lists']
  return { width: now.width, height: now.height, lists }
}

function sceneAfter(before: Scene | null, change: SceneChange): Scene {
  const was = before ?? emptyScene
  const lists = Object.fromEntries(sceneLists.map((k) => [k, listAfter<unknown>(was[k], change.lists[k])])) as unknown as SceneLists
  return { ...lists, width: change.width, height: change.height }
}

/** Rows by identity: an item that says the same is the same value. */
function docketChange(before: readonly DocketItem[] | null, now: readonly DocketItem[]): DocketChange | null {
  if (before === now) return null
  if (before === null) return { gone: null, come: now.map((item, at) => [at, item]), complete: true }
  const stays = new Set(now)
  const was = new Set(before)
  // What stays keeps its order among what stays; what does not is taken out and put in again.
  const kept = before.filter((i) => stays.has(i))
  const moved = new Set<DocketItem>()
  let k = 0
  for (const item of now) {
    if (!was.has(item)) continue
    while (k < kept.length && moved.has(kept[k] as DocketItem)) k += 1
    if (kept[k] === item) k += 1
    else moved.add(item)
  }
  const goes = (i: DocketItem) => !stays.has(i) || moved.has(i)
  return {
    gone: before.flatMap((i, at) => (goes(i) ? [at] : [])),
    come: now.flatMap((item, at) => (!was.has(item) || moved.has(item) ? [[at, item] as const] : [])),
    complete: true,
  }
}

function docketAfter(before: readonly DocketItem[], { gone, come }: DocketChange): readonly DocketItem[] {
  const out = new Set(gone ?? [])
  const rows = gone === null ? [] : before.filter((_, i) => !out.has(i))
  const after: DocketItem[] = []
  let k = 0
  for (const [at, item] of come) {
    while (after.length < at && k < rows.length) after.push(rows[k++] as DocketItem)
    after.push(item)
  }
  while (k < rows.length) after.push(rows[k++] as DocketItem)
  return after
}

function factsChange(before: ViewFacts | null, now: ViewFacts): Partial<ViewFacts> {
  if (before === null) return now
  const keys = Object.keys(now) as (keyof ViewFacts)[]
  return Object.fromEntries(keys.filter((k) => before[k] !== now[k] && textOf(before[k]) !== textOf(now[k])).map((k) => [k, now[k]]))
}

/** What has to be said to whoever was told `before` (null: nothing) so that they see `now`. */
export function portionOf(before: Seen | null, now: Seen): ViewPortion {
  return {
    facts: factsChange(before?.facts ?? null, now.facts),
    scene: sceneChange(before?.scene ?? null, now.scene),
    docket: docketChange(before?.docket ?? null, now.docket),
  }
}

/** May it be taken in at once? */
export const isSmall = ({ docket }: ViewPortion): boolean => docket === null || docket.come.length <= rowsAtOnce

/** So many rows are taken in at once without holding up whoever shows them. */
const rowsAtOnce = 300

const waits = (i: DocketItem) => i.status === 'open' || i.changed

/**
 * A change in parts that hold nobody up: first all but the rows, with the rows that wait, then the others. It begins with an empty docket, unless
 * the rows that wait are what is shown already.
 */
export function inParts(change: ViewPortion, now: Seen): readonly ViewPortion[] {
  const rows = now.docket.map((item, at) => [at, item] as const)
  // Those that wait stand in front.
  const first = Math.min(now.docket.findIndex((i) => !waits(i)) + 1 || now.docket.length, rowsAtOnce)
  const parts = [rows.slice(0, first)]
  for (let at = first; at < rows.length; at += rowsAtOnce) parts.push(rows.slice(at, at + rowsAtOnce))
  return parts.map((come, i) => ({
    facts: i === 0 ? change.facts : {},
    scene: i === 0 ? change.scene : null,
    docket: { gone: i === 0 ? null : [], come, complete: i === parts.length - 1 },
  }))
}

/** What is shown of a review before all else; the rest follows. */
export const firstPortion = (now: Seen): ViewPortion => inParts(portionOf(null, now), now)[0] as ViewPortion

/** What was seen, with rows that say the same as those of `now` in their place: what came as text is known by its text only. */
export function recognized(seen: Seen, now: Seen): Seen {
  const byId = new Map(now.docket.map((i) => [i.id, i]))
  return {
    ...seen,
    docket: seen.docket.map((row) => {
      const own = byId.get(row.id)
      return own && textOf(own) === textOf(row) ? own : row
    }),
  }
}

/** The view once a portion has come. A first portion brings all that a view has. */
export function viewAfter(before: ReviewView | null, { facts, scene, docket }: ViewPortion): ReviewView {
  const was = before ?? ({ scene: null, docket: [], complete: false, rows: null } as unknown as ReviewView)
  return {
    ...was,
    ...facts,
    scene: scene ? sceneAfter(before?.scene ?? null, scene) : was.scene,
    docket: docket ? docketAfter(was.docket, docket) : was.docket,
    complete: docket?.complete ?? was.complete,
  }
}
