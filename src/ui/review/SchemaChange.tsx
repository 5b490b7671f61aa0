import type { Thing } from '../../core/change/index.ts'
import type { EntryBody } from '../../core/model/index.ts'
import type { SchemaProposal } from '../../core/review/index.ts'
import { AskChange } from '../change/Asking.tsx'

interface Props {
  readonly proposals: readonly SchemaProposal[]
  /** What else can be changed here. */
  readonly thing: Thing | null
  readonly onAppend: (entries: readonly EntryBody[]) => Promise<boolean>
}

/** What the database could be changed to. A ruling never does it: it is asked for, and stands under Plan. */
export function SchemaChange({ proposals, thing, onAppend }: Props) {
  if (proposals.length === 0 && thing === null) return null
  return (
    <section aria-label="Schema change" className="mt-3">
      <h3 className="border-b border-rule pb-0.5 font-sans text-sm font-semibold">Schema change</h3>
      {proposals.map((p) => (
        <div key={p.label} className="mt-1">
          <p className="break-words">{p.says}.</p>
          {p.is === 'there' ? (
            <p className="text-settled">✓ It is asked for; see Plan.</p>
          ) : p.is === 'refused' ? (
            <p className="text-soft">Not as it stands: {p.because}.</p>
          ) : (
            <button type="button" className="btn btn-xs mt-1" onClick={() => void onAppend([p.entry])}>
              {p.label} in the database
            </button>
          )}
        </div>
      ))}
      <p className="mt-1">
        <AskChange thing={thing} keyed="C" label={proposals.length > 0 ? 'Another change of it …' : undefined} />
      </p>
    </section>
  )
}
