'use client'

import { useSearchParams } from 'next/navigation'
import { useCallback, useEffect, useRef, useState } from 'react'
import type { EntryBody } from '../../core/model/index.ts'
import type { DocketItem, Place } from '../../core/review/index.ts'
import type { SelectionView } from '../../workers/messages.ts'
import { isLeaving } from '../common/leaving.ts'
import { useDocket } from './useDocket.ts'
import { placeOf, usePlace } from './usePlace.ts'
import { useReview, type Visitor } from './useReview.ts'

interface Of {
  readonly projectId: string
  readonly hash: string
  readonly findings: string | null
  readonly rows: string | null
  readonly statistics: string
  readonly entries: readonly unknown[]
  readonly visitor: Visitor
  readonly place: Place
}

/** How a selection came about. `step`: a click, which one can go back from. `walk`: a key; it replaces the address. */
export type How = 'step' | 'walk'

/** Docket, map and evidence on one selection, which the address names, and what acts on it. */
export function useDesk({ projectId, hash, findings, rows, statistics, entries, visitor, place }: Of) {
  const params = useSearchParams()
  const address = params.get('at')
  const [begun] = useState(() => placeOf(projectId, place))
  const [initial] = useState(address ?? begun.at)
  const review = useReview(projectId, hash, findings, rows, statistics, entries, initial, visitor)
  const docket = useDocket(review.view, { ...begun.docket, search: '' })
  /** What is chosen now; the worker's answer with what is known of it follows. */
  const [chosen, setChosen] = useState(initial)
  /** The finding of the docket that was worked on last: one comes back to it from wherever a question led. */
  const [working, setWorking] = useState(begun.working)
  const visit = usePlace(projectId, { docket: docket.arrangement, at: chosen, working }, review.view?.head ?? 0)
  const { select: reviewSelect, wantSheets, shown, refreshing } = review
  /** Sheets in the place of the map; the address says so. */
  const [sheets, setSheets] = useState(params.get('show') === 'sheet')
  useEffect(() => wantSheets(sheets), [sheets, wantSheets])

  // What runs later reads the desk as it is then, not as it was when its key was pressed.
  const now = useRef({ docket, chosen, review })
  now.current = { docket, chosen, review }

  // The address is written once no refresh is under way: Next loads the page anew where it changes while one is.
  // Who comes without saying where goes on where they were.
  const [wanted, setWanted] = useState<{ readonly id: string; readonly how: How } | null>(() =>
    address === null && initial !== null ? { id: initial, how: 'walk' } : null,
  )
  const written = useRef(address)
  const select = useCallback(
    (id: string, how: How = 'step') => {
      setChosen(id)
      reviewSelect(id)
      setWanted((before) => ({ id, how: before?.how === 'step' ? 'step' : how }))
    },
    [reviewSelect],
  )
  useEffect(() => {
    if (wanted === null || refreshing) return
    if (isLeaving()) return setWanted(null)
    written.current = wanted.id
    const url = `${location.pathname}?at=${encodeURIComponent(wanted.id)}${sheets ? '&show=sheet' : ''}`
    if (wanted.how === 'walk') window.history.replaceState(null, '', url)
    else window.history.pushState(null, '', url)
    setWanted(null)
  }, [wanted, refreshing, sheets])
  // Whoever leaves by a link leaves: an address written now would take the place of where they go.
  useEffect(() => {
    const leave = (event: MouseEvent) => {
      if ((event.target as Element).closest('a[href]')) setWanted(null)
    }
    document.addEventListener('click', leave, true)
    return () => document.removeEventListener('click', leave, true)
  }, [])
  // Going back, a link and the palette change the address from outside.
  useEffect(() => {
    if (address === written.current) return
    written.current = address
    // The link to Review says no place: what is chosen stays so.
    if (address === null) setWanted((before) => before ?? (now.current.chosen === null ? null : { id: now.current.chosen, how: 'walk' }))
    else {
      setChosen(address)
      reviewSelect(address)
    }
  }, [address, reviewSelect])

  /** Chosen in the docket: the place of the work goes there. */
  const work = useCallback(
    (id: string, how: How = 'step') => {
      setWorking(id)
      select(id, how)
    },
    [select],
  )

  const keys = useRef({ last: Promise.resolve() as Promise<unknown>, waiting: 0, writing: false, typed: '' })
  const walk = (step: number) => {
    const { items } = docket
    const at = items.findIndex((i) => i.id === chosen)
    const next = items[at < 0 ? 0 : Math.min(items.length - 1, Math.max(0, at + step))]
    if (next) work(next.id, 'walk')
  }
  /** The next finding that waits, after this one and then from the top, without those ruled on right now; null where there is no other. */
  const nextWaiting = (ruled: ReadonlySet<string> = new Set()): DocketItem | null => {
    const { docket: d, chosen: here } = now.current
    const at = d.items.findIndex((i) => i.id === here)
    const waits = (i: DocketItem) => i.id !== here && !ruled.has(i.id) && (i.status === 'open' || i.changed)
    return d.items.slice(at + 1).find(waits) ?? d.items.find(waits) ?? null
  }
  /** Rules, and goes on where what is ruled on leaves the list: one key a ruling. */
  const rule = async (bodies: readonly EntryBody[]) => {
    const ruled = new Set(bodies.flatMap((e) => (e.kind === 'rule' ? [e.finding] : [])))
    const here = now.current.chosen
    const next = now.current.docket.arrangement.show === 'waiting' && ruled.size > 0 ? nextWaiting(ruled) : null
    if (here !== null && ruled.has(here)) setWorking(here)
    const taken = await now.current.review.append(bodies)
    // Whoever has gone elsewhere meanwhile stays there.
    if (taken && next && now.current.chosen === here) work(next.id, 'walk')
    return taken
  }
  /**
   * One key after the other, each on what the one before it came to: typed ahead, none acts on what is no longer chosen. `writes`: it opens a
   * field to write in; what is typed until it stands is text for it, and no commands.
   */
  const act = (what: (shown: SelectionView) => unknown, writes = false) => {
    const k = keys.current
    if (k.waiting === 0 && review.isSettled()) {
      const begun = what(review.selection)
      if (!(begun instanceof Promise)) return
      k.waiting += 1
      k.last = begun.catch(reportError).finally(() => {
        k.waiting -= 1
      })
      return
    }
    k.waiting += 1
    k.writing ||= writes
    k.last = k.last
      .then(async () => what(await shown()))
      .catch(reportError)
      .finally(() => {
        k.waiting -= 1
        // The field is there once React has drawn it.
        if (writes)
          requestAnimationFrame(() => {
            if (k.typed !== '') document.execCommand('insertText', false, k.typed)
            k.typed = ''
            k.writing = false
          })
      })
  }
  /** Text typed while its field is on its way; gives whether there is one. */
  const typeAhead = (key: string): boolean => {
    if (keys.current.writing && key.length === 1) keys.current.typed += key
    return keys.current.writing
  }
  const skip = () => {
    const next = nextWaiting()
    if (next) work(next.id, 'walk')
  }
  const toggleSheets = () => {
    if (chosen === null) return
    setSheets(!sheets)
    setWanted({ id: chosen, how: 'walk' })
  }
  const back = () => {
    if (working !== null) select(working)
  }
  return { review, docket, chosen, working, select, work, walk, rule, act, typeAhead, skip, back, sheets, toggleSheets, stop: visit.stop }
}

export type Desk = ReturnType<typeof useDesk>
