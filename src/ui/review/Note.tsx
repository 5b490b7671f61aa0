'use client'

import { useState } from 'react'
import type { EntryBody } from '../../core/model/index.ts'
import type { Detail } from '../../core/review/index.ts'
import { timeText } from '../common/time.ts'

/** Remarks on what a finding is about, and a new one: they rule on nothing. */
export function Note({ detail, onAppend }: { readonly detail: Detail; readonly onAppend: (entries: readonly EntryBody[]) => Promise<boolean> }) {
  const [text, setText] = useState('')
  const send = () => {
    if (text.trim() !== '') void onAppend([{ kind: 'note', subject: detail.subject, text: text.trim() }]).then((taken) => taken && setText(''))
  }
  return (
    <>
      {detail.notes.map((n) => (
        <p key={n.seq} className="mt-2 font-serif text-base">
          “{n.text}”{' '}
          <span className="font-sans text-[0.88em] text-soft">
            {n.by}, {timeText(n.at)}
          </span>
        </p>
      ))}
      <details className="mt-2" id="note">
        <summary className="cursor-pointer">
          <span className="key">T</span> Note something
        </summary>
        <form
          className="mt-1 space-y-1"
          onSubmit={(e) => {
            e.preventDefault()
            send()
          }}
        >
          <label className="block">
            <span className="text-soft">The note</span>
            <textarea
              id="note-text"
              className="textarea textarea-sm w-full"
              rows={2}
              value={text}
              maxLength={10_000}
              onChange={(e) => setText(e.target.value)}
            />
          </label>
          <button type="submit" className="btn btn-xs" disabled={text.trim() === ''}>
            Note it
          </button>
        </form>
      </details>
    </>
  )
}
