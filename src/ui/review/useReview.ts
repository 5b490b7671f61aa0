'use client'

import { useRouter } from 'next/navigation'
import { startTransition, useCallback, useEffect, useRef, useState, useTransition } from 'react'
import type { Statistics } from '../../core/catalog/index.ts'
import { decodeEntry, type EntryBody, type LedgerEntry, revertedSeqs } from '../../core/model/index.ts'
import type { NamingRule } from '../../core/names/index.ts'
import type { Bulk, EditableName, RenameCheck, Renaming, RowOrder, Visit } from '../../core/review/index.ts'
import { type ReviewView, viewAfter } from '../../core/review/index.ts'
import type { MapWish, SplitPart } from '../../core/strata/index.ts'
import type { FromWorker, SelectionView, ToWorker } from '../../workers/messages.ts'
import { post, type Wording } from '../common/api.ts'
import { useLedger } from '../common/useLedger.ts'
import { firstView, paneShape } from './firstView.ts'

/** Who is at the keyboard, and where their last visit ended. */
export interface Visitor {
  readonly who: string
  readonly last: Visit | null
}

export interface ReviewHandle {
  readonly view: ReviewView | null
  /** What is worked out before there is a view. */
  readonly doing: string
  readonly selection: SelectionView
  readonly wording: Wording | null
  readonly select: (id: string | null) => void
  /** Append; resolves to whether the ledger took it. */
  readonly append: (entries: readonly EntryBody[]) => Promise<boolean>
  readonly takeBack: (seq: number) => Promise<boolean>
  readonly undo: () => Promise<boolean>
  readonly showMap: (wish: MapWish) => void
  /** The map is packed to a pane of another shape, width over height. */
  readonly packMap: (shape: number) => void
  readonly wantSheets: (on: boolean) => void
  /** What is selected, once all that was sent so far has been answered and drawn: a key pressed right after another acts on what that one came to. */
  readonly shown: () => Promise<SelectionView>
  /** Is nothing on its way? Then what is drawn is what is selected. */
  readonly isSettled: () => boolean
  readonly dismiss: () => void
  /** The server is asked for the page's own numbers again. */
  readonly refreshing: boolean
  /** What a naming rule would change. An answer that a later question has overtaken never comes. */
  readonly preview: (rule: NamingRule) => Promise<readonly Renaming[]>
  /** What a name would come to. */
  readonly checkRename: (name: EditableName, wanted: string) => Promise<RenameCheck | null>
  /** The parts an area falls into; null where it holds together. */
  readonly order: () => Promise<RowOrder | null>
  readonly split: (area: string) => Promise<readonly SplitPart[] | null>
  /** Findings like this one; null where there is no other. */
  readonly bulk: (id: string, left: readonly string[], batch: string) => Promise<Bulk | null>
}

type Answered = Extract<FromWorker, { readonly ask: number }>

const nothing: SelectionView = { id: null, detail: null, plates: [], sheets: [] }

/** The model of a project in a worker: opened once, then fed with ledger entries, our own and other people's. */
export function useReview(
  projectId: string,
  hash: string,
  findings: string | null,
  rows: string | null,
  statistics: string,
  encoded: readonly unknown[],
  initial: string | null,
  visitor: Visitor,
): ReviewHandle {
  const router = useRouter()
  const [refreshing, startRefresh] = useTransition()
  const worker = useRef<Worker | null>(null)
  const entries = useRef<readonly LedgerEntry[]>([])
  const asked = useRef<{ readonly n: number; readonly answer: (answer: Answered) => void }>({ n: 0, answer: () => {} })
  const [view, setView] = useState<ReviewView | null>(null)
  const [selection, setSelection] = useState<SelectionView>(nothing)
  const [wording, setWording] = useState<Wording | null>(null)
  const [doing, setDoing] = useState('Reading the snapshot')
  const send = useCallback((message: ToWorker) => worker.current?.postMessage(message), [])
  const chosen = useRef(initial)
  // Each thing the worker is told carries a number; its answers carry the last it heard, so one can wait for what is on its way.
  const told = useRef(0)
  const [heard, setHeard] = useState(0)
  const tell = useCallback(
    (message: (n: number) => ToWorker) => {
      told.current += 1
      send(message(told.current))
    },
    [send],
  )
  const waiting = useRef<((selection: SelectionView) => void)[]>([])
  const heardNow = useRef(0)
  heardNow.current = heard
  const isSettled = useCallback(() => heardNow.current >= told.current, [])
  useEffect(() => {
    if (heard >= told.current) for (const go of waiting.current.splice(0)) go(selection)
  }, [selection, heard])
  const select = useCallback(
    (id: string | null) => {
      chosen.current = id
      tell((n) => ({ type: 'select', n, id }))
    },
    [tell],
  )
  const showMap = useCallback((wish: MapWish) => tell((n) => ({ type: 'map', n, wish })), [tell])
  const packMap = useCallback((shape: number) => tell((n) => ({ type: 'shape', n, shape })), [tell])
  const wantSheets = useCallback((on: boolean) => tell((n) => ({ type: 'sheets', n, on })), [tell])
  const shown = useCallback(
    () =>
      new Promise<SelectionView>((go) => {
        waiting.current.push(go)
        select(chosen.current)
      }),
    [select],
  )

  const take = useCallback(
    (fresh: readonly LedgerEntry[]) => {
      const known = new Set(entries.current.map((e) => e.seq))
      const added = fresh.filter((e) => !known.has(e.seq))
      if (added.length === 0) return
      entries.current = [...entries.current, ...added].sort((a, b) => a.seq - b.seq)
      tell((n) => ({ type: 'append', n, entries: added }))
      // What a subject is called now is asked and answered beside the review.
      const rebinds = added.some((e) => e.kind === 'rebind' || (e.kind === 'revert' && entries.current.some((r) => r.kind === 'rebind' && r.seq === e.reverts)))
      if (rebinds) startRefresh(() => router.refresh())
    },
    [tell, router],
  )

  // A snapshot is opened with the entries of the page that came with it; later ones arrive as events, so a refresh must not open it again.
  const first = useRef({ encoded, statistics, visitor, findings })
  first.current = { encoded, statistics, visitor, findings }
  useEffect(() => {
    let arrived = false
    const made = new Worker(new URL('../../workers/review.worker.ts', import.meta.url), { type: 'module' })
    worker.current = made
    made.onmessage = ({ data }: MessageEvent<FromWorker>) => {
      if ('ask' in data) {
        if (data.ask === asked.current.n) asked.current.answer(data)
      } else if (data.type === 'failed')
        setWording({
          message: 'the review could not be computed',
          detail: data.message,
          hint: 'Reload the page; if it happens again, report it with this text.',
        })
      else if (data.type === 'doing') setDoing(data.what)
      else if (data.type === 'amount') show(latest && { ...latest, rows: data.rows })
      else takeIn(data)
    }
    // Portions follow one another, whenever what they come to is drawn.
    let latest: ReviewView | null = null
    const show = (next: ReviewView | null, calmly = false) => {
      latest = next
      if (calmly) startTransition(() => setView(next))
      else setView(next)
    }
    const takeIn = (data: Extract<FromWorker, { heard: number }>) => {
      // Rows that follow hold nobody up, and say nothing new of what was heard.
      if (data.selection) {
        setSelection(data.selection)
        setHeard(data.heard)
      }
      if (data.type !== 'view') return
      arrived = true
      show(viewAfter(latest, data.portion), data.selection === null)
    }
    made.onerror = () => setWording({ message: 'the review could not be computed', detail: 'The worker did not start.', hint: 'Reload the page.' })
    entries.current = first.current.encoded.map(decodeEntry)
    select(chosen.current)
    const shape = paneShape()
    send({
      type: 'open',
      snapshotUrl: `${location.origin}/api/snapshots/${hash}`,
      rowsUrl: rows === null ? null : `${location.origin}/api/rows/${rows}`,
      shape,
      framesUrl: `${location.origin}/api/projects/${projectId}/frame/`,
      of: first.current.findings,
      findingsUrl: first.current.findings === null ? null : `${location.origin}/api/projects/${projectId}/findings/${first.current.findings}`,
      statistics: JSON.parse(first.current.statistics) as Statistics,
      entries: entries.current,
      who: first.current.visitor.who,
      last: first.current.visitor.last,
    })
    // What the server keeps stands before the worker has begun.
    let there = true
    void firstView(projectId, shape).then(
      (portion) => {
        if (!there || arrived) return
        send({ type: 'shown', portion })
        show(viewAfter(null, portion), true)
      },
      () => {},
    )
    return () => {
      there = false
      made.terminate()
    }
  }, [projectId, hash, rows, send, select])

  const last = useCallback(() => entries.current.at(-1)?.seq ?? 0, [])
  useLedger(projectId, last, take)

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
  const revert = useCallback((seq: number, batch = false) => call(`/api/projects/${projectId}/ledger/revert`, { seq, batch }), [call, projectId])
  const takeBack = useCallback((seq: number) => inTurn(() => revert(seq)), [inTurn, revert])
  const undo = useCallback(
    () =>
      inTurn(async () => {
        const gone = revertedSeqs(entries.current)
        const last = entries.current.findLast((e) => e.kind !== 'revert' && !gone.has(e.seq))
        if (last) return revert(last.seq, true)
        setWording({ message: 'there is nothing to undo', detail: '', hint: '' })
        return false
      }),
    [inTurn, revert],
  )
  /** One question at a time: an answer that a later question has overtaken never comes. */
  const ask = useCallback(
    (message: (n: number) => ToWorker) =>
      new Promise<Answered>((answer) => {
        asked.current = { n: asked.current.n + 1, answer }
        send(message(asked.current.n))
      }),
    [send],
  )
  const preview = useCallback(
    async (rule: NamingRule) => {
      const answer = await ask((n) => ({ type: 'preview', ask: n, rule }))
      return answer.type === 'preview' ? answer.renamings : []
    },
    [ask],
  )
  const bulk = useCallback(
    async (id: string, left: readonly string[], batch: string) => {
      const answer = await ask((n) => ({ type: 'bulk', ask: n, id, left, batch }))
      return answer.type === 'bulk' ? answer.bulk : null
    },
    [ask],
  )
  const split = useCallback(
    async (area: string) => {
      const answer = await ask((n) => ({ type: 'split', ask: n, area }))
      return answer.type === 'split' ? answer.parts : null
    },
    [ask],
  )
  const order = useCallback(async () => {
    const answer = await ask((n) => ({ type: 'order', ask: n }))
    return answer.type === 'order' ? answer.order : null
  }, [ask])
  const checkRename = useCallback(
    async (name: EditableName, wanted: string) => {
      const answer = await ask((n) => ({ type: 'rename', ask: n, name, wanted }))
      return answer.type === 'rename' ? answer.check : null
    },
    [ask],
  )
  return {
    view,
    selection,
    doing,
    wording,
    select,
    showMap,
    packMap,
    wantSheets,
    shown,
    isSettled,
    append,
    takeBack,
    undo,
    dismiss: () => setWording(null),
    preview,
    bulk,
    split,
    order,
    checkRename,
    refreshing,
  }
}
