// Draws the map of a plan off the main thread: what the schema will be is inferred and laid out here.
import type { SnapshotHash } from '../core/catalog/index.ts'
import { decodeEntry, type Finding } from '../core/model/index.ts'
import { type PlanMap, type PlanMapSource, planMap, reviewBase, reviewBaseWith, reviewWith } from '../core/review/index.ts'
import type { RowEvidence } from '../core/rows/index.ts'
import { fetched } from './fetched.ts'
import type { FromPlanMap, ToPlanMap } from './planMapMessages.ts'

const post = (message: FromPlanMap) => self.postMessage(message)

let draw: Promise<(whole: boolean) => PlanMap> = Promise.reject(new Error('no plan was opened'))
draw.catch(() => {})

async function open({ projectUrl, rowsUrl, which }: Extract<ToPlanMap, { type: 'open' }>): Promise<(whole: boolean) => PlanMap> {
  const { touched, entries: encoded, statistics, ...keys } = await fetched<PlanMapSource>(`${projectUrl}/plan-map?which=${which}`, 'plan')
  const [rows, findings] = await Promise.all([
    keys.rows === null ? null : fetched<RowEvidence>(`${rowsUrl}/${keys.rows}`, 'row evidence'),
    // Where they are others by now they are worked out here.
    keys.findings === null ? null : fetched<readonly Finding[]>(`${projectUrl}/findings/${keys.findings}`, 'findings', false).catch(() => null),
  ])
  const entries = encoded.map(decodeEntry)
  const base = findings ? reviewBaseWith(touched.catalog, entries, rows, findings) : reviewBase(touched.catalog, entries, null, rows)
  const review = reviewWith(base, '' as SnapshotHash, entries)
  return (whole) => planMap(base, review, entries, statistics, touched, whole)
}

self.onmessage = ({ data }: MessageEvent<ToPlanMap>) => {
  if (data.type === 'open') draw = open(data)
  draw
    .then((of) => post({ type: 'map', map: of(data.whole) }))
    .catch((error: unknown) => post({ type: 'failed', message: error instanceof Error ? error.message : String(error) }))
}
