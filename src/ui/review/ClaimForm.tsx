'use client'

import { useState } from 'react'
import type { EntryBody } from '../../core/model/index.ts'
import { type Claim, claimEntry } from '../../core/review/index.ts'

interface Props {
  readonly claim: Claim
  readonly subject: string
  readonly onAppend: (entries: readonly EntryBody[]) => Promise<boolean>
}

/** Says of a reference what the database does not make so: with a reason, which the ledger keeps. Taking it back needs none. */
export function ClaimForm({ claim, subject, onAppend }: Props) {
  const [asking, setAsking] = useState(false)
  const [reason, setReason] = useState('')
  const keep = (why: string | null) => void onAppend([claimEntry(subject, claim, why)]).then((taken) => taken && setAsking(false))
  if (!asking) {
    return (
      <button
        type="button"
        className="btn btn-xs mt-1 mr-2"
        onClick={() => (claim.value === null ? keep(null) : setAsking(true))}
        title="Changes the classes only, never the database"
      >
        {claim.label}
      </button>
    )
  }
  return (
    <form
      className="mt-1 flex items-end gap-2"
      onSubmit={(e) => {
        e.preventDefault()
        if (reason.trim() !== '') keep(reason.trim())
      }}
    >
      <label className="flex-1">
        <span className="text-soft">{claim.label}: why?</span>
        {/* biome-ignore lint/a11y/noAutofocus: the button that was pressed becomes this field */}
        <input className="input input-xs w-full" autoFocus value={reason} maxLength={1000} onChange={(e) => setReason(e.target.value)} />
      </label>
      <button type="submit" className="btn btn-xs" disabled={reason.trim() === ''}>
        Say so
      </button>
      <button type="button" className="btn btn-xs" onClick={() => setAsking(false)}>
        Leave it
      </button>
    </form>
  )
}
