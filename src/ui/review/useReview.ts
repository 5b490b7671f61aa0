'use client'

import { useRouter } from 'next/navigation'
import { useCallback, useEffect, useRef, useState } from 'react'
import type { Statistics } from '../../core/catalog/index.ts'
import { decodeEntry, type EntryBody, type LedgerEntry, revertedSeqs } from '../../core/model/index.ts'
import type { FromWorker, ReviewView, SelectionView, ToWorker } from '../../workers/messages.ts'
import { get, post, type Wording } from '../common/api.ts'
import type { ProjectEvent } from '../common/job.ts'

export interface ReviewHandle {
  readonly view: ReviewView | null
  readonly selection: SelectionView
  readonly wording: Wording | null
  readonly select: (id: string | null) => void
  /** Append; resolves to whether the ledger took it. */
  readonly append: (entries: readonly EntryBody[]) => Promise<boolean>
  readonly takeBack: (seq: number) => Promise<boolean>
  readonly undo: () => Promise<boolean>
  readonly dismiss: () => void
}

const nothing: SelectionView = { id: null, detail: null, plates: [] }

/** The model of a project in a worker: opened once, then fed with ledger entries, our own and other people's. */
export function useReview(
  projectId: string,
  hash: string,
  rows: string | null,
  statistics: string,
  encoded: readonly unknown[],
  initial: string | null,
): ReviewHandle {
  const router = useRouter()
  const worker = useRef<Worker | null>(null)
  const entries = useRef<readonly LedgerEntry[]>([])
  const [view, setView] = useState<ReviewView | null>(null)
  const [selection, setSelection] = useState<SelectionView>({ ...nothing, id: initial })
  const [wording, setWording] = useState<Wording | null>(null)
  const send = useCallback((message: ToWorker) => worker.current?.postMessage(message), [])

  const take = useCallback(
    (fresh: readonly LedgerEntry[]) => {
      const known = new Set(entries.current.map((e) => e.seq))
      const added = fresh.filter((e) => !known.has(e.seq))
      if (added.length === 0) return
      entries.current = [...entries.current, ...added].sort((a, b) => a.seq - b.seq)
      send({ type: 'append', entries: added })
      router.refresh()
    },
    [send, router],
  )

  // A snapshot is opened with the entries of the page that came with it; later ones arrive as events, so a refresh must not open it again.
  const first = useRef({ encoded, statistics, initial })
  first.current = { encoded, statistics, initial: first.current.initial }
  useEffect(() => {
    const made = new Worker(new URL('../../workers/review.worker.ts', import.meta.url), { type: 'module' })
    worker.current = made
    made.onmessage = ({ data }: MessageEvent<FromWorker>) => {
      if (data.type === 'failed')
        setWording({
          message: 'the review could not be computed',
          detail: data.message,
          hint: 'Reload the page; if it happens again, report it with this text.',
        })
      else setSelection(data.selection)
      if (data.type === 'view') setView(data.view)
    }
    made.onerror = () => setWording({ message: 'the review could not be computed', detail: 'The worker did not start.', hint: 'Reload the page.' })
    entries.current = first.current.encoded.map(decodeEntry)
    if (first.current.initial !== null) send({ type: 'select', id: first.current.initial })
    send({
      type: 'open',
      snapshotUrl: `${location.origin}/api/snapshots/${hash}`,
      rowsUrl: rows === null ? null : `${location.origin}/api/rows/${rows}`,
      statistics: JSON.parse(first.current.statistics) as Statistics,
      entries: entries.current,
    })
    return () => made.terminate()
  }, [hash, rows, send])

  useEffect(() => {
    const events = new EventSource(`/api/projects/${projectId}/events`)
    events.onmessage = (message) => {
      const event = JSON.parse(message.data as string) as ProjectEvent
      if (event.type !== 'ledger') return
      void get<{ entries: unknown[] }>(`/api/projects/${projectId}/ledger?after=${entries.current.at(-1)?.seq ?? 0}`).then((answer) => {
        if (answer) take(answer.entries.map(decodeEntry))
      })
    }
    return () => events.close()
  }, [projectId, take])

  /** One request at a time, in the order of the keys pressed: an undo takes back what was asked for just before it, also while that is on its way. */
  const turn = useRef<Promise<unknown>>(Promise.resolve())
  const inTurn = useCallback((work: () => Promise<boolean>): Promise<boolean> => {
    const done = turn.current.then(work)
    turn.current = done
    return done
  }, [])
  const call = useCallback(
    async (path: string, body: unknown): Promise<boolean> => {
      const answer = await post<{ entries: unknown[] }>(path, body)
      setWording(answer.ok ? null : answer.wording)
      if (answer.ok) take(answer.value.entries.map(decodeEntry))
      return answer.ok
    },
    [take],
  )
  const append = useCallback(
    (bodies: readonly EntryBody[]) => inTurn(() => call(`/api/projects/${projectId}/ledger`, { entries: bodies, seen: entries.current.at(-1)?.seq ?? 0 })),
    [call, inTurn, projectId],
  )
  const revert = useCallback((seq: number) => call(`/api/projects/${projectId}/ledger/revert`, { seq }), [call, projectId])
  const takeBack = useCallback((seq: number) => inTurn(() => revert(seq)), [inTurn, revert])
  const undo = useCallback(
    () =>
      inTurn(async () => {
        const gone = revertedSeqs(entries.current)
        const last = entries.current.findLast((e) => e.kind !== 'revert' && !gone.has(e.seq))
        if (last) return revert(last.seq)
        setWording({ message: 'there is nothing to undo', detail: '', hint: '' })
        return false
      }),
    [inTurn, revert],
  )
  const select = useCallback((id: string | null) => send({ type: 'select', id }), [send])
  return { view, selection, wording, select, append, takeBack, undo, dismiss: () => setWording(null) }
}
