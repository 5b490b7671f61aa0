'use client'

import { useCallback, useEffect, useRef, useState } from 'react'
import { decodeEntry, type LedgerEntry } from '../../core/model/index.ts'
import type { Completions } from '../../core/notation/index.ts'
import type { FromNotation, NotationReadingView, ToNotation } from '../../workers/notationMessages.ts'
import type { Wording } from '../common/api.ts'
import { useLedger } from '../common/useLedger.ts'

export interface NotationSource {
  readonly projectId: string
  readonly hash: string
  readonly findings: string | null
  readonly rows: string | null
  readonly entries: readonly unknown[]
}

export interface NotationHandle {
  /** The review as it is; null until it has been worked out. */
  readonly fresh: string | null
  readonly wording: Wording | null
  /** What a text says otherwise than the review; null where a later question has overtaken it. */
  readonly read: (text: string) => Promise<NotationReadingView | null>
  readonly layOut: (text: string) => Promise<string | null>
  readonly complete: (text: string, at: number) => Promise<Completions | null>
  /** Entries that the ledger took. */
  readonly take: (entries: readonly LedgerEntry[]) => void
}

type Asked = Extract<FromNotation, { readonly ask: number }>

/** The review of a project in a worker that reads notations against it; fed with ledger entries, our own and other people's. */
export function useNotation({ projectId, hash, findings, rows, entries: encoded }: NotationSource): NotationHandle {
  const worker = useRef<Worker | null>(null)
  const entries = useRef<readonly LedgerEntry[]>([])
  const asked = useRef<{ n: number; readonly waiting: Map<number, { readonly type: Asked['type']; readonly answer: (a: Asked | null) => void }> }>({
    n: 0,
    waiting: new Map(),
  })
  const [fresh, setFresh] = useState<string | null>(null)
  const [wording, setWording] = useState<Wording | null>(null)
  const take = useCallback((some: readonly LedgerEntry[]) => {
    const known = new Set(entries.current.map((e) => e.seq))
    const added = some.filter((e) => !known.has(e.seq))
    if (added.length === 0) return
    entries.current = [...entries.current, ...added].sort((a, b) => a.seq - b.seq)
    worker.current?.postMessage({ type: 'append', entries: added } satisfies ToNotation)
  }, [])
  const first = useRef({ encoded, findings })
  useEffect(() => {
    const made = new Worker(new URL('../../workers/notation.worker.ts', import.meta.url), { type: 'module' })
    worker.current = made
    made.onmessage = ({ data }: MessageEvent<FromNotation>) => {
      if (data.type === 'text') setFresh(data.text)
      else if (data.type === 'failed')
        setWording({
          message: 'the notation could not be worked out',
          detail: data.message,
          hint: 'Reload the page; what you typed is kept. If it happens again, report it with this text.',
        })
      else {
        asked.current.waiting.get(data.ask)?.answer(data)
        asked.current.waiting.delete(data.ask)
      }
    }
    made.onerror = () => setWording({ message: 'the notation could not be worked out', detail: 'The worker did not start.', hint: 'Reload the page.' })
    entries.current = first.current.encoded.map(decodeEntry)
    made.postMessage({
      type: 'open',
      snapshotUrl: `${location.origin}/api/snapshots/${hash}`,
      rowsUrl: rows === null ? null : `${location.origin}/api/rows/${rows}`,
      findingsUrl: first.current.findings === null ? null : `${location.origin}/api/projects/${projectId}/findings/${first.current.findings}`,
      entries: entries.current,
    } satisfies ToNotation)
    return () => made.terminate()
  }, [projectId, hash, rows])
  const last = useCallback(() => entries.current.at(-1)?.seq ?? 0, [])
  useLedger(projectId, last, take)
  const ask = useCallback(
    (type: Asked['type'], message: (n: number) => ToNotation) =>
      new Promise<Asked | null>((answer) => {
        const { current } = asked
        current.n += 1
        // Of each kind only the last question is of interest.
        for (const [n, w] of current.waiting) {
          if (w.type !== type) continue
          w.answer(null)
          current.waiting.delete(n)
        }
        current.waiting.set(current.n, { type, answer })
        worker.current?.postMessage(message(current.n))
      }),
    [],
  )
  const read = useCallback(
    async (text: string) => {
      const a = await ask('read', (n) => ({ type: 'read', ask: n, text }))
      return a?.type === 'read' ? a.view : null
    },
    [ask],
  )
  const layOut = useCallback(
    async (text: string) => {
      const a = await ask('laidOut', (n) => ({ type: 'layOut', ask: n, text }))
      return a?.type === 'laidOut' ? a.text : null
    },
    [ask],
  )
  const complete = useCallback(
    async (text: string, at: number) => {
      const a = await ask('completions', (n) => ({ type: 'complete', ask: n, text, at }))
      return a?.type === 'completions' ? a.found : null
    },
    [ask],
  )
  return { fresh, wording, read, layOut, complete, take }
}
