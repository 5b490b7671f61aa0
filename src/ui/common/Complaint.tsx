import type { Wording } from './api.ts'

/** What happened, to which object, and the next thing to do. */
export function Complaint({ wording }: { wording: Wording }) {
  return (
    <div role="alert" className="border-l-4 border-needs bg-card px-3 py-2">
      <p className="font-semibold text-needs">{wording.message.charAt(0).toUpperCase() + wording.message.slice(1)}</p>
      {wording.detail === '' ? null : <p className="mt-0.5">{wording.detail}</p>}
      {wording.hint === '' ? null : <p className="mt-0.5 text-soft">{wording.hint}</p>}
    </div>
  )
}
