'use client'

import Link from 'next/link'
import { useEffect, useId, useState } from 'react'
import type { ChangeChoices, SchemaEdit, Thing } from '../../core/change/index.ts'
import type { EditPreview } from '../../core/lineage/index.ts'
import { get, post } from '../common/api.ts'
import { Breakable } from '../common/Breakable.tsx'
import { Complaint } from '../common/Complaint.tsx'
import { useSend } from '../common/useSend.ts'
import { Completing } from './Completing.tsx'
import { type EditKind, type EditKindName, editKinds, type Field, filled, kindsFor, type Values } from './kinds.ts'
import { Preview } from './Preview.tsx'

interface Props {
  readonly projectId: string
  readonly thing: Thing
  readonly onClose: () => void
}

const titleOf = (thing: Thing): string =>
  thing.table === null
    ? 'A new table'
    : thing.part !== null
      ? `${thing.part} of ${thing.table}`
      : thing.columns.length > 0
        ? `${thing.table}(${thing.columns.join(', ')})`
        : thing.table

/** A change of one thing: which, its fields with what there is to choose from, and what it comes to, while it is typed. */
export function ChangeForm({ projectId, thing, onClose }: Props) {
  const [choices, again] = useChoices(projectId, thing.table)
  const [asked, setAsked] = useState<string | null>(null)
  return (
    <div className="px-4 py-3">
      <div className="flex items-baseline gap-2">
        <h2 className="min-w-0 flex-1 text-lg break-words">
          <span className="font-sans text-base text-soft">Change </span>
          <Breakable text={titleOf(thing)} />
        </h2>
        <button type="button" className="btn btn-xs" onClick={onClose}>
          <span className="key">Esc</span> Close
        </button>
      </div>
      {asked === null ? null : (
        <p role="status" className="mt-1 border-l-4 border-settled bg-card px-2 py-1 break-words">
          Asked for: {asked}. It stands under{' '}
          <Link className="link" href={`/p/${projectId}/plan?plan=draft`} onClick={onClose}>
            Plan
          </Link>
          .
        </p>
      )}
      {choices === 'reading' ? (
        <p className="mt-2 text-soft">Reading what there is …</p>
      ) : choices === null ? (
        <p className="mt-2 text-needs">What there is could not be read. Close this, and try again.</p>
      ) : thing.table !== null && choices.of === null ? (
        <p className="mt-2 font-serif text-base">There is no table {thing.table} any more: the changes that are asked for drop or rename it. See Plan.</p>
      ) : (
        <Form
          key={choices.head}
          projectId={projectId}
          thing={thing}
          choices={choices}
          onAsked={(says) => {
            setAsked(says)
            again()
          }}
        />
      )}
    </div>
  )
}

/** With those changes made that are asked for already. */
function useChoices(projectId: string, table: string | null): readonly [ChangeChoices | null | 'reading', () => void] {
  const [choices, setChoices] = useState<ChangeChoices | null | 'reading'>('reading')
  const [turn, setTurn] = useState(0)
  useEffect(() => {
    let current = true
    const query = table === null ? '' : `?${new URLSearchParams({ table })}`
    void get<ChangeChoices>(`/api/projects/${projectId}/changes${query}`).then((found) => current && setChoices(found))
    return () => {
      current = false
    }
  }, [projectId, table, turn])
  const again = () => {
    // What is typed before it is read would be lost.
    setChoices('reading')
    setTurn((n) => n + 1)
  }
  return [choices, again]
}

const groups: readonly EditKind['about'][] = ['A column', 'References and keys', 'Indexes', 'The table', 'A new table']

function Form({ projectId, thing, choices, onAsked }: Omit<Props, 'onClose'> & { readonly choices: ChangeChoices; readonly onAsked: (says: string) => void }) {
  const kinds = kindsFor(thing, choices.of)
  const only = kinds.length === 1 ? (kinds[0] as EditKindName) : null
  const [kind, setKind] = useState<EditKindName | null>(only)
  const [values, setValues] = useState<Values>(() => (only === null ? {} : filled(only, {}, thing, choices)))
  const { wording, busy, send } = useSend()
  const id = useId()
  const edit: SchemaEdit | null = kind === null ? null : editKinds[kind].edit(values)
  const preview = usePreview(projectId, edit)
  const ok = preview?.parts.every((p) => p.is === 'planned') ?? false
  const choose = (next: EditKindName) => {
    setKind(next)
    setValues(filled(next, {}, thing, choices))
  }
  const type = (f: Field, v: string) => {
    const now = { ...values, [f.name]: v }
    setValues(kind !== null && (f.kind === 'column' || f.kind === 'table') ? filled(kind, now, thing, choices) : now)
  }
  const ask = async (e: SchemaEdit) => {
    const done = await send(`/api/projects/${projectId}/ledger`, { entries: [{ kind: 'schema-edit', edits: [e], note: null }], seen: choices.head })
    if (done) onAsked(preview?.parts.map((p) => p.says).join('; ') ?? '')
  }
  return (
    <form
      aria-label="A change of the database"
      className="mt-2"
      onSubmit={(event) => {
        event.preventDefault()
        if (edit && ok) void ask(edit)
      }}
    >
      <div className="grid grid-cols-[8rem_1fr] items-center gap-2">
        <label htmlFor={id} className="text-soft">
          What changes
        </label>
        {/* biome-ignore lint/a11y/noAutofocus: the form was asked for by the press that opened it */}
        <select id={id} autoFocus className="select select-sm w-full" value={kind ?? ''} onChange={(e) => choose(e.target.value as EditKindName)}>
          {only === null ? (
            <option value="" disabled>
              Choose
            </option>
          ) : null}
          {groups.map((g) => {
            const own = kinds.filter((k) => editKinds[k].about === g)
            return own.length === 0 ? null : (
              <optgroup key={g} label={g}>
                {own.map((k) => (
                  <option key={k} value={k}>
                    {editKinds[k].label}
                  </option>
                ))}
              </optgroup>
            )
          })}
        </select>
      </div>
      {kind === null
        ? null
        : editKinds[kind].fields.map((f: Field) => (
            <FieldRow
              key={`${kind} ${f.name}`}
              field={f}
              value={values[f.name] ?? ''}
              choices={choices}
              target={values['target'] ?? ''}
              projectId={projectId}
              onChange={(v) => type(f, v)}
            />
          ))}
      {preview ? <Preview preview={preview} /> : null}
      {wording ? <Complaint wording={wording} /> : null}
      <p className="mt-3">
        <button type="submit" className="btn btn-sm btn-primary" disabled={!edit || !ok || busy}>
          Ask for it
        </button>
      </p>
    </form>
  )
}

interface FieldProps {
  readonly projectId: string
  readonly field: Field
  readonly value: string
  readonly choices: ChangeChoices
  /** The table that is referred to, as far as it is typed. */
  readonly target: string
  readonly onChange: (v: string) => void
}

function FieldRow(p: FieldProps) {
  const id = useId()
  const { field, value, onChange } = p
  if (field.kind === 'yes')
    return (
      <label className="mt-1 ml-[8.5rem] flex items-center gap-2">
        <input type="checkbox" className="checkbox checkbox-xs" checked={value === 'yes'} onChange={(e) => onChange(e.target.checked ? 'yes' : '')} />{' '}
        {field.label}
      </label>
    )
  return (
    <div className="mt-1 grid grid-cols-[8rem_1fr] items-start gap-2">
      <label htmlFor={id} className="pt-0.5 text-soft">
        {field.label}
      </label>
      <FieldInput id={id} {...p} />
    </div>
  )
}

const actions = ['no action', 'restrict', 'cascade', 'set null', 'set default']

function FieldInput({ id, projectId, field, value, choices, target, onChange }: FieldProps & { readonly id: string }) {
  const { of } = choices
  const choice = (list: readonly (readonly [value: string, says: string])[], empty: boolean) => (
    <select id={id} className="db select select-sm w-full" value={value} onChange={(e) => onChange(e.target.value)}>
      {empty && value === '' ? (
        <option value="" disabled>
          Choose
        </option>
      ) : null}
      {list.map(([v, says]) => (
        <option key={v} value={v}>
          {says}
        </option>
      ))}
    </select>
  )
  const named = (list: readonly { readonly name: string; readonly says: string }[] = []) =>
    choice(
      list.map((x) => [x.name, `${x.name}: ${x.says}`]),
      true,
    )
  const completing = (options: readonly string[], many = false) => (
    <Completing id={id} value={value} onChange={onChange} options={options} many={many} hint={field.hint} />
  )
  switch (field.kind) {
    case 'column':
      return choice(of?.columns.map((c) => [c.name, `${c.name}  ${c.type}`]) ?? [], true)
    case 'columns':
      return completing(of?.columns.map((c) => c.name) ?? [], true)
    case 'table':
      return completing(choices.tables.map((t) => t.name))
    case 'target columns':
      return (
        <TargetColumns
          id={id}
          projectId={projectId}
          target={choices.tables.find((t) => t.name === target.trim())?.name ?? null}
          value={value}
          onChange={onChange}
          hint={field.hint}
        />
      )
    case 'type':
      return completing(choices.types)
    case 'in a schema':
      return completing(choices.schemas.map((s) => `${s}.`))
    case 'reference':
      return named(of?.references)
    case 'index':
      return named(of?.indexes)
    case 'unique':
      return named(of?.uniques)
    case 'action':
      return choice(
        actions.map((a) => [a, a]),
        false,
      )
    case 'long text':
      return <textarea id={id} rows={3} className="textarea w-full" placeholder={field.hint} value={value} onChange={(e) => onChange(e.target.value)} />
    default:
      return (
        <input
          id={id}
          className="db input input-sm w-full"
          autoComplete="off"
          placeholder={field.hint}
          value={value}
          onChange={(e) => onChange(e.target.value)}
        />
      )
  }
}

/** Columns of the table that is referred to. */
function TargetColumns({
  projectId,
  target,
  ...rest
}: { readonly projectId: string; readonly target: string | null } & Omit<Parameters<typeof Completing>[0], 'options' | 'many'>) {
  const [found] = useChoices(projectId, target)
  const of = found === 'reading' ? null : found?.of
  return <Completing {...rest} options={of?.columns.map((c) => c.name) ?? []} many />
}

/** What an edit comes to, a moment after the last key. */
function usePreview(projectId: string, edit: SchemaEdit | null): EditPreview | null {
  const [preview, setPreview] = useState<EditPreview | null>(null)
  const text = JSON.stringify(edit)
  useEffect(() => {
    setPreview(null)
    if (text === 'null') return
    const abort = new AbortController()
    const timer = setTimeout(() => {
      void post<EditPreview>(`/api/projects/${projectId}/changes`, { edits: [JSON.parse(text)] }, abort.signal).then(
        (a) => a.ok && !abort.signal.aborted && setPreview(a.value),
      )
    }, 250)
    return () => {
      clearTimeout(timer)
      abort.abort()
    }
  }, [projectId, text])
  return preview
}
