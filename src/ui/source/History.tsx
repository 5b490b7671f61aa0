'use client'

import { useEffect, useState } from 'react'
import type { ObjectChange, SurveyLine } from '../../core/lineage/index.ts'
import { timeText } from '../common/time.ts'
import { useCatalog } from '../common/useCatalog.ts'

const noEntries: readonly unknown[] = []

/** Every survey with when it was read and what its user could not see; what changed from the one before, object by object. */
export function History({ lines }: { lines: readonly SurveyLine[] }) {
  const newest = lines.findIndex((l, i) => !l.same && i < lines.length - 1)
  const [open, setOpen] = useState<number | null>(newest === 0 ? 0 : null)
  return (
    <section aria-label="Surveys" className="mt-6">
      <h2 className="text-lg">Surveys</h2>
      <ol className="mt-1 border-t border-ink">
        {lines.map((l, i) => (
          <li key={l.at} className="border-b border-rule py-1.5">
            <div className="flex items-baseline gap-3">
              <span className="w-40 shrink-0">{timeText(l.at)}</span>
              <span className="min-w-0 flex-1">
                {l.server}, as {l.user}: {l.relations === 1 ? '1 relation' : `${l.relations.toLocaleString('en')} relations`}
                {l.notReadable > 0 ? <span className="text-needs">, rows of {l.notReadable} not readable</span> : null}
                {l.unmodelled > 0 ? <span className="text-soft">, {l.unmodelled} objects not modelled</span> : null}
              </span>
              <span className="db text-soft">{l.hash.slice(0, 12)}</span>
              <span className="w-44 text-right">
                {i === lines.length - 1 ? (
                  <span className="text-soft">the first</span>
                ) : l.same ? (
                  <span className="text-soft">nothing changed</span>
                ) : (
                  <button type="button" className="btn btn-xs" aria-expanded={open === i} onClick={() => setOpen(open === i ? null : i)}>
                    {open === i ? 'Hide what changed' : 'What changed'}
                  </button>
                )}
              </span>
            </div>
            {open === i ? <Changes was={(lines[i + 1] as SurveyLine).hash} is={l.hash} /> : null}
          </li>
        ))}
      </ol>
    </section>
  )
}

const tones: Readonly<Record<ObjectChange['what'], string>> = { gone: 'text-needs', changed: '', new: 'text-settled' }

function Changes({ was, is }: { was: string; is: string }) {
  const ask = useCatalog(is, noEntries)
  const [changes, setChanges] = useState<readonly ObjectChange[] | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  useEffect(() => {
    let current = true
    ask({ ask: 'changes', was, is }).then(
      (found) => current && setChanges(found),
      (error: Error) => current && setProblem(error.message),
    )
    return () => {
      current = false
    }
  }, [ask, was, is])
  if (problem !== null) return <p className="py-2 text-needs">The two snapshots could not be compared: {problem}.</p>
  if (changes === null) return <p className="py-2 text-soft">Comparing …</p>
  const count = (what: ObjectChange['what']) => changes.filter((c) => c.what === what).length
  return (
    <div className="mt-2 border border-rule bg-card">
      <p className="border-b border-rule px-3 py-1.5">
        {count('gone')} gone, {count('changed')} changed, {count('new')} new.
      </p>
      <ul className="max-h-[28rem] overflow-auto">
        {changes.map((c) => (
          <li key={c.object} className="border-b border-rule px-3 py-1.5 last:border-b-0">
            <span className={`font-semibold ${tones[c.what]}`}>{c.what}</span> <span className="db">{c.object}</span>
            {c.fields.length === 0 ? null : (
              <table className="mt-1 w-full table-fixed">
                <thead className="text-left text-soft">
                  <tr>
                    <th className="w-1/4 font-normal">field</th>
                    <th className="font-normal">before</th>
                    <th className="font-normal">after</th>
                  </tr>
                </thead>
                <tbody>
                  {c.fields.map((f) => (
                    <tr key={f.field} className="align-top">
                      <td className="db break-words pr-3">{f.field}</td>
                      <td className="db break-words pr-3 text-soft">{f.was ?? 'nothing'}</td>
                      <td className="db break-words">{f.is ?? 'nothing'}</td>
                    </tr>
                  ))}
                </tbody>
              </table>
            )}
          </li>
        ))}
      </ul>
    </div>
  )
}
