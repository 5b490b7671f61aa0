// What is shown of a project first, kept under the state it belongs to: whoever comes next waits for nothing that was worked out already.
import { gunzipSync } from 'node:zlib'
import { type Dialect, hashText, type SnapshotHash } from '../core/catalog/index.ts'
import { inferenceVersion } from '../core/infer/index.ts'
import { lostSubjects, type RenameQuestion } from '../core/lineage/index.ts'
import { findingsKey, firstPortion, seenOf } from '../core/review/index.ts'
import { decodeFrame, encodeFrame, nearestShape, standingFrame, standsOn } from '../core/strata/index.ts'
import { findKept, findKeptLast, keep, type ProjectNow, type ProjectSummary, readProjectNow } from '../store/index.ts'
import { renameQuestionsOf } from './history.ts'
import { gzippedJson, type ProjectReview, projectReviewOf, readProjectReview } from './review.ts'

/** What the bar over every stage shows, and what the desk is opened with. */
export interface Head {
  readonly hash: SnapshotHash
  readonly dialect: Dialect
  /** What waits: open findings, rulings on answers that are others now, and rulings whose subject is gone. */
  readonly open: number
  /** Key of the findings. */
  readonly findings: string
  /** Rulings whose subject is gone. */
  readonly questions: readonly RenameQuestion[]
}

/** The same key, the same to be shown. */
const keyOf = (survey: number, hash: string, evidence: string | null, head: number): string =>
  hashText(JSON.stringify([survey, hash, evidence, head, inferenceVersion])).slice(0, 32)

/** Null before the first survey. */
const stateKey = ({ survey, evidence, entries }: ProjectNow): string | null => survey && keyOf(survey.id, survey.hash, evidence, entries.at(-1)?.seq ?? 0)

const unpacked = (bytes: Buffer): Head => JSON.parse(gunzipSync(bytes).toString('utf8')) as Head

/** What waits in a project as the list of all has it; null where that was not worked out of its present state. */
export function waitsIn({ head, survey, hash, evidence, entries }: ProjectSummary): number | null {
  if (!head || survey === null || hash === null || head.key !== keyOf(survey, hash, evidence, entries)) return null
  return unpacked(head.bytes).open
}

/** As it is kept; null where it has to be worked out. */
export async function keptHead(projectId: string, now: ProjectNow): Promise<Head | null> {
  const key = stateKey(now)
  const bytes = key === null ? null : await findKept(projectId, 'head', key)
  return bytes && unpacked(bytes)
}

/** Worked out and kept. Null before the first survey is done. */
export async function makeHead(projectId: string): Promise<Head | null> {
  const now = await readProjectNow(projectId)
  const p = now && (await projectReviewOf(projectId, now))
  const key = now && stateKey(now)
  if (!p || !key) return null
  const unruled = [...p.review.statuses.values()].filter((s) => s === 'open').length
  const head: Head = {
    hash: p.hash,
    dialect: p.catalog.dialect,
    open: unruled + p.review.changed.size + lostSubjects(p.catalog, p.entries).length,
    findings: findingsKey(p.base, p.hash),
    questions: await renameQuestionsOf(projectId),
  }
  await keep(projectId, 'head', key, await gzippedJson(head))
  return head
}

const firstOf = (shape: number) => `first ${shape}`

/** Gzipped `ViewPortion`, as it is kept; null where it has to be worked out. */
export async function keptFirst(projectId: string, shape: number): Promise<Uint8Array | null> {
  const now = await readProjectNow(projectId)
  const key = now && stateKey(now)
  return key ? findKept(projectId, firstOf(shape), key) : null
}

const framesOf = (shape: number) => `frame ${shape}`

/** Where everything stands on the map of a project, from one survey to the next as far as it goes; kept. */
async function frameOf(projectId: string, p: ProjectReview, shape: number): Promise<Buffer> {
  const key = findingsKey(p.base, p.hash)
  const last = await findKeptLast(projectId, framesOf(shape))
  const before = last && decodeFrame(JSON.parse(gunzipSync(last.bytes).toString('utf8')))
  const { catalog, findings } = p.base
  if (last?.key === key && before) {
    standsOn(catalog, findings, shape, before)
    return last.bytes
  }
  const bytes = await gzippedJson(encodeFrame(standingFrame(catalog, findings, shape, before)))
  await keep(projectId, framesOf(shape), key, bytes)
  return bytes
}

/** As it is kept for the findings with this key; null where it has to be worked out. */
export const keptFrame = (projectId: string, shape: number, findings: string): Promise<Uint8Array | null> => findKept(projectId, framesOf(shape), findings)

/** Gzipped frame of the map, for the worker of a page; null before the first survey. */
export async function readFrame(projectId: string, shape: number): Promise<Uint8Array | null> {
  const p = await readProjectReview(projectId)
  return p && frameOf(projectId, p, shape)
}

/** Gzipped `ViewPortion`: what is shown of a review before all else, to whoever it is, on a pane of this shape. Null before the first survey. */
export async function makeFirst(projectId: string, shape: number): Promise<Uint8Array | null> {
  const now = await readProjectNow(projectId)
  const p = now && (await projectReviewOf(projectId, now))
  const key = now && stateKey(now)
  if (!p || !key) return null
  await frameOf(projectId, p, shape)
  const bytes = await gzippedJson(firstPortion(seenOf(p.base, p.review, p.hash, p.entries, p.statistics, null, undefined, shape)))
  await keep(projectId, firstOf(shape), key, bytes)
  return bytes
}

/** After a survey, for an ordinary window: whoever opens the review first waits for it no longer than others. */
export async function makeReady(projectId: string): Promise<void> {
  await makeHead(projectId)
  await makeFirst(projectId, nearestShape(640, 660))
}
