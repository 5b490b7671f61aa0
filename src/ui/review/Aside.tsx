'use client'

import { Areas } from './Areas.tsx'
import { BulkRuling } from './BulkRuling.tsx'
import { Day } from './Day.tsx'
import { Evidence } from './Evidence.tsx'
import { Help } from './Help.tsx'
import type { RunLook } from './Looks.tsx'
import { Names } from './Names.tsx'
import { Opening } from './Opening.tsx'
import { RowOrder } from './RowOrder.tsx'
import { Sealing } from './Sealing.tsx'
import type { Desk } from './useDesk.ts'

/** What stands in the place of the evidence. */
export type AsideKind = 'names' | 'areas' | 'bulk' | 'day' | 'help' | 'seal' | 'order' | null

interface Props {
  readonly projectId: string
  /** What of the source was not read, a sentence each. */
  readonly unread: readonly string[]
  readonly onSeal: () => void
  readonly desk: Desk
  readonly aside: AsideKind
  readonly onAside: (aside: AsideKind) => void
  /** Chooses a finding, and opens the one ruling for all alike. */
  readonly onBulk: (id: string) => void
  readonly editing: string | null
  readonly onEdit: (key: string | null) => void
  readonly run: RunLook
}

/** The right of the desk: evidence for what is chosen, or what was opened in its place. */
export function Aside({ projectId, unread, onSeal, desk, aside, onAside, onBulk, editing, onEdit, run }: Props) {
  const { review, docket, chosen, rule } = desk
  const { view } = review
  const close = () => onAside(null)
  if (aside === 'help') return <Help onClose={close} />
  if (view && aside === 'bulk' && chosen !== null)
    return (
      <BulkRuling
        key={chosen}
        id={chosen}
        head={view.head}
        ask={review.bulk}
        onRule={(entries) => void rule(entries).then((taken) => taken && close())}
        onClose={close}
      />
    )
  if (view && aside === 'seal') return <Sealing view={view} onSelect={desk.select} onSeal={onSeal} onClose={close} />
  if (view && aside === 'areas')
    return <Areas view={view} chosen={chosen} split={review.split} onAppend={review.append} onUndo={() => void review.undo()} onClose={close} />
  if (view && aside === 'order') return <RowOrder head={view.head} order={review.order} onSelect={desk.select} onClose={close} />
  if (view && aside === 'names')
    return (
      <Names
        naming={view.naming}
        head={view.head}
        preview={review.preview}
        onAppend={review.append}
        onTakeBack={(seq) => void review.takeBack(seq)}
        onClose={close}
      />
    )
  if (view && aside === 'day')
    return (
      <Day
        view={view}
        onArea={(area) => docket.change({ area, order: 'by area' })}
        onFresh={() => docket.change({ fresh: true, show: 'relationships' })}
        onStop={desk.stop}
        onAppend={rule}
        onClose={close}
      />
    )
  // What is chosen may be gone, or of another snapshot.
  const isKnown = chosen !== null && (review.selection.id !== chosen || review.selection.detail !== null)
  if (view && !isKnown)
    return (
      <Opening
        projectId={projectId}
        view={view}
        unread={unread}
        onSelect={desk.work}
        onArea={(area) => docket.change({ area, show: 'waiting' })}
        onBulk={onBulk}
      />
    )
  return (
    <Evidence
      detail={review.selection.detail}
      reading={chosen !== null && review.selection.id === null}
      sheets={desk.sheets}
      editing={editing}
      onEdit={onEdit}
      onAppend={rule}
      onTakeBack={(seq) => void review.takeBack(seq)}
      onSelect={desk.select}
      check={review.checkRename}
      run={run}
      onBulk={() => onAside('bulk')}
    />
  )
}
