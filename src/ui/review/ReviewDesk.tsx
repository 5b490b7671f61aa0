'use client'

import { useRouter } from 'next/navigation'
import { type RefObject, useLayoutEffect, useMemo, useRef, useState } from 'react'
import type { RenameQuestion } from '../../core/lineage/index.ts'
import type { Place } from '../../core/review/index.ts'
import { type Direction, stepOnMap } from '../../core/strata/index.ts'
import { useAskChange } from '../change/Asking.tsx'
import { post, type Wording } from '../common/api.ts'
import { Complaint } from '../common/Complaint.tsx'
import type { JobView } from '../common/job.ts'
import { Pane } from '../common/Pane.tsx'
import { tellCounts } from '../frame/counts.ts'
import { deeper, MapBar } from '../map/MapBar.tsx'
import { type MapHandle, StrataMap } from '../map/StrataMap.tsx'
import { useMapWish } from '../map/useMapWish.ts'
import { Aside, type AsideKind } from './Aside.tsx'
import { areaRenaming } from './areaRenaming.ts'
import { DeskHead } from './DeskHead.tsx'
import { Docket } from './Docket.tsx'
import { nameKey } from './Evidence.tsx'
import { FormerNames } from './FormerNames.tsx'
import { runLookOf } from './Looks.tsx'
import { RowsRead } from './RowsRead.tsx'
import { Sheets } from './Sheets.tsx'
import { type Desk, useDesk } from './useDesk.ts'
import { useKeys } from './useKeys.ts'
import { usePanes } from './usePanes.ts'
import type { Visitor } from './useReview.ts'

interface Props {
  readonly projectId: string
  readonly hash: string
  /** Key of the findings as the server has them; null where it has none. */
  readonly findings: string | null
  /** Hash of what the newest reading of rows said; null where none was made. */
  readonly rows: string | null
  /** Does the source have rows that the server can read? Those of an SQLite file are read in the browser. */
  readonly hasRows: boolean
  readonly rowsJob: JobView | null
  /** What of the source was not read, a sentence each. */
  readonly unread: readonly string[]
  readonly statistics: string
  readonly entries: readonly unknown[]
  /** Rulings whose subject is gone. */
  readonly questions: readonly RenameQuestion[]
  /** Ledger position of the last sealed revision. */
  readonly sealed: number | null
  readonly visitor: Visitor
  readonly place: Place
  /** Operations of stores that people's own files override, by entity. */
  readonly overridden: Readonly<Record<string, readonly string[]>>
}

/** Opens a folded form and goes to its field. */
function openBox(box: string, field: string): void {
  const details = document.getElementById(box)
  if (details instanceof HTMLDetailsElement) details.open = true
  document.getElementById(field)?.focus()
}

/** Docket, map and evidence on one selection. */
export function ReviewDesk({
  projectId,
  hash,
  findings,
  rows,
  hasRows,
  rowsJob,
  unread,
  statistics,
  entries,
  questions,
  sealed,
  visitor,
  place,
  overridden,
}: Props) {
  const router = useRouter()
  const desk = useDesk({ projectId, hash, findings, rows, statistics, entries, visitor, place })
  const { review, docket, chosen, rule, act } = desk
  // All that waits in the docket, and the questions above it: the bar says the same.
  const waiting = docket.counts === null ? null : docket.counts.waiting + questions.length
  const { head } = review.view ?? { head: null }
  useLayoutEffect(() => {
    if (head !== null) tellCounts(projectId, { open: waiting, entries: head })
  }, [projectId, waiting, head])
  const [editing, setEditing] = useState<string | null>(null)
  /** What stands in the place of the evidence. */
  const [aside, setAside] = useState<AsideKind>(null)
  const { folded, toggle: fold } = usePanes()
  const [sealWording, setSealWording] = useState<Wording | null>(null)
  const run = useMemo(() => (hasRows ? runLookOf(projectId) : null), [hasRows, projectId])
  const map = useRef<MapHandle>(null)
  const askChange = useAskChange()
  const onMap = useMapWish(review, chosen, 'Strata map')
  const stepTo = (direction: Direction) => {
    const next = review.view ? stepOnMap(review.view.scene, chosen, direction) : null
    if (next !== null) desk.select(next, 'walk')
  }
  const toggle = (what: AsideKind) => setAside((before) => (before === what ? null : what))
  // Another choice closes what was open for the one before.
  const [of, setOf] = useState(chosen)
  if (of !== chosen) {
    setOf(chosen)
    setEditing(null)
    // The list of tables is there to walk along.
    setAside((before) => (before === 'order' ? before : null))
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
          return d?.other && rule([d.other.entry])
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
      c: () => act(({ detail: d }) => d?.thing && askChange(d.thing)),
      p: desk.back,
      n: () => toggle('names'),
      r: () => toggle('areas'),
      l: () => toggle('order'),
      d: () => toggle('day'),
      h: () => toggle('help'),
      '?': () => toggle('help'),
      ',': () => fold('docket'),
      '.': () => fold('evidence'),
      f: () => act(onMap.focus),
      w: () => act(onMap.way),
      g: () => act(() => map.current?.go()),
      o: () => act(desk.toggleSheets),
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
      if (!answer.ok) return
      setAside(null)
      router.refresh()
    })
  const wording = review.wording ?? sealWording
  const left = folded.includes('docket') ? '' : 'clamp(250px,23.4vw,400px) '
  const right = folded.includes('evidence') && aside === null ? '' : ' clamp(280px,26.6vw,480px)'
  return (
    <main className="grid h-full grid-rows-[auto_minmax(0,1fr)]" style={{ gridTemplateColumns: `${left}minmax(0,1fr)${right}` }}>
      <div className="col-span-full">
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
      {left === '' ? null : (
        <Pane>
          <Docket
            before={
              <>
                {questions.length > 0 ? <FormerNames questions={questions} onAnswer={(entry) => void review.append([entry])} /> : null}
                {review.view?.rows && (hasRows || review.view.rows.dialect === 'sqlite') ? (
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
        </Pane>
      )}
      <div className="grid min-h-0 min-w-0 grid-rows-[auto_auto_minmax(0,1fr)]">
        <DeskHead
          view={review.view}
          sheets={desk.sheets}
          canSheet={chosen !== null}
          onSheets={() => act(desk.toggleSheets)}
          aside={aside}
          onAside={toggle}
          sealed={sealed}
        />
        <Pane>
          <Middle overridden={overridden} desk={desk} onMap={onMap} map={map} editing={editing} onEdit={setEditing} />
        </Pane>
      </div>
      {right === '' ? null : (
        <Pane of={chosen}>
          <Aside
            projectId={projectId}
            unread={unread}
            onSeal={seal}
            desk={desk}
            aside={aside}
            onAside={setAside}
            onBulk={(id) => {
              desk.work(id)
              setOf(id)
              setAside('bulk')
            }}
            editing={editing}
            onEdit={setEditing}
            run={run}
          />
        </Pane>
      )}
    </main>
  )
}

interface MiddleProps {
  readonly desk: Desk
  readonly onMap: ReturnType<typeof useMapWish>
  readonly map: RefObject<MapHandle | null>
  readonly editing: string | null
  readonly onEdit: (key: string | null) => void
  readonly overridden: Props['overridden']
}

/** The map, or sheets in its place. */
function Middle({ desk, onMap, map, editing, onEdit, overridden }: MiddleProps) {
  const { review, chosen, act } = desk
  const { view } = review
  if (!view)
    return (
      <>
        <div />
        <p className="p-6 font-serif text-base text-soft" role="status">
          {review.doing} …
        </p>
      </>
    )
  if (desk.sheets)
    return (
      <>
        <div />
        <Sheets
          sheets={review.selection.sheets}
          editing={editing}
          onEdit={onEdit}
          onAppend={desk.rule}
          check={review.checkRename}
          onSelect={desk.select}
          overridden={overridden}
        />
      </>
    )
  return (
    <>
      <MapBar
        wish={onMap.wish}
        onWish={onMap.show}
        entities={view.entities}
        areas={view.areas}
        onFind={(id) => desk.select(`entity:${id}`)}
        onFocus={() => act(onMap.focus)}
        onWay={() => act(onMap.way)}
        wayFrom={onMap.wayFrom}
        onExport={onMap.save}
      />
      <StrataMap
        ref={map}
        scene={view.scene}
        selected={chosen}
        plates={review.selection.plates}
        progress={view.progress}
        onSelect={desk.select}
        onViews={(area) => onMap.show({ ...onMap.wish, views: onMap.wish.views === 'all' ? 'all' : [...onMap.wish.views, area] })}
        onShape={review.packMap}
        onRename={(area, name) => {
          const block = view.areaBlocks.find((b) => b.name === area)
          if (block) void review.append(areaRenaming(block, name))
        }}
      />
    </>
  )
}
