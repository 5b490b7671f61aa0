'use client'

import Link from 'next/link'
import { usePathname } from 'next/navigation'
import { useEffect, useState } from 'react'
import { watchConnection } from '../common/events.ts'
import { useLeaving } from '../common/leaving.ts'
import { beginFirstView } from '../review/firstView.ts'
import { useCounts } from './counts.ts'
import { Palette } from './Palette.tsx'
import { ThemeButton } from './ThemeButton.tsx'
import { type Signed, Who } from './Who.tsx'

const stages = [
  ['source', 'Source'],
  ['scope', 'Scope'],
  ['review', 'Review'],
  ['trial', 'Trial'],
  ['code', 'Code'],
  ['plan', 'Plan'],
  ['watch', 'Watch'],
] as const

interface Props {
  readonly id: string
  readonly name: string
  /** Of the newest snapshot; null before the first survey. */
  readonly hash: string | null
  /** Findings that wait; null before the first survey, and where that cannot be told now. */
  readonly open: number | null
  readonly entries: number
  readonly who: Signed | null
}

/** Project, stages with what is open in them, ledger, and who signs. A stage that there is not for an engine says so itself. */
export function ProjectBar({ id, name, hash, who, ...given }: Props) {
  const { open, entries } = useCounts(id, given)
  const path = usePathname()
  useLeaving(path)
  const [lost, setLost] = useState(false)
  useEffect(() => watchConnection(id, setLost), [id])
  const at = path.split('/')[3] ?? ''
  const shown = stages.filter(([stage]) => stage === 'source' || hash !== null)
  return (
    <>
      <header className="flex h-[46px] shrink-0 items-center gap-4 border-b border-ink px-4">
        <Link href="/" className="font-serif text-xl font-semibold">
          Pelvok
        </Link>
        <span className="max-w-64 truncate text-soft" title={name}>
          {name}
        </span>
        <nav aria-label="Stages" className="mx-auto flex h-full items-stretch gap-1">
          {shown.map(([stage, label]) => (
            <Link
              key={stage}
              href={`/p/${id}/${stage}`}
              prefetch={false}
              onClick={() => {
                if (stage === 'review' && at !== stage) beginFirstView(id)
              }}
              aria-current={at === stage ? 'page' : undefined}
              className={`flex items-center gap-1.5 border-b-4 px-3 pt-1 ${at === stage ? 'border-ink font-semibold' : 'border-transparent text-soft hover:text-ink'}`}
            >
              {label}
              {stage === 'review' && open !== null && open > 0 ? <span className="text-[0.86em] font-semibold text-needs">{open} open</span> : null}
            </Link>
          ))}
        </nav>
        {hash === null ? null : (
          <>
            <Palette projectId={id} hash={hash} stages={[...shown, ['catalog', 'Catalog'], ['ledger', 'Ledger']]} />
            <Link
              href={`/p/${id}/catalog`}
              prefetch={false}
              aria-current={at === 'catalog' ? 'page' : undefined}
              className={at === 'catalog' ? 'font-semibold' : 'text-soft hover:text-ink'}
            >
              Catalog
            </Link>
          </>
        )}
        <Link
          href={`/p/${id}/ledger`}
          prefetch={false}
          aria-current={at === 'ledger' ? 'page' : undefined}
          className={at === 'ledger' ? 'font-semibold' : 'text-soft hover:text-ink'}
        >
          Ledger {entries}
        </Link>
        <ThemeButton />
        {who === null ? null : <Who who={who} />}
      </header>
      {lost ? (
        <p role="status" className="shrink-0 border-b border-rule bg-card px-4 py-1 text-needs">
          Pelvok does not answer, or its own database does not. What is shown as kept is kept, and this goes on by itself once they are back.
        </p>
      ) : null}
    </>
  )
}
