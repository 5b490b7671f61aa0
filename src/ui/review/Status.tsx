import type { FindingStatus, RelationshipState } from '../../core/model/index.ts'

/** Shape and word; colour only repeats what they say. */
const shapes: Readonly<Record<FindingStatus, { readonly shape: string; readonly word: string; readonly tone: string }>> = {
  open: { shape: '◆', word: 'waits for you', tone: 'text-needs' },
  folded: { shape: '□', word: 'folded away', tone: 'text-soft' },
  certain: { shape: '■', word: 'needs no ruling', tone: 'text-soft' },
  settled: { shape: '■', word: 'settled', tone: 'text-settled' },
  taken: { shape: '▪', word: 'taken as proposed', tone: 'text-settled' },
  accepted: { shape: '✓', word: 'accepted', tone: 'text-settled' },
  amended: { shape: '✎', word: 'amended', tone: 'text-settled' },
  rejected: { shape: '✕', word: 'rejected', tone: 'text-soft' },
  asked: { shape: '?', word: 'asked', tone: 'text-needs' },
}

const states: Readonly<Record<RelationshipState, string>> = {
  enforced: 'enforced by the database',
  declared: 'declared, not enforced',
  model: 'in the model only',
  guessed: 'guessed',
}

/** Where a finding stands; `by` names who put it there. */
export function StatusWord({ status, by = null }: { status: FindingStatus; by?: string | null }) {
  const s = shapes[status]
  return (
    <span className={s.tone}>
      {s.shape} {s.word}
      {by === null ? '' : `, ${by}`}
    </span>
  )
}

export const stateWord = (state: RelationshipState): string => states[state]
