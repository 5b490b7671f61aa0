'use client'

import { useRouter } from 'next/navigation'
import { useMemo, useRef, useState } from 'react'
import type { RenameQuestion } from '../../core/lineage/index.ts'
import type { Place } from '../../core/review/index.ts'
import { type Direction, stepOnMap } from '../../core/strata/index.ts'
import { post, type Wording } from '../common/api.ts'
import { Complaint } from '../common/Complaint.tsx'
import type { JobView } from '../common/job.ts'
import { deeper, MapBar } from '../map/MapBar.tsx'
import { type MapHandle, StrataMap } from '../map/StrataMap.tsx'
import { useMapWish } from '../map/useMapWish.ts'
import { BulkRuling } from './BulkRuling.tsx'
import { Day } from './Day.tsx'
import { Docket } from './Docket.tsx'
import { Evidence, nameKey } from './Evidence.tsx'
import { FormerNames } from './FormerNames.tsx'
import { runLookOf } from './Looks.tsx'
import { Names } from './Names.tsx'
import { RowsRead } from './RowsRead.tsx'
import { useDesk } from './useDesk.ts'
import { useKeys } from './useKeys.ts'
import type { Visitor } from './useReview.ts'

interface Props {
  readonly projectId: string
  readonly hash: string
  /** Hash of what the newest reading of rows said; null where none was made. */
  readonly rows: string | null
  /** Does the source have rows that the server can read? Those of an SQLite file are read in the browser. */
  readonly hasRows: boolean
  readonly rowsJob: JobView | null
  readonly statistics: string
  readonly entries: readonly unknown[]
  /** Rulings whose subject is gone. */
  readonly questions: readonly RenameQuestion[]
  /** Ledger position of the last sealed revision. */
  readonly sealed: number | null
  readonly visitor: Visitor
  readonly place: Place
}

/** Opens a folded form and goes to its field. */
function openBox(box: string, field: string): void {
  const details = document.getElementById(box)
  if (details instanceof HTMLDetailsElement) details.open = true
  document.getElementById(field)?.focus()
}

/** Docket, map and evidence on one selection. */
export function ReviewDesk({ projectId, hash, rows, hasRows, rowsJob, statistics, entries, questions, sealed, visitor, place }: Props) {
  const router = useRouter()
  const desk = useDesk({ projectId, hash, rows, statistics, entries, visitor, place })
  const { review, docket, chosen, rule, act } = desk
  const [editing, setEditing] = useState<string | null>(null)
  /** What stands in the place of the evidence. */
  const [aside, setAside] = useState<'names' | 'bulk' | 'day' | null>(null)
  const [sealWording, setSealWording] = useState<Wording | null>(null)
  const { detail } = review.selection
  const run = useMemo(() => (hasRows ? runLookOf(projectId) : null), [hasRows, projectId])
  const map = useRef<MapHandle>(null)
  const onMap = useMapWish(review, chosen, 'Strata map')
  const stepTo = (direction: Direction) => {
    const next = review.view ? stepOnMap(review.view.scene, chosen, direction) : null
    if (next !== null) desk.select(next, 'walk')
  }
  const toggle = (what: typeof aside) => setAside((before) => (before === what ? null : what))
  // Another choice closes what was open for the one before.
  const [of, setOf] = useState(chosen)
  if (of !== chosen) {
    setOf(chosen)
    setEditing(null)
    setAside(null)
  }
  useKeys(
    {
      j: () => desk.walk(1),
      k: () => desk.walk(-1),
      arrowdown: () => desk.walk(1),
      arrowup: () => desk.walk(-1),
      a: () => act(({ detail: d }) => d && rule([d.accept])),
      x: () => act(({ detail: d }) => d?.reject && rule([d.reject])),
      e: () =>
        act(({ detail: d }) => {
          const other = d && d.choices.length > 1 ? d.choices.find((c) => !c.taken) : undefined
          return other && rule([other.entry])
        }),
      s: () => act(desk.skip),
      m: () =>
        act(({ detail: d }) => {
          const name = d?.relationship?.from.name ?? d?.names[0]
          if (name) setEditing(nameKey(name))
        }, true),
      q: () => act(() => openBox('ask', 'ask-whom'), true),
      t: () => act(() => openBox('note', 'note-text'), true),
      u: () => act(() => review.undo()),
      b: () => act(({ detail: d }) => d?.alike && toggle('bulk')),
      p: desk.back,
      n: () => toggle('names'),
      d: () => toggle('day'),
      f: () => act(onMap.focus),
      w: () => act(onMap.way),
      g: () => act(() => map.current?.go()),
      '[': () => onMap.wish.focus && onMap.show(deeper(onMap.wish, -1)),
      ']': () => onMap.wish.focus && onMap.show(deeper(onMap.wish, 1)),
      arrowleft: () => stepTo('left'),
      arrowright: () => stepTo('right'),
      'shift+arrowup': () => stepTo('up'),
      'shift+arrowdown': () => stepTo('down'),
      escape: () => (aside === null ? onMap.all() : setAside(null)),
      '/': () => document.getElementById('docket-search')?.focus(),
    },
    desk.typeAhead,
  )

  const seal = () =>
    void post<{ ledger: number }>(`/api/projects/${projectId}/seal`, {}).then((answer) => {
      setSealWording(answer.ok ? null : answer.wording)
      if (answer.ok) router.refresh()
    })
  const wording = review.wording ?? sealWording
  return (
    <main className="grid h-full grid-cols-[300px_minmax(0,1fr)_340px] grid-rows-[auto_minmax(0,1fr)]">
      <div className="col-span-3">
        {wording ? (
          <div className="flex items-start border-b border-rule">
            <div className="flex-1">
              <Complaint wording={wording} />
            </div>
            <button
              type="button"
              className="btn btn-xs m-2"
              onClick={() => {
                review.dismiss()
                setSealWording(null)
              }}
            >
              Close
            </button>
          </div>
        ) : null}
      </div>
      <Docket
        before={
          <>
            {questions.length > 0 ? <FormerNames questions={questions} onAnswer={(entry) => void review.append([entry])} /> : null}
            {review.view && (hasRows || review.view.rows.dialect === 'sqlite') ? (
              <RowsRead projectId={projectId} snapshot={hash} rows={review.view.rows} job={rowsJob} />
            ) : null}
          </>
        }
        docket={docket}
        selected={chosen}
        onSelect={desk.work}
        since={review.view?.since ?? null}
        back={desk.working !== null && desk.working !== chosen ? desk.back : null}
      />
      <div className="grid min-h-0 grid-rows-[auto_auto_minmax(0,1fr)]">
        <div className="flex items-baseline gap-3 border-b border-rule px-3 py-1.5">
          <h2 className="text-lg">Strata</h2>
          <span className="text-soft">
            {review.view ? `${review.view.scene.plates.length} plates, ${review.view.scene.lines.length} lines, ${review.view.scene.beads.length} beads` : ''}
          </span>
          <span className="ml-auto text-soft">
            {sealed === null ? 'not sealed yet' : review.view && sealed === review.view.head ? `sealed at ${sealed}` : `sealed at ${sealed}, changed since`}
          </span>
          <button
            type="button"
            className="btn btn-xs"
            aria-pressed={aside === 'day'}
            onClick={() => toggle('day')}
            title="How far the review is, and a place to stop"
          >
            <span className="key">D</span> Day
          </button>
          <button
            type="button"
            className="btn btn-xs"
            aria-pressed={aside === 'names'}
            onClick={() => toggle('names')}
            title="Rules that names are proposed by"
          >
            <span className="key">N</span> Naming rules
          </button>
          <button
            type="button"
            className="btn btn-xs"
            onClick={seal}
            disabled={review.view === null || sealed === review.view.head}
            title="Fix this state: outputs name it, and what needs no ruling is settled"
          >
            Seal revision
          </button>
        </div>
        {review.view ? (
          <MapBar
            wish={onMap.wish}
            onWish={onMap.show}
            entities={review.view.entities}
            areas={review.view.areas}
            onFind={(id) => desk.select(`entity:${id}`)}
            onFocus={() => act(onMap.focus)}
            onWay={() => act(onMap.way)}
            wayFrom={onMap.wayFrom}
            onExport={onMap.save}
          />
        ) : (
          <div />
        )}
        {review.view ? (
          <StrataMap
            ref={map}
            scene={review.view.scene}
            selected={chosen}
            plates={review.selection.plates}
            progress={review.view.progress}
            onSelect={desk.select}
          />
        ) : (
          <p className="p-6 font-serif text-base text-soft">Reading the snapshot and finding its relationships …</p>
        )}
      </div>
      {aside === 'bulk' && chosen !== null && review.view ? (
        <BulkRuling
          key={chosen}
          id={chosen}
          head={review.view.head}
          ask={review.bulk}
          onRule={(entries) => void rule(entries).then((taken) => taken && setAside(null))}
          onClose={() => setAside(null)}
        />
      ) : aside === 'names' && review.view ? (
        <Names
          naming={review.view.naming}
          head={review.view.head}
          preview={review.preview}
          onAppend={review.append}
          onTakeBack={(seq) => void review.takeBack(seq)}
          onClose={() => setAside(null)}
        />
      ) : aside === 'day' && review.view ? (
        <Day
          view={review.view}
          onArea={(area) => docket.change({ area, order: 'by area' })}
          onFresh={() => docket.change({ fresh: true, show: 'relationships' })}
          onStop={desk.stop}
          onClose={() => setAside(null)}
        />
      ) : (
        <Evidence
          detail={detail}
          editing={editing}
          onEdit={setEditing}
          onAppend={rule}
          onTakeBack={(seq) => void review.takeBack(seq)}
          onSelect={desk.select}
          check={review.checkRename}
          run={run}
          onBulk={() => setAside('bulk')}
        />
      )}
    </main>
  )
}
