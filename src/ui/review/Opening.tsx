'use client'

import Link from 'next/link'
import type { ReviewView } from '../../core/review/index.ts'
import { amount } from '../../core/text/amount.ts'
import { FindingList } from './FindingList.tsx'

interface Props {
  readonly projectId: string
  readonly view: ReviewView
  /** What of the source was not read, a sentence each. */
  readonly unread: readonly string[]
  readonly onSelect: (id: string) => void
  readonly onArea: (area: string) => void
  /** One ruling on a finding and all that are alike. */
  readonly onBulk: (id: string) => void
}

const listed = (parts: readonly string[]) => (parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`)

/** So many areas are listed; all of them stand on the map. */
const mostAreas = 12

/** What stands on the right before anything is chosen: what this schema is, and where to begin. */
export function Opening({ projectId, view, unread, onSelect, onArea, onBulk }: Props) {
  const { schema, areas, counts, docket, progress } = view
  const { enforced, declared, model, guessed } = schema.relationships
  const all = enforced + declared + model + guessed
  const parts = [
    ...(enforced > 0 ? [`${enforced.toLocaleString('en')} enforced`] : []),
    ...(declared > 0 ? [`${declared.toLocaleString('en')} declared only`] : []),
    ...(model > 0 ? [`${model.toLocaleString('en')} in the model only`] : []),
    ...(guessed > 0 ? [`${guessed.toLocaleString('en')} guessed`] : []),
  ]
  const riskiest = docket.filter((i) => i.status === 'open' || i.changed).slice(0, 3)
  const open = progress.filter((p) => p.open > 0).toSorted((a, b) => b.open - a.open)
  return (
    <section aria-label="Opening" className="min-h-0 overflow-auto border-l border-rule px-4 py-3">
      <h2 className="text-lg">This schema</h2>
      <p className="mt-1 font-serif text-base">
        {amount(schema.tables, 'table')}
        {areas.length > 0 ? ` in ${amount(areas.length, 'area')}` : ''}
        {schema.views > 0 ? `, and ${amount(schema.views, 'view')}` : ''}.
      </p>
      <p className="mt-1 font-serif text-base">
        {all === 0
          ? 'No relationship is declared, and none is likely.'
          : `${amount(all, 'relationship')}${parts.length === 1 ? `, all ${parts[0]?.replace(/^\S+ /, '')}` : `: ${listed(parts)}`}.`}
      </p>
      <p className={`mt-1 font-serif text-base ${counts.waiting > 0 ? 'text-needs' : ''}`}>
        {counts.waiting === 0 ? 'Nothing waits for a ruling.' : `${amount(counts.waiting, 'question waits', 'questions wait')} for you.`}
      </p>
      <FindingList title={riskiest.length === 1 ? 'The one that waits' : 'The riskiest first'} items={riskiest} onSelect={onSelect} />
      {schema.links ? (
        <p className="mt-3">
          {amount(schema.links.n, 'table')} that link two others have columns of their own, and stand between them.{' '}
          <button type="button" className="btn btn-xs" onClick={() => schema.links && onBulk(schema.links.first)}>
            Read past them as well …
          </button>
        </p>
      ) : null}
      {open.length > 0 && areas.length > 1 ? (
        <>
          <h3 className="mt-4 border-b border-rule pb-0.5 font-sans text-sm font-semibold">Where questions wait</h3>
          <ul className="mt-1">
            {open.slice(0, mostAreas).map((p) => (
              <li key={p.text} className="flex items-baseline gap-3">
                <button type="button" className="link link-hover min-w-0 flex-1 text-left break-words" onClick={() => onArea(p.text)}>
                  {p.text}
                </button>
                <span className="text-needs">{p.open}</span>
              </li>
            ))}
          </ul>
          {open.length > mostAreas ? <p className="text-soft">and {open.length - mostAreas} more areas, as the map shows</p> : null}
        </>
      ) : null}
      <h3 className="mt-4 border-b border-rule pb-0.5 font-sans text-sm font-semibold">What was read</h3>
      {unread.length === 0 ? (
        <p className="mt-1">All of its structure.</p>
      ) : (
        <ul className="mt-1">
          {unread.map((u) => (
            <li key={u} className="mt-1 break-words">
              {u}
            </li>
          ))}
        </ul>
      )}
      <p className="mt-1">
        <Link href={`/p/${projectId}/source`} prefetch={false} className="link link-hover">
          See the source
        </Link>
      </p>
      <p className="mt-4 text-soft">Choose a finding in the docket, or a plate, line or bead on the map; J begins with the first that waits.</p>
    </section>
  )
}
