'use client'

import type { ReviewView } from '../../core/review/index.ts'
import type { AsideKind } from './Aside.tsx'

interface Props {
  readonly view: ReviewView | null
  readonly sheets: boolean
  readonly canSheet: boolean
  readonly onSheets: () => void
  readonly aside: AsideKind
  readonly onAside: (aside: NonNullable<AsideKind>) => void
  readonly sealed: number | null
}

function standing(view: ReviewView | null, sealed: number | null): string {
  if (sealed === null) return 'not sealed yet'
  return view && sealed === view.head ? `sealed at ${sealed}` : `sealed at ${sealed}, changed since`
}

/** What the middle of the desk shows, and what the desk can open. */
export function DeskHead({ view, sheets, canSheet, onSheets, aside, onAside, sealed }: Props) {
  const counts = view && !sheets ? `${view.scene.plates.length} plates, ${view.scene.lines.length} lines, ${view.scene.beads.length} beads` : ''
  return (
    <div className="flex flex-wrap items-baseline gap-x-2 gap-y-1 border-b border-rule px-3 py-1.5">
      <h2 className="text-lg">{sheets ? 'Sheet' : 'Strata'}</h2>
      <span className="hidden text-soft 2xl:inline">{counts}</span>
      <span className="ml-auto text-soft">{standing(view, sealed)}</span>
      <Opens
        letter="O"
        label="Sheet"
        title="Columns in the place of the map: of a class, or of both ends"
        open={sheets}
        onClick={onSheets}
        disabled={!canSheet}
      />
      <Opens letter="D" label="Day" title="How far the review is, and a place to stop" open={aside === 'day'} onClick={() => onAside('day')} />
      <Opens letter="N" label="Names" title="Naming rules: what names are proposed by" open={aside === 'names'} onClick={() => onAside('names')} />
      <Opens
        letter="R"
        label="Areas"
        title="Rename, join and split areas of the map, and move tables"
        open={aside === 'areas'}
        onClick={() => onAside('areas')}
      />
      <Opens letter="L" label="Order" title="In what order rows go in and out" open={aside === 'order'} onClick={() => onAside('order')} />
      <Opens letter="H" label="Keys" title="All keys" open={aside === 'help'} onClick={() => onAside('help')} />
      <button
        type="button"
        className="btn btn-xs"
        aria-pressed={aside === 'seal'}
        onClick={() => onAside('seal')}
        disabled={view === null || sealed === view.head}
        title="Fix this state: outputs name it, and what needs no ruling is settled"
      >
        Seal
      </button>
    </div>
  )
}

interface OpensProps {
  readonly letter: string
  readonly label: string
  readonly title: string
  readonly open: boolean
  readonly disabled?: boolean
  readonly onClick: () => void
}

/** A button that opens something and shows whether it is, with its key. */
function Opens({ letter, label, title, open, disabled = false, onClick }: OpensProps) {
  return (
    <button type="button" className="btn btn-xs" aria-pressed={open} onClick={onClick} disabled={disabled} title={title}>
      <span className="key">{letter}</span> {label}
    </button>
  )
}
