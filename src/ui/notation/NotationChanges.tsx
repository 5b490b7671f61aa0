import { useMemo, useState } from 'react'
import type { NotationReadingView } from '../../workers/notationMessages.ts'
import type { Wording } from '../common/api.ts'
import { Breakable } from '../common/Breakable.tsx'
import { Complaint } from '../common/Complaint.tsx'

interface Props {
  readonly text: string
  readonly view: NotationReadingView
  /** The text is another than what was read. */
  readonly isReading: boolean
  readonly wording: Wording | null
  readonly onGo: (offset: number) => void
  readonly onEnter: () => Promise<void>
}

/** More are entered, and not listed. */
const listed = 300

const counted = (n: number, one: string, many: string) => (n === 1 ? `one ${one}` : `${n} ${many}`)

/** What the text changes of the review, and what is wrong with it; and the way into the ledger. */
export function NotationChanges({ text, view, isReading, wording, onGo, onEnter }: Props) {
  const [busy, setBusy] = useState(false)
  const lineOf = useMemo(() => lineFinder(text), [text])
  const { changes, problems, seen, head } = view
  const planned = changes.filter((c) => c.schema).length
  const enter = () => {
    setBusy(true)
    void onEnter().finally(() => setBusy(false))
  }
  return (
    <section aria-label="What it changes" className="flex min-h-0 flex-col border-l border-rule">
      <div className="border-b border-rule px-3 py-2">
        <h2 className="text-lg">What it changes</h2>
        <button
          type="button"
          className="btn btn-sm btn-primary mt-1"
          disabled={busy || isReading || problems.length > 0 || changes.length === 0}
          onClick={enter}
        >
          {changes.length === 0 ? 'Nothing to enter' : `Enter ${counted(changes.length, 'change', 'changes')} in the ledger`}
        </button>
        {planned > 0 ? (
          <p className="mt-1 text-soft">
            {planned === 1 ? 'One of them is' : `${planned} of them are`} of the database: planned, and carried out by nobody before that.
          </p>
        ) : null}
        {seen < head ? (
          <p className="mt-1">
            This text was made at ledger {seen}; {counted(head - seen, 'entry came', 'entries came')} since. What they changed stays, unless you typed over it.
          </p>
        ) : null}
        {wording ? (
          <div className="mt-2">
            <Complaint wording={wording} />
          </div>
        ) : null}
      </div>
      <div className="min-h-0 flex-1 overflow-auto">
        {problems.length > 0 ? (
          <section aria-label="What is wrong">
            <h3 className="px-3 pt-2 font-sans text-sm font-semibold text-needs">
              {problems.length === 1 ? 'One thing is wrong' : `${problems.length} things are wrong`}
            </h3>
            <ul>
              {problems.slice(0, listed).map((p) => (
                <li key={`${p.at.from} ${p.text}`}>
                  <button type="button" className="grid w-full grid-cols-[3rem_1fr] px-3 py-1 text-left hover:bg-card" onClick={() => onGo(p.at.from)}>
                    <span className="db text-soft">{lineOf(p.at.from)}</span>
                    <span>
                      <Breakable text={p.text} />
                    </span>
                  </button>
                </li>
              ))}
            </ul>
          </section>
        ) : null}
        {changes.length === 0 && problems.length === 0 ? (
          <p className="p-4 font-serif text-base text-soft">
            The text says what the review says. Type in it: a name, how many an end leads to, a type; what a line does not state is left as it is.
          </p>
        ) : null}
        <ul>
          {changes.slice(0, listed).map((c, i) => (
            <li key={`${c.at.from} ${c.of} ${i}`} className="border-b border-rule">
              <button type="button" className="grid w-full grid-cols-[3rem_1fr] px-3 py-1 text-left hover:bg-card" onClick={() => onGo(c.at.from)}>
                <span className="db text-soft">{lineOf(c.at.from)}</span>
                <span className="min-w-0">
                  <span className="db block break-words">
                    <Breakable text={c.of} />
                  </span>
                  <span className="block break-words">
                    {c.before === null ? null : <span className="text-soft line-through">{c.before}</span>}{' '}
                    {c.after === null ? <span className="text-soft">nothing any more</span> : <span>{c.after}</span>}
                  </span>
                  {c.schema ? <span className="block text-soft">of the database, planned</span> : null}
                </span>
              </button>
            </li>
          ))}
        </ul>
        {changes.length > listed ? <p className="px-3 py-2 text-soft">and {changes.length - listed} more</p> : null}
      </div>
    </section>
  )
}

/** Line numbers of offsets, from 1. */
function lineFinder(text: string): (offset: number) => number {
  const starts = [0]
  for (let i = text.indexOf('\n'); i !== -1; i = text.indexOf('\n', i + 1)) starts.push(i + 1)
  return (offset) => {
    let [low, high] = [0, starts.length - 1]
    while (low < high) {
      const middle = (low + high + 1) >> 1
      if ((starts[middle] as number) <= offset) low = middle
      else high = middle - 1
    }
    return low + 1
  }
}
