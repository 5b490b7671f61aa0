'use client'

import type { EntryBody, Evidence as EvidenceFact } from '../../core/model/index.ts'
import { type Detail, type DetailChoice, type EditableName, editOfName, type RenameCheck } from '../../core/review/index.ts'
import { Breakable } from '../common/Breakable.tsx'
import { timeText } from '../common/time.ts'
import { AreaChoice } from './AreaChoice.tsx'
import { Ask } from './Ask.tsx'
import { ClaimForm } from './ClaimForm.tsx'
import { Looks, QueryBox, type RunLook } from './Looks.tsx'
import { Note } from './Note.tsx'
import { NounInput } from './NounInput.tsx'
import { SchemaChange } from './SchemaChange.tsx'
import { SideBySide } from './SideBySide.tsx'
import { StatusWord, stateWord } from './Status.tsx'

interface Props {
  readonly detail: Detail | null
  /** Something is chosen, and what is known of it is not worked out yet. */
  readonly reading: boolean
  /** Sheets stand beside it, and have the columns. */
  readonly sheets: boolean
  readonly editing: string | null
  readonly onEdit: (subject: string | null) => void
  readonly onAppend: (entries: readonly EntryBody[]) => Promise<boolean>
  readonly onTakeBack: (seq: number) => void
  readonly onSelect: (id: string) => void
  readonly check: (name: EditableName, wanted: string) => Promise<RenameCheck | null>
  /** Asks the server for rows; null where it has none. */
  readonly run: RunLook
  /** Rule on this one and all that ask the same. */
  readonly onBulk: () => void
}

export const nameKey = (n: EditableName) => `${n.facet} ${n.subject}`

/** All that is known about the selected finding, for and against, and what each ruling would change. */
export function Evidence({ detail, reading, ...rest }: Props) {
  return (
    <section aria-label="Evidence" className="min-h-0 overflow-auto border-l border-rule px-4 py-3">
      {detail ? (
        <EvidenceOf key={detail.id} detail={detail} {...rest} />
      ) : (
        <p className="font-serif text-base text-soft">
          {reading ? 'Working out what is known of it …' : 'Choose a finding in the docket, or a plate, line or bead on the map.'}
        </p>
      )}
    </section>
  )
}

type OfProps = Omit<Props, 'detail' | 'reading'> & { readonly detail: Detail }

function EvidenceOf(p: OfProps) {
  const { detail } = p
  return (
    <>
      <p className="db break-words text-soft">
        <Breakable text={detail.title} />
      </p>
      {detail.relationship ? <Sentences {...p} relationship={detail.relationship} /> : <ClassName {...p} />}
      <p className="mt-2 flex flex-wrap gap-x-3">
        <StatusWord status={detail.status} />
        {detail.relationship ? <span className="text-soft">{detail.relationship.kind}</span> : null}
        {detail.relationship ? <span className="text-soft">{stateWord(detail.relationship.state)}</span> : null}
      </p>
      {detail.kind === 'structure' ? detail.names.map((n) => <TypeName key={nameKey(n)} {...p} name={n} />) : null}
      <Rulings {...p} />
      <SchemaChange proposals={detail.schema} thing={detail.thing} onAppend={p.onAppend} />
      {detail.choices.map((c) => (
        <Choice
          key={`${detail.id} ${c.key}`}
          choice={c}
          alone={detail.choices.length === 1}
          run={p.run}
          onTake={c.taken || c.key === detail.other?.key || c.label === detail.offered ? null : () => void p.onAppend([c.entry])}
        />
      ))}
      {detail.relationship ? <Ends detail={detail} relationship={detail.relationship} onAppend={p.onAppend} /> : null}
      {detail.relationship?.sides ? <SideBySide sides={detail.relationship.sides} /> : null}
      <Looks id={detail.id} looks={detail.looks} run={p.run} />
      {detail.relationship && detail.relationship.loads.length > 0 ? (
        <div className="mt-4">
          <h3 className="border-b border-rule pb-0.5 font-sans text-sm font-semibold">What a load would send</h3>
          {detail.relationship.loads.map((l) => (
            <QueryBox key={l.label} label={l.label} sql={l.sql} run={null} />
          ))}
        </div>
      ) : null}
      {detail.columns.length > 0 && !p.sheets ? <Columns {...p} /> : null}
      {detail.lifecycle.length > 0 ? (
        <div className="mt-4">
          <h3 className="border-b border-rule pb-0.5 font-sans text-sm font-semibold">How its rows come and go</h3>
          <ul className="mt-1 space-y-1">
            {detail.lifecycle.map((s) => (
              <li key={s}>{s}</li>
            ))}
          </ul>
        </div>
      ) : null}
      {detail.area ? <AreaChoice key={`${detail.id} ${detail.area.name}`} subject={detail.subject} area={detail.area} onAppend={p.onAppend} /> : null}
      {detail.related.length > 0 ? (
        <div className="mt-4">
          <h3 className="border-b border-rule pb-0.5 font-sans text-sm font-semibold">{detail.kind === 'entity' ? 'Relationships' : 'See also'}</h3>
          <ul>
            {detail.related.map((r) => (
              <li key={r.id}>
                <button type="button" className="link link-hover text-left" onClick={() => p.onSelect(r.id)}>
                  {r.text}
                </button>
              </li>
            ))}
          </ul>
        </div>
      ) : null}
      {detail.history.length > 0 ? (
        <div className="mt-4">
          <h3 className="border-b border-rule pb-0.5 font-sans text-sm font-semibold">Ruled</h3>
          <ul>
            {detail.history.map((h) => (
              <li key={h.seq} className="mt-1">
                <span className="text-soft">
                  {h.seq}, {h.by}, {timeText(h.at)}
                </span>{' '}
                <button type="button" className="btn btn-xs" onClick={() => p.onTakeBack(h.seq)}>
                  Take back
                </button>
                <span className="db block break-words">
                  <Breakable text={h.what} />
                </span>
              </li>
            ))}
          </ul>
        </div>
      ) : null}
    </>
  )
}

function Noun({ name, shown, ...p }: OfProps & { readonly name: EditableName; readonly shown: string }) {
  const key = nameKey(name)
  return (
    <NounInput
      name={name}
      shown={shown}
      editing={p.editing === key}
      onEdit={(on) => p.onEdit(on ? key : null)}
      onSave={(value) => p.onAppend([editOfName(name, value)])}
      check={p.check}
    />
  )
}

function Sentences({ relationship, ...p }: OfProps & { readonly relationship: NonNullable<Detail['relationship']> }) {
  return (
    <div className="mt-1 space-y-2 font-serif text-[17px] leading-snug break-words">
      {relationship.sentences.map((s, i) => (
        <p key={i}>
          {s.map((run, j) => {
            if (run.kind !== 'noun') return <Breakable key={j} text={run.text} />
            const { name } = relationship[run.end]
            return name ? <Noun key={j} {...p} name={name} shown={run.text} /> : <b key={j}>{run.text}</b>
          })}
        </p>
      ))}
    </div>
  )
}

/** A native type's own name in the code, for all columns of it. */
function TypeName({ name, ...p }: OfProps & { readonly name: EditableName }) {
  return (
    <p className="mt-2 flex flex-wrap items-baseline gap-x-2">
      In the code: <Noun {...p} name={name} shown={name.value === '' ? 'no name of its own' : name.value} />
      {name.value === '' ? null : (
        <button
          type="button"
          className="btn btn-xs"
          onClick={() => void p.onAppend([{ kind: 'edit', edit: { facet: 'type.name', subject: name.subject, value: null }, note: null }])}
        >
          Take the name away
        </button>
      )}
    </p>
  )
}

function ClassName(p: OfProps) {
  const [name] = p.detail.kind === 'structure' ? [] : p.detail.names
  const [before, after] = name ? p.detail.says.split(` ${name.value}.`) : [p.detail.says]
  return (
    <p className="mt-1 font-serif text-[17px] leading-snug break-words">
      {name && after !== undefined ? (
        <>
          <Breakable text={before ?? ''} /> <Noun {...p} name={name} shown={name.value} />.
        </>
      ) : (
        <Breakable text={p.detail.says} />
      )}
    </p>
  )
}

interface ChoiceProps {
  readonly choice: DetailChoice
  readonly alone: boolean
  readonly onTake: (() => void) | null
  readonly run: RunLook
}

/** One answer with what speaks for and against it; those that are not taken fold when there are many. */
function Choice({ choice, alone, onTake, run }: ChoiceProps) {
  return (
    <details className="mt-3" open={choice.taken || choice.evidence.length < 5}>
      <summary className="cursor-pointer border-b border-rule pb-0.5 font-sans text-sm font-semibold">
        {alone ? 'For and against' : `${choice.taken ? '✓ ' : ''}${choice.label}`} <span className="font-normal text-soft">{choice.confidence.toFixed(2)}</span>
      </summary>
      <Facts evidence={choice.evidence} run={run} />
      {choice.changes.map((c) => (
        <p key={c} className="mt-1 break-words text-soft">
          {c}
        </p>
      ))}
      {onTake === null ? null : (
        <button type="button" className="btn btn-xs h-auto max-w-full whitespace-normal break-words py-0.5 text-left mt-1" onClick={onTake}>
          Read as {choice.label}
        </button>
      )}
    </details>
  )
}

function Rulings({ detail, onAppend, onBulk }: OfProps) {
  const { other } = detail
  return (
    <div className="mt-2 border-y border-rule py-2">
      <div className="flex flex-wrap gap-2">
        <button
          type="button"
          className="btn btn-xs btn-primary h-auto max-w-full whitespace-normal break-words py-0.5 text-left"
          onClick={() => void onAppend([detail.accept])}
        >
          <span className="key border-current">A</span> Accept: {detail.offered}
        </button>
        {detail.reject ? (
          <button type="button" className="btn btn-xs" onClick={() => void onAppend([detail.reject as EntryBody])}>
            <span className="key">X</span> Reject
          </button>
        ) : null}
        {other ? (
          <button
            type="button"
            className="btn btn-xs h-auto max-w-full whitespace-normal break-words py-0.5 text-left"
            onClick={() => void onAppend([other.entry])}
          >
            <span className="key">E</span> Read as {other.label}
          </button>
        ) : null}
      </div>
      <p className="mt-1 text-soft">
        {detail.bites ? 'Changes the model and the code. No schema change.' : 'Kept in the ledger. Nothing changes in the model, the code or the schema.'}
      </p>
      {detail.alike ? (
        <p className="mt-1">
          <button type="button" className="btn btn-xs mr-2" onClick={onBulk}>
            <span className="key">B</span> {detail.alike.n} at once
          </button>
          <span className="text-soft">
            {detail.alike.n} {detail.alike.because}
          </span>
        </p>
      ) : null}
      <Ask detail={detail} onAppend={onAppend} />
      <Note detail={detail} onAppend={onAppend} />
    </div>
  )
}

/** Weight as a bar: plain for, hatched against; the sentence says the rest. */
function Facts({ evidence, run }: { readonly evidence: readonly EvidenceFact[]; readonly run: RunLook }) {
  if (evidence.length === 0) return <p className="text-soft">No other answer is likely enough.</p>
  const longest = Math.max(1, ...evidence.map((e) => (e.kind === 'starting point' ? 0 : Math.abs(e.weight))))
  const inOdds = evidence.some((e) => e.kind === 'starting point')
  return (
    <ul className="mt-1 space-y-1">
      {evidence.map((e) => (
        <li key={`${e.kind} ${e.says}`} className={inOdds ? 'grid grid-cols-[34px_38px_1fr] gap-2' : 'grid grid-cols-[34px_1fr] gap-2'}>
          <span
            className="mt-1.5 h-2"
            title={e.weight === 0 ? 'decides how many, not whether' : `${e.weight > 0 ? 'for' : 'against'}: ${Math.abs(e.weight).toFixed(2)}`}
          >
            <span
              className="block h-2"
              style={{
                width: Math.min(34, Math.max(3, (Math.abs(e.weight) / longest) * 34)),
                background:
                  e.weight < 0
                    ? 'repeating-linear-gradient(45deg, var(--color-needs) 0 2px, transparent 2px 4px)'
                    : e.weight === 0
                      ? 'var(--color-rule)'
                      : 'var(--color-settled)',
              }}
            />
          </span>
          {inOdds ? (
            <span className="text-right text-soft tabular-nums">{e.weight === 0 ? '' : `${e.weight > 0 ? '+' : '−'}${Math.abs(e.weight).toFixed(2)}`}</span>
          ) : null}
          <span className="break-words">
            <Breakable text={e.says} />
            {e.query === undefined ? null : <QueryBox label="" sql={e.query} run={run && (() => run({ query: e.query as string }))} />}
          </span>
        </li>
      ))}
      {inOdds ? <li className="text-soft">Log-odds: together they make the confidence, beside those of the other answers.</li> : null}
    </ul>
  )
}

interface EndsProps {
  readonly detail: Detail
  readonly relationship: NonNullable<Detail['relationship']>
  readonly onAppend: Props['onAppend']
}

function Ends({ detail, relationship, onAppend }: EndsProps) {
  return (
    <div className="mt-4">
      <h3 className="border-b border-rule pb-0.5 font-sans text-sm font-semibold">Both ends</h3>
      {[relationship.from, relationship.to].map((e, i) => (
        <div key={i} className="mt-1">
          <p>
            <b>{e.entity}</b> leads to {e.leadsTo}: <span className="text-soft">{e.because}</span>
          </p>
          <p className="db bg-card px-2 py-0.5">{e.code}</p>
        </div>
      ))}
      {detail.claims.map((c) => (
        <ClaimForm key={c.label} claim={c} subject={detail.subject} onAppend={onAppend} />
      ))}
      <p className="mt-2">{relationship.owner.charAt(0).toUpperCase() + relationship.owner.slice(1)}.</p>
      {relationship.actions ? <p className="text-soft">In the database: {relationship.actions}.</p> : null}
      {relationship.cascade.map((c) => (
        <p key={c} className={`mt-1 ${/contradict/.test(c) ? 'text-needs' : ''}`}>
          {/contradict/.test(c) ? '◆ ' : ''}
          {c}
        </p>
      ))}
    </div>
  )
}

function Columns(p: OfProps) {
  return (
    <div className="mt-4">
      <h3 className="border-b border-rule pb-0.5 font-sans text-sm font-semibold">Columns</h3>
      <table className="w-full">
        <tbody>
          {p.detail.columns.map((c) => (
            <tr key={c.name} className="border-b border-rule align-top">
              <td className={`db py-0.5 pr-2 ${c.name.length < 18 ? 'whitespace-nowrap' : ''}`}>{c.name.length < 18 ? c.name : <Breakable text={c.name} />}</td>
              <td className="db py-0.5 pr-2 text-soft break-words">
                {c.type}
                {c.nullable ? '' : ' not null'}
              </td>
              <td className="py-0.5">{c.property ? <Noun {...p} name={c.property} shown={c.property.value} /> : null}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}
