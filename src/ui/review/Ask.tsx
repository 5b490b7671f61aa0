'use client'

import { useState } from 'react'
import type { EntryBody } from '../../core/model/index.ts'
import { askingFor, type Detail } from '../../core/review/index.ts'

/** Ask somebody: whom, and the question as a sentence. It is then not open for whoever asked, and stands in the ledger. */
export function Ask({ detail, onAppend }: { readonly detail: Detail; readonly onAppend: (entries: readonly EntryBody[]) => Promise<boolean> }) {
  const [whom, setWhom] = useState('')
  const [question, setQuestion] = useState(detail.question)
  const ready = whom.trim() !== '' && question.trim() !== ''
  const send = () => {
    if (ready) void onAppend([askingFor(detail, whom.trim(), question.trim())])
  }
  return (
    <>
      {detail.asked ? (
        <p className="mt-2 font-serif text-base">
          Asked {detail.asked.whom}: “{detail.asked.question}”
        </p>
      ) : null}
      <details className="mt-2" id="ask">
        <summary className="cursor-pointer">
          <span className="key">Q</span> Ask somebody
        </summary>
        <form
          className="mt-1 space-y-1"
          onSubmit={(e) => {
            e.preventDefault()
            send()
          }}
        >
          <label className="block">
            <span className="text-soft">Whom</span>
            <input id="ask-whom" className="input input-sm w-full" value={whom} maxLength={200} onChange={(e) => setWhom(e.target.value)} />
          </label>
          <label className="block">
            <span className="text-soft">The question</span>
            <textarea className="textarea textarea-sm w-full" rows={2} value={question} maxLength={2000} onChange={(e) => setQuestion(e.target.value)} />
          </label>
          <button type="submit" className="btn btn-xs" disabled={!ready}>
            Ask
          </button>
        </form>
      </details>
    </>
  )
}
