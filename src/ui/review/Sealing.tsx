'use client'

import { kindWords, type ReviewView } from '../../core/review/index.ts'
import { amount } from '../../core/text/amount.ts'
import { AsidePane } from './AsidePane.tsx'
import { FindingList } from './FindingList.tsx'

interface Props {
  readonly view: ReviewView
  readonly onSelect: (id: string) => void
  readonly onSeal: () => void
  readonly onClose: () => void
}

/** So many of the least sure are shown before a seal. */
const leastSure = 10

/** What a seal would settle, before it does. */
export function Sealing({ view, onSelect, onSeal, onClose }: Props) {
  const settled = view.docket.filter((i) => i.status === 'certain')
  const kinds = new Map<string, number>()
  for (const i of settled) kinds.set(kindWords[i.kind], (kinds.get(kindWords[i.kind]) ?? 0) + 1)
  const least = settled
    .filter((i) => i.confidence < 1)
    .toSorted((a, b) => a.confidence - b.confidence)
    .slice(0, leastSure)
  return (
    <AsidePane title="Seal" onClose={onClose}>
      {view.complete ? (
        <>
          <p className="mt-2">
            A seal fixes this state: outputs name it, and what needs no ruling is settled as it stands, so that no later version reads it otherwise in silence.
          </p>
          {view.counts.waiting > 0 ? (
            <p className="mt-2 text-needs">
              {amount(view.counts.waiting, 'question waits', 'questions wait')}. Nothing is sealed while one is open that changes what comes out.
            </p>
          ) : null}
          <p className="mt-2">
            {settled.length === 0
              ? 'Nothing is left to settle.'
              : `${settled.length.toLocaleString('en')} ${settled.length === 1 ? 'proposal that nobody ruled on is' : 'proposals that nobody ruled on are'} settled by it:`}
          </p>
          <ul className="mt-1">
            {[...kinds].map(([kind, n]) => (
              <li key={kind} className="flex gap-2">
                <span className="w-14 text-right tabular-nums">{n.toLocaleString('en')}</span> {kind}
              </li>
            ))}
          </ul>
          <FindingList title="The least sure of them" items={least} onSelect={onSelect} />
          <button type="button" className="btn btn-sm btn-primary mt-4" onClick={onSeal}>
            Seal at entry {view.head}
          </button>
        </>
      ) : (
        <p className="mt-2">What would be settled is being worked out …</p>
      )}
    </AsidePane>
  )
}
