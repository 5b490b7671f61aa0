'use client'

import { useState } from 'react'
import { type EntryBody, type JsonShape, parseJsonShape, type TypeTarget } from '../../core/model/index.ts'
import { type EditableName, editOfName, type Held, heldEntry, type RenameCheck, type Sheet, type SheetColumn } from '../../core/review/index.ts'
import { AskChange } from '../change/Asking.tsx'
import { Breakable } from '../common/Breakable.tsx'
import { LazySourceText } from '../common/LazySourceText.tsx'
import { nameKey } from './Evidence.tsx'
import { NounInput } from './NounInput.tsx'

interface Props {
  readonly sheets: readonly Sheet[]
  readonly editing: string | null
  readonly onEdit: (key: string | null) => void
  readonly onAppend: (entries: readonly EntryBody[]) => Promise<boolean>
  readonly check: (name: EditableName, wanted: string) => Promise<RenameCheck | null>
  readonly onSelect: (id: string) => void
  /** Operations that people's own files override, by entity, as the code was written last. */
  readonly overridden: Readonly<Record<string, readonly string[]>>
}

/** In the place of the map, when the question is columns: the page of an entity, or two side by side. */
export function Sheets({ sheets, ...rest }: Props) {
  return (
    <section aria-label="Sheet" className="min-h-0 min-w-0 overflow-auto bg-paper">
      {sheets.length === 0 ? <p className="p-6 font-serif text-base text-soft">Choose a class or a relationship: its tables stand here.</p> : null}
      <div className={sheets.length > 1 ? 'grid grid-cols-2 divide-x divide-rule' : ''}>
        {sheets.map((s) => (
          <SheetOf key={s.id} sheet={s} narrow={sheets.length > 1} {...rest} />
        ))}
      </div>
    </section>
  )
}

type OfProps = Omit<Props, 'sheets'> & { readonly sheet: Sheet; readonly narrow: boolean }

function SheetOf({ sheet, narrow, ...p }: OfProps) {
  return (
    <article className="min-w-0 px-4 py-3">
      <h2 className="text-lg break-words">{sheet.entity}</h2>
      <p className="db break-words text-soft">
        {sheet.kind} <Breakable text={sheet.table} />
        {sheet.readOnly ? ', only read' : ''}
      </p>
      <p className="mt-1">
        <span className="text-soft">Key:</span> {sheet.key}
      </p>
      {sheet.comment === null ? null : <p className="mt-1 font-serif text-base">“{sheet.comment}”</p>}
      <p className="mt-1">
        <AskChange thing={sheet.thing} />
      </p>
      <Heading text="Columns" />
      {narrow ? <NarrowColumns sheet={sheet} {...p} /> : <WideColumns sheet={sheet} {...p} />}
      <Heading text="Relationships" />
      {sheet.ends.length === 0 ? <p className="text-soft">None.</p> : null}
      <ul>
        {sheet.ends.map((e) => (
          <li key={`${e.id} ${e.property}`} className="flex flex-wrap items-baseline gap-x-2 border-b border-rule py-0.5">
            <button type="button" className="link link-hover text-left" onClick={() => p.onSelect(e.id)}>
              <b>{e.property}</b>: {e.says}
            </button>
            <span className="text-soft">{e.holds ? 'holds the column' : ''}</span>
            <button type="button" className="link link-hover ml-auto text-soft" onClick={() => p.onSelect(`entity:${e.entity}`)}>
              {e.other}.{e.back} →
            </button>
          </li>
        ))}
      </ul>
      <WaysPast sheet={sheet} {...p} />
      <Heading text="Found quickly by" />
      {sheet.finders.length === 0 ? <p className="text-soft">No rule and no index: every search reads the whole table.</p> : null}
      <ul>
        {sheet.finders.map((f) => (
          <li key={f.says} className="border-b border-rule py-0.5">
            {f.says} <span className="text-soft">{f.by}</span>
          </li>
        ))}
      </ul>
      <Operations operations={sheet.operations} overridden={new Set(p.overridden[sheet.id])} />
      {sheet.neededBy.length > 0 ? (
        <>
          <Heading text="Needed by, before it is removed or renamed in the database" />
          <ul className="db">
            {sheet.neededBy.map((n) => (
              <li key={n} className="break-words">
                <Breakable text={n} />
              </li>
            ))}
          </ul>
        </>
      ) : null}
      {sheet.file ? (
        <>
          <Heading text={sheet.file.path} />
          <div className="h-96 border border-rule">
            <LazySourceText text={sheet.file.text} language="typescript" label={sheet.file.path} numbers={!narrow} />
          </div>
        </>
      ) : null}
    </article>
  )
}

/** Straight to another entity, past what links the two: the table in between stays an entity. */
function WaysPast({ sheet, onAppend, onSelect }: Pick<OfProps, 'sheet' | 'onAppend' | 'onSelect'>) {
  if (sheet.waysPast.length === 0) return null
  return (
    <>
      <Heading text="Could lead straight to" />
      <ul aria-label="Ways past link tables">
        {sheet.waysPast.map((w) => (
          <li key={w.id} className="flex flex-wrap items-baseline gap-x-2 border-b border-rule py-0.5">
            <span>
              <b>{w.other}</b>, past{' '}
              <button type="button" className="link link-hover" onClick={() => onSelect(w.id)}>
                {w.past}
              </button>
            </span>
            <button
              type="button"
              className="btn btn-xs ml-auto"
              title={`${w.past} stays an entity, and is written as one; this only reads past it`}
              onClick={() => void onAppend([w.entry])}
            >
              Read past it
            </button>
          </li>
        ))}
      </ul>
    </>
  )
}

/** What the store of its rows does: a click shows what that sends. */
function Operations({ operations, overridden }: { readonly operations: Sheet['operations']; readonly overridden: ReadonlySet<string> }) {
  if (operations.length === 0) return null
  const possible = operations.filter((o) => o.impossible === null)
  const byHand = possible.filter((o) => overridden.has(o.name)).length
  const counts = [
    `${possible.length - byHand} generated`,
    ...(byHand > 0 ? [`${byHand} overridden by hand`] : []),
    ...(possible.length < operations.length ? [`${operations.length - possible.length} not possible`] : []),
  ]
  return (
    <>
      <Heading text="Operations of its store" />
      <p className="text-soft">{counts.join(', ')}. A click shows the SQL that one sends.</p>
      <ul aria-label="Operations">
        {operations.map((o) => (
          <li key={o.name} className="border-b border-rule py-0.5">
            {o.impossible === null ? (
              <details>
                <summary className="cursor-pointer">
                  <span className="db font-semibold">{o.name}</span>{' '}
                  {overridden.has(o.name) ? <b>overridden by hand: what is generated is not used. </b> : null}
                  <span className="text-soft">{o.says.replaceAll('`', '')}</span>
                </summary>
                {o.sql.length === 0 ? <p className="pl-4 text-soft">Sends nothing of its own.</p> : null}
                {o.sql.map((sql) => (
                  <pre key={sql} className="db pl-4 whitespace-pre-wrap">
                    {sql}
                  </pre>
                ))}
              </details>
            ) : (
              <p className="pl-4">
                <span className="db">{o.name}</span> <span className="text-soft">Not possible: {o.impossible}.</span>
              </p>
            )}
          </li>
        ))}
      </ul>
    </>
  )
}

const Heading = ({ text }: { readonly text: string }) => <h3 className="mt-4 border-b border-rule pb-0.5 font-sans text-sm font-semibold">{text}</h3>

type ColumnsProps = Omit<OfProps, 'narrow'>

function PropertyName({ column, ...p }: Omit<ColumnsProps, 'sheet'> & { readonly column: SheetColumn }) {
  const { property } = column
  if (property === null) return <span className="text-soft">left out</span>
  return (
    <NounInput
      name={property}
      shown={property.value}
      editing={p.editing === nameKey(property)}
      onEdit={(on) => p.onEdit(on ? nameKey(property) : null)}
      onSave={(value) => p.onAppend([editOfName(property, value)])}
      check={p.check}
    />
  )
}

function Uses({ uses }: { readonly uses: readonly string[] }) {
  if (uses.length === 0) return null
  return (
    <details>
      <summary className="cursor-pointer text-soft">{uses.length === 1 ? '1 use' : `${uses.length} uses`}</summary>
      <ul className="text-[0.92em]">
        {uses.map((u) => (
          <li key={u} className="break-words">
            {u}
          </li>
        ))}
      </ul>
    </details>
  )
}

const ChangeColumn = ({ sheet, column }: { readonly sheet: Sheet; readonly column: string }) => (
  <AskChange thing={sheet.thing && { ...sheet.thing, columns: [column] }} quiet label="change …" of={column} />
)

function WideColumns({ sheet, ...p }: ColumnsProps) {
  return (
    <table className="mt-1 w-full">
      <thead className="text-left text-soft">
        <tr>
          {['column', 'type in the database', 'its values', 'property', 'type in the code', 'required', ''].map((h) => (
            <th key={h} className="pr-2 font-normal">
              {h}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {sheet.columns.map((c) => (
          <tr key={c.name} className="border-t border-rule align-top">
            <td className="db py-0.5 pr-2 break-words">
              <Breakable text={c.name} />
              {c.marks.length > 0 ? <span className="block font-sans text-[0.88em] text-soft">{c.marks.join(', ')}</span> : null}
            </td>
            <td className="db py-0.5 pr-2 text-soft break-words">
              {c.native}
              {c.value === null ? null : <span className="block text-[0.88em]">{c.value}</span>}
            </td>
            <td className="py-0.5 pr-2">{c.neutral}</td>
            <td className="py-0.5 pr-2">
              <PropertyName column={c} {...p} />
            </td>
            <td className="db py-0.5 pr-2 break-words">
              {c.held ? <HeldAs column={c} held={c.held} onAppend={p.onAppend} /> : c.target}
              {c.shape ? <Shape column={c} shape={c.shape} onAppend={p.onAppend} /> : null}
            </td>
            <td className="py-0.5 pr-2">
              {c.required ? 'yes' : 'no'} <span className="block text-[0.88em] text-soft">{c.because}</span>
            </td>
            <td className="py-0.5">
              <Uses uses={c.uses} />
              <ChangeColumn sheet={sheet} column={c.name} />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** How the values of this one column are held; a click offers what else there is. */
function HeldAs({ column, held, onAppend }: { readonly column: SheetColumn; readonly held: Held; readonly onAppend: Props['onAppend'] }) {
  const [open, setOpen] = useState(false)
  const choose = (value: string) => void onAppend([heldEntry(held.subject, value === '' ? null : (value as TypeTarget))]).then(() => setOpen(false))
  return (
    <>
      <button
        type="button"
        className="noun text-left font-normal"
        onClick={() => setOpen(!open)}
        aria-expanded={open}
        title="How else it could be held, in this column only"
      >
        {column.target}
      </button>
      {held.own === null ? null : <span className="block font-sans text-[0.88em] text-soft">this column only</span>}
      {open ? (
        <select
          // biome-ignore lint/a11y/noAutofocus: it was asked for by the click that made it
          autoFocus
          aria-label={`How ${column.name} is held`}
          className="select select-xs mt-0.5 block w-36 font-sans"
          value={held.own ?? ''}
          onChange={(e) => choose(e.target.value)}
        >
          <option value="">as its type says: {held.rule}</option>
          {held.ways.map((w) => (
            <option key={w.target} value={w.target}>
              {w.says}
            </option>
          ))}
        </select>
      ) : null}
    </>
  )
}

/** What the JSON of a column holds, said as JSON Schema; the code has a type for it then. */
function Shape({
  column,
  shape,
  onAppend,
}: {
  readonly column: SheetColumn
  readonly shape: NonNullable<SheetColumn['shape']>
  readonly onAppend: Props['onAppend']
}) {
  const [text, setText] = useState<string | null>(null)
  const [problem, setProblem] = useState<string | null>(null)
  const say = (value: JsonShape | null) =>
    void onAppend([{ kind: 'edit', edit: { facet: 'json.schema', subject: shape.subject, value }, note: null }]).then(() => setText(null))
  if (text === null)
    return (
      <button
        type="button"
        className="btn btn-xs mt-0.5 block font-sans"
        onClick={() => setText(shape.value === null ? '{ "type": "object", "properties": {} }' : JSON.stringify(shape.value, null, 2))}
      >
        {shape.value === null ? 'Say its shape' : 'Its shape'}
      </button>
    )
  const keep = () => {
    const answer = parseJsonShape(text)
    setProblem(answer.ok ? null : answer.problem)
    if (answer.ok) say(answer.shape)
  }
  return (
    <div className="mt-0.5 font-sans">
      <textarea
        className="db textarea h-40 w-full min-w-44"
        aria-label={`Shape of ${column.name}, as JSON Schema`}
        spellCheck={false}
        value={text}
        onChange={(e) => setText(e.target.value)}
        aria-invalid={problem !== null}
      />
      {problem === null ? null : (
        <p role="alert" className="text-needs">
          {problem}
        </p>
      )}
      <p className="flex gap-1">
        <button type="button" className="btn btn-xs" onClick={keep}>
          Keep it
        </button>
        {shape.value === null ? null : (
          <button type="button" className="btn btn-xs" onClick={() => say(null)}>
            Any JSON
          </button>
        )}
        <button type="button" className="btn btn-xs" onClick={() => setText(null)}>
          Close
        </button>
      </p>
    </div>
  )
}

function NarrowColumns({ sheet, ...p }: ColumnsProps) {
  return (
    <ul>
      {sheet.columns.map((c) => (
        <li key={c.name} className="border-b border-rule py-0.5">
          <div className="flex flex-wrap items-baseline gap-x-2">
            <span className="db font-semibold break-words">
              <Breakable text={c.name} />
            </span>
            <span className="text-[0.88em] text-soft">{c.marks.join(', ')}</span>
            <ChangeColumn sheet={sheet} column={c.name} />
            <span className="ml-auto">
              <PropertyName column={c} {...p} />
            </span>
          </div>
          <p className="db text-[0.88em] break-words text-soft">
            {c.native}
            {c.required ? ' not null' : ''}
            {c.value === null ? '' : `, ${c.value}`} → {c.target}
          </p>
        </li>
      ))}
    </ul>
  )
}
