'use client'

import type { ReviewView } from '../../workers/messages.ts'
import type { AsideKind } from './Aside.tsx'

interface Props {
  readonly view: ReviewView | null
  readonly sheets: boolean
  readonly canSheet: boolean
  readonly onSheets: () => void
  readonly aside: AsideKind
  readonly onAside: (aside: NonNullable<AsideKind>) => void
  readonly sealed: number | null
  readonly onSeal: () => void
}

function standing(view: ReviewView | null, sealed: number | null): string {
  if (sealed === null) return 'not sealed yet'
  return view && sealed === view.head ? `sealed at ${sealed}` : `sealed at ${sealed}, changed since`
}

/** What the middle of the desk shows, and what the desk can open. */
export function DeskHead({ view, sheets, canSheet, onSheets, aside, onAside, sealed, onSeal }: Props) {
  const counts = view && !sheets ? `${view.scene.plates.length} plates, ${view.scene.lines.length} lines, ${view.scene.beads.length} beads` : ''
  return (
    <div className="flex flex-wrap items-baseline gap-x-2 gap-y-1 border-b border-rule px-3 py-1.5">
      <h2 className="text-lg">{sheets ? 'Sheet' : 'Strata'}</h2>
      <span className="hidden text-soft 2xl:inline">{counts}</span>
      <span className="ml-auto text-soft">{standing(view, sealed)}</span>
      <button
        type="button"
        className="btn btn-xs"
        aria-pressed={sheets}
        onClick={onSheets}
        disabled={!canSheet}
        title="Columns in the place of the map: of a class, or of both ends"
      >
        <span className="key">O</span> Sheet
      </button>
      <button
        type="button"
        className="btn btn-xs"
        aria-pressed={aside === 'day'}
        onClick={() => onAside('day')}
        title="How far the review is, and a place to stop"
      >
        <span className="key">D</span> Day
      </button>
      <button
        type="button"
        className="btn btn-xs"
        aria-pressed={aside === 'names'}
        onClick={() => onAside('names')}
        title="Naming rules: what names are proposed by"
      >
        <span className="key">N</span> Names
      </button>
      <button type="button" className="btn btn-xs" aria-pressed={aside === 'help'} onClick={() => onAside('help')} title="All keys">
        <span className="key">H</span> Keys
      </button>
      <button
        type="button"
        className="btn btn-xs"
        onClick={onSeal}
        disabled={view === null || sealed === view.head}
        title="Fix this state: outputs name it, and what needs no ruling is settled"
      >
        Seal
      </button>
    </div>
  )
}
