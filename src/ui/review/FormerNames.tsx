'use client'

import type { RenameQuestion } from '../../core/lineage/index.ts'
import type { EntryBody } from '../../core/model/index.ts'

interface Props {
  readonly questions: readonly RenameQuestion[]
  readonly onAnswer: (entry: EntryBody) => void
}

const rebind = (from: string, to: string | null): EntryBody => ({ kind: 'rebind', from, to, note: null })
const counted = (n: number) => (n === 1 ? 'One entry of the ledger is' : `${n} entries of the ledger are`)

/** Rulings whose subject the newest snapshot has not: what is it called now? Nothing is carried over without a yes. */
export function FormerNames({ questions, onAnswer }: Props) {
  return (
    <section aria-label="Subjects that are gone" className="max-h-[45%] shrink-0 overflow-auto border-b-2 border-needs bg-card">
      <ul>
        {questions.map((q) => (
          <li key={q.subject} className="border-b border-rule px-3 py-2 last:border-b-0">
            <p className="font-serif text-[15px] leading-snug">
              <b className="db">{q.subject}</b> is gone. {counted(q.entries.length)} about it.
            </p>
            {q.candidates.length === 0 ? <p className="text-soft">Nothing new in this snapshot is like it.</p> : null}
            {q.candidates.map((c) => (
              <div key={c.subject} className="mt-1.5">
                <p>
                  Is <b className="db">{c.subject}</b> the former <span className="db">{q.subject}</span>?{' '}
                  <span className="text-soft">{c.confidence.toFixed(2)}</span>
                </p>
                <p className="text-[0.92em] text-soft">{c.because.join('; ')}</p>
                <button type="button" className="btn btn-xs mt-1" onClick={() => onAnswer(rebind(q.subject, c.subject))}>
                  Yes, carry {q.entries.length === 1 ? 'it' : 'them'} over
                </button>
              </div>
            ))}
            <button type="button" className="btn btn-xs mt-1.5" onClick={() => onAnswer(rebind(q.subject, null))}>
              {q.candidates.length === 0 ? 'It is gone for good' : 'None of these: it is gone'}
            </button>
          </li>
        ))}
      </ul>
    </section>
  )
}
