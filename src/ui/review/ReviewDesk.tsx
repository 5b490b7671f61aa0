'use client'

import { useRouter } from 'next/navigation'
import { useCallback, useEffect, useState } from 'react'
import type { RenameQuestion } from '../../core/lineage/index.ts'
import { post, type Wording } from '../common/api.ts'
import { Complaint } from '../common/Complaint.tsx'
import type { JobView } from '../common/job.ts'
import { Docket } from './Docket.tsx'
import { Evidence, nameKey } from './Evidence.tsx'
import { FormerNames } from './FormerNames.tsx'
import { RowsRead } from './RowsRead.tsx'
import { StrataMap } from './StrataMap.tsx'
import { useDocket } from './useDocket.ts'
import { useKeys } from './useKeys.ts'
import { useReview } from './useReview.ts'

interface Props {
  readonly projectId: string
  readonly hash: string
  /** Hash of what the newest reading of rows said; null where none was made. */
  readonly rows: string | null
  /** Does the source have rows that can be read? */
  readonly hasRows: boolean
  readonly rowsJob: JobView | null
  readonly statistics: string
  readonly entries: readonly unknown[]
  /** Rulings whose subject is gone. */
  readonly questions: readonly RenameQuestion[]
  /** Ledger position of the last sealed revision. */
  readonly sealed: number | null
  readonly initial: string | null
}

/** Docket, map and evidence on one selection, which the address names. */
export function ReviewDesk({ projectId, hash, rows, hasRows, rowsJob, statistics, entries, questions, sealed, initial }: Props) {
  const router = useRouter()
  const review = useReview(projectId, hash, rows, statistics, entries, initial)
  const docket = useDocket(review.view?.docket ?? [])
  const [editing, setEditing] = useState<string | null>(null)
  const [sealWording, setSealWording] = useState<Wording | null>(null)
  const { detail, id: selected } = review.selection
  const reviewSelect = review.select

  /** A click is a step one can go back to; walking with keys replaces the address. */
  const select = useCallback(
    (id: string, walk = false) => {
      setEditing(null)
      reviewSelect(id)
      const url = `${location.pathname}?at=${encodeURIComponent(id)}`
      if (walk) window.history.replaceState(null, '', url)
      else window.history.pushState(null, '', url)
    },
    [reviewSelect],
  )
  useEffect(() => {
    const back = () => reviewSelect(new URL(location.href).searchParams.get('at'))
    window.addEventListener('popstate', back)
    return () => window.removeEventListener('popstate', back)
  }, [reviewSelect])

  const walk = (step: number) => {
    const at = docket.items.findIndex((i) => i.id === selected)
    const next = docket.items[at < 0 ? 0 : Math.min(docket.items.length - 1, Math.max(0, at + step))]
    if (next) select(next.id, true)
  }
  const rename = () => {
    const name = detail?.relationship?.from.name ?? detail?.names[0]
    if (name) setEditing(nameKey(name))
  }
  useKeys({
    j: () => walk(1),
    k: () => walk(-1),
    arrowdown: () => walk(1),
    arrowup: () => walk(-1),
    a: () => detail && void review.append([detail.accept]),
    x: () => detail?.reject && void review.append([detail.reject]),
    e: () => {
      const other = detail && detail.choices.length > 1 ? detail.choices.find((c) => !c.taken) : undefined
      if (other) void review.append([other.entry])
    },
    m: rename,
    q: () => {
      const box = document.getElementById('ask')
      if (box instanceof HTMLDetailsElement) box.open = true
      document.getElementById('ask-whom')?.focus()
    },
    u: () => void review.undo(),
    '/': () => document.getElementById('docket-search')?.focus(),
  })

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
            {hasRows && review.view ? <RowsRead projectId={projectId} rows={review.view.rows} job={rowsJob} /> : null}
          </>
        }
        items={docket.items}
        counts={docket.counts}
        filter={docket.filter}
        onFilter={docket.setFilter}
        search={docket.search}
        onSearch={docket.setSearch}
        selected={selected}
        onSelect={select}
      />
      <div className="grid min-h-0 grid-rows-[auto_minmax(0,1fr)]">
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
            onClick={seal}
            disabled={review.view === null || sealed === review.view.head}
            title="Fix this state: outputs name it, and what needs no ruling is settled"
          >
            Seal revision
          </button>
        </div>
        {review.view ? (
          <StrataMap scene={review.view.scene} selected={selected} plates={review.selection.plates} onSelect={select} />
        ) : (
          <p className="p-6 font-serif text-base text-soft">Reading the snapshot and finding its relationships …</p>
        )}
      </div>
      <Evidence
        detail={detail}
        editing={editing}
        onEdit={setEditing}
        onAppend={review.append}
        onTakeBack={(seq) => void review.takeBack(seq)}
        onSelect={select}
      />
    </main>
  )
}
