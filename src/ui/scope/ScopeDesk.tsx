'use client'

import { useRouter } from 'next/navigation'
import { useEffect, useMemo, useState } from 'react'
import { matchesPattern, type ScopeRow, type ScopeView } from '../../core/scope/index.ts'
import { post, type Wording } from '../common/api.ts'
import { Complaint } from '../common/Complaint.tsx'
import { Pane } from '../common/Pane.tsx'
import { useCatalog } from '../common/useCatalog.ts'
import { choose, chooseSchema, editsOfDraft, type ScopeDraft, takesPart } from './draft.ts'
import { ScopeList } from './ScopeList.tsx'
import { ScopeSide } from './ScopeSide.tsx'

interface Props {
  readonly projectId: string
  readonly hash: string
  readonly entries: readonly unknown[]
}

const none: ScopeDraft = new Map()
const noRows: readonly ScopeRow[] = []

/** `*` and `?` make the text a pattern for whole names; without them it is looked for anywhere. */
function matching(rows: readonly ScopeRow[], search: string): readonly ScopeRow[] {
  const text = search.trim().toLowerCase()
  if (text === '') return rows
  if (/[*?]/.test(text)) return rows.filter((r) => matchesPattern(text, r))
  return rows.filter((r) => `${r.schema}.${r.name}`.toLowerCase().includes(text))
}

/** What takes part: chosen here, kept as one ledger entry. Left out of the model and the code, never of a plan. */
export function ScopeDesk({ projectId, hash, entries }: Props) {
  const router = useRouter()
  const ask = useCatalog(hash, entries)
  const [view, setView] = useState<ScopeView | null>(null)
  const rows = view?.rows ?? noRows
  const [draft, setDraft] = useState<ScopeDraft>(none)
  const [search, setSearch] = useState('')
  const [wording, setWording] = useState<Wording | null>(null)
  const [busy, setBusy] = useState(false)

  useEffect(() => {
    let current = true
    ask({ ask: 'scope' }).then(
      (found) => current && setView(found),
      (error: Error) => setWording({ message: 'the snapshot could not be read', detail: error.message, hint: 'Reload the page.' }),
    )
    return () => {
      current = false
    }
  }, [ask])

  const shown = useMemo(() => matching(rows, search), [rows, search])
  const record = async () => {
    setBusy(true)
    const answer = await post(`/api/projects/${projectId}/ledger`, {
      entries: [{ kind: 'scope', edits: editsOfDraft(draft), note: null }],
      seen: entries.length,
    })
    setBusy(false)
    setWording(answer.ok ? null : answer.wording)
    if (!answer.ok) return
    setDraft(none)
    router.refresh()
  }
  const onlyNeighbours = async (subject: string, distance: number) => {
    const near = new Set(await ask({ ask: 'neighbours', subject, distance }))
    setDraft(
      choose(
        draft,
        rows.filter((r) => r.kind !== 'routine'),
        (r) => (near.has(r.id) ? 'in' : 'out'),
      ),
    )
  }
  if (view === null) return <main className="px-6 py-6">{wording ? <Complaint wording={wording} /> : <p>Reading the snapshot …</p>}</main>
  const every = (value: 'in' | 'out') => setDraft(choose(draft, shown, () => value))
  return (
    <main className="grid h-full min-h-0 grid-cols-[1fr_22rem]">
      <section className="flex min-h-0 flex-col border-r border-rule">
        <div className="border-b border-rule px-5 pt-4 pb-3">
          <h1 className="text-2xl">Scope</h1>
          <p className="font-serif text-base text-soft">What takes part in the model and the code. Nothing is left out of the baseline.</p>
          <div className="mt-2 flex items-center gap-2">
            <input
              className="input input-sm w-72"
              placeholder="Search; * and ? make a pattern"
              aria-label="Search the scope"
              value={search}
              onChange={(e) => setSearch(e.target.value)}
            />
            <span className="w-20 text-soft">{shown.length.toLocaleString('en')} shown</span>
            <button type="button" className="btn btn-sm" onClick={() => every('in')} disabled={shown.length === 0}>
              Take in {search.trim() === '' ? 'all' : 'these'}
            </button>
            <button type="button" className="btn btn-sm" onClick={() => every('out')} disabled={shown.length === 0}>
              Leave out {search.trim() === '' ? 'all' : 'these'}
            </button>
          </div>
        </div>
        <Pane>
          <ScopeList
            rows={shown}
            draft={draft}
            search={search}
            columnsOf={(subject) => ask({ ask: 'columns', subject })}
            onRow={(row) => setDraft(choose(draft, [row], (r) => (takesPart(r, draft) ? 'out' : 'in')))}
            onSchema={(schema, value) => setDraft(chooseSchema(draft, rows, schema, value))}
            onColumn={(id, was, value) => {
              const next = new Map(draft)
              if (was === value) next.delete(id)
              else next.set(id, value)
              setDraft(next)
            }}
          />
        </Pane>
      </section>
      <Pane>
        <ScopeSide
          view={view}
          draft={draft}
          busy={busy}
          wording={wording}
          onTake={(proposed) => setDraft(choose(draft, proposed, () => 'out'))}
          onNeighbours={(subject, distance) => void onlyNeighbours(subject, distance)}
          onRecord={() => void record()}
          onForget={() => setDraft(none)}
        />
      </Pane>
    </main>
  )
}
