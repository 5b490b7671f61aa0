'use client'

import { useCallback, useEffect, useRef } from 'react'
import { decodeEntry } from '../../core/model/index.ts'
import type { CatalogAnswers, CatalogQuestion, FromCatalog, ToCatalog } from '../../workers/catalogMessages.ts'

type Waiting = Map<number, { readonly resolve: (value: never) => void; readonly reject: (error: Error) => void }>
export type AskCatalog = <Q extends CatalogQuestion>(question: Q) => Promise<CatalogAnswers[Q['ask']]>

/** A snapshot in a worker, asked for what is shown. Opened once for a hash; newer ledger entries reach it with the next question. */
export function useCatalog(hash: string, encoded: readonly unknown[]): AskCatalog {
  const worker = useRef<Worker | null>(null)
  const waiting = useRef<Waiting>(new Map())
  const next = useRef(0)
  const opened = useRef('')

  const send = useCallback((message: ToCatalog) => {
    if (worker.current === null) {
      const made = new Worker(new URL('../../workers/catalog.worker.ts', import.meta.url), { type: 'module' })
      made.onmessage = ({ data }: MessageEvent<FromCatalog>) => {
        const who = waiting.current.get(data.id)
        waiting.current.delete(data.id)
        if (data.ok) who?.resolve(data.value as never)
        else who?.reject(new Error(data.message))
      }
      made.onerror = () => {
        for (const who of waiting.current.values()) who.reject(new Error('the worker did not start'))
        waiting.current.clear()
      }
      worker.current = made
    }
    worker.current.postMessage(message)
  }, [])
  useEffect(
    () => () => {
      worker.current?.terminate()
      worker.current = null
      opened.current = ''
    },
    [],
  )

  return useCallback(
    (question) => {
      const entries = encoded.map(decodeEntry)
      if (opened.current !== hash) {
        opened.current = hash
        send({ type: 'open', snapshotUrl: `${location.origin}/api/snapshots/${hash}`, entries })
      } else send({ type: 'entries', entries })
      next.current += 1
      const id = next.current
      return new Promise((resolve, reject) => {
        waiting.current.set(id, { resolve, reject })
        send({ type: 'ask', id, question })
      })
    },
    [hash, encoded, send],
  )
}
