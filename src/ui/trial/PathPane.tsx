'use client'

import { type FormEvent, type ReactNode, useState } from 'react'
import type { Condition, TrialPath, TrialView } from '../../core/trial/index.ts'

interface Props {
  readonly view: TrialView
  /** Rows with none of the conditions, with the first, and so on; null until they were counted. */
  readonly counts: readonly number[] | null
  readonly countedTo: number
  readonly onShow: (path: TrialPath) => void
  /** Below it all. */
  readonly children: ReactNode
}

const words: Readonly<Record<Condition['is'], string>> = {
  equal: 'is',
  other: 'is not',
  less: 'is less than',
  more: 'is more than',
  contains: 'contains',
  empty: 'is empty',
  filled: 'is filled',
}
const operators = Object.keys(words) as readonly Condition['is'][]

/** Where the trial begins, what is followed, and which rows are left. */
export function PathPane({ view, counts, countedTo, onShow, children }: Props) {
  const { path, places } = view
  const last = places.at(-1)
  const counted = (n: number | undefined) => (n === undefined ? '…' : n > countedTo ? `more than ${countedTo.toLocaleString('en')}` : n.toLocaleString('en'))
  return (
    <section aria-label="Path" className="min-h-0 overflow-auto border-r border-rule px-3 py-3">
      <h1 className="text-xl">Trial</h1>
      <label className="mt-2 block">
        <span className="text-soft">Rows of</span>
        <select className="select select-sm mt-0.5 w-full" value={path.entity} onChange={(e) => onShow({ entity: e.target.value, conditions: [], steps: [] })}>
          {view.entities.map((e) => (
            <option key={e.id} value={e.id}>
              {e.name}
            </option>
          ))}
        </select>
      </label>
      <Heading text="Only those" />
      <p className="text-soft">{counts ? `${counted(counts[0])} in all` : 'not counted yet'}</p>
      <ol>
        {path.conditions.map((c, i) => (
          <li key={JSON.stringify(c)} className="mt-1 flex items-baseline gap-2">
            <span className="min-w-0 flex-1 break-words">
              {conditionText(c, view)} <span className="text-soft">{counts ? `leaves ${counted(counts[i + 1])}` : ''}</span>
            </span>
            <button
              type="button"
              className="btn btn-xs"
              aria-label={`Remove the condition: ${conditionText(c, view)}`}
              onClick={() => onShow({ ...path, conditions: path.conditions.filter((x) => x !== c) })}
            >
              ×
            </button>
          </li>
        ))}
      </ol>
      <NewCondition key={`${path.entity} ${path.conditions.length}`} view={view} onAdd={(c) => onShow({ ...path, conditions: [...path.conditions, c] })} />
      <Heading text="Followed" />
      {path.steps.length === 0 ? <p className="text-soft">Nothing yet.</p> : null}
      <ol>
        {path.steps.map((s, i) => {
          const from = places[i]?.steps.find((x) => x.relationship === s.relationship && x.end === s.end)
          return (
            <li key={`${s.relationship} ${s.end} ${i}`} className="mt-1 flex items-baseline gap-2">
              <span className="min-w-0 flex-1 break-words">
                {i + 1}. <b>{from?.property}</b> <span className="text-soft">{from?.other}</span>
              </span>
              <button
                type="button"
                className="btn btn-xs"
                aria-label={`Back to before ${from?.property ?? ''}`}
                onClick={() => onShow({ ...path, steps: path.steps.slice(0, i) })}
              >
                ×
              </button>
            </li>
          )
        })}
      </ol>
      {last && path.steps.length < 6 ? (
        <>
          <Heading text={`From ${last.name} on`} />
          <ul>
            {last.steps.map((s) => (
              <li key={`${s.relationship} ${s.end}`}>
                <button
                  type="button"
                  className="link link-hover text-left break-words"
                  onClick={() => onShow({ ...path, steps: [...path.steps, { relationship: s.relationship, end: s.end }] })}
                >
                  <b>{s.property}</b>: {s.one ? 'at most one' : 'any number of'} {s.other}
                </button>
              </li>
            ))}
          </ul>
          {last.steps.length === 0 ? <p className="text-soft">It has no relationship.</p> : null}
        </>
      ) : null}
      {children}
    </section>
  )
}

const Heading = ({ text }: { readonly text: string }) => <h2 className="mt-4 border-b border-rule pb-0.5 font-sans text-sm font-semibold">{text}</h2>

function conditionText(c: Condition, view: TrialView): string {
  const [step] = c.via
  const beside = step && view.beside.find((b) => b.step.relationship === step.relationship && b.step.end === step.end)
  const place = beside?.place ?? view.places[0]
  const property = place?.properties.find((p) => p.column === c.column)?.name ?? c.column
  return `${beside ? `${beside.property}.` : ''}${property} ${words[c.is]}${c.is === 'empty' || c.is === 'filled' ? '' : ` ${c.value}`}`
}

/** One property, its own or of what a relationship leads to. */
function NewCondition({ view, onAdd }: { readonly view: TrialView; readonly onAdd: (c: Condition) => void }) {
  const [place] = view.places
  const [of, setOf] = useState(`own ${place?.properties[0]?.column ?? ''}`)
  const [is, setIs] = useState<Condition['is']>('equal')
  const needs = is !== 'empty' && is !== 'filled'
  if (!place || view.path.conditions.length >= 8) return null
  const submit = (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault()
    const value = String(new FormData(event.currentTarget).get('value') ?? '')
    const [where, ...column] = of.split(' ')
    const beside = where === 'own' ? undefined : view.beside[Number(where)]
    onAdd({ via: beside ? [beside.step] : [], column: column.join(' '), is, value: needs ? value : '' })
  }
  return (
    <form onSubmit={submit} className="mt-2 grid gap-1" aria-label="New condition">
      <select aria-label="Property" className="select select-xs w-full" value={of} onChange={(e) => setOf(e.target.value)}>
        <optgroup label={place.name}>
          {place.properties.map((p) => (
            <option key={p.column} value={`own ${p.column}`}>
              {p.name}
            </option>
          ))}
        </optgroup>
        {view.beside.map((b, i) => (
          <optgroup key={`${b.step.relationship} ${b.step.end}`} label={`${b.property} (${b.place.name})`}>
            {b.place.properties.map((p) => (
              <option key={p.column} value={`${i} ${p.column}`}>
                {b.property}.{p.name}
              </option>
            ))}
          </optgroup>
        ))}
      </select>
      <div className="flex gap-1">
        <select aria-label="Comparison" className="select select-xs w-28" value={is} onChange={(e) => setIs(e.target.value as Condition['is'])}>
          {operators.map((o) => (
            <option key={o} value={o}>
              {words[o]}
            </option>
          ))}
        </select>
        {needs ? <input name="value" aria-label="Value" className="input input-xs min-w-0 flex-1" maxLength={2000} required /> : null}
        <button type="submit" className="btn btn-xs">
          Add
        </button>
      </div>
    </form>
  )
}
