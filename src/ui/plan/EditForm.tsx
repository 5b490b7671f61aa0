'use client'

import { useEffect, useId, useState } from 'react'
import type { SchemaEdit } from '../../core/change/index.ts'
import type { EditPreview } from '../../core/lineage/index.ts'
import { post } from '../common/api.ts'
import { Complaint } from '../common/Complaint.tsx'
import { useSend } from '../common/useSend.ts'
import { type EditKind, type EditKindName, editKinds, type Field } from './editKinds.ts'

interface Props {
  readonly projectId: string
  readonly head: number
}

/** A schema edit by hand; what it comes to stands there while it is typed. */
export function EditForm({ projectId, head }: Props) {
  const [kind, setKind] = useState<EditKindName>('declare reference')
  const [values, setValues] = useState<Readonly<Record<string, string>>>({})
  const { wording, busy, send } = useSend()
  const form: EditKind = editKinds[kind]
  const edit = form.edit(values)
  const preview = usePreview(projectId, edit)
  const ok = preview?.parts.every((p) => p.is === 'planned') ?? false
  return (
    <form
      aria-label="A schema change by hand"
      className="mt-2 border-t border-rule pt-2"
      onSubmit={(event) => {
        event.preventDefault()
        if (edit)
          void send(`/api/projects/${projectId}/ledger`, { entries: [{ kind: 'schema-edit', edits: [edit], note: null }], seen: head }).then(
            (done) => done && setValues({}),
          )
      }}
    >
      <label className="block">
        <span className="text-soft">Ask for another</span>
        <select className="select select-sm w-full" value={kind} onChange={(e) => setKind(e.target.value as EditKindName)}>
          {(Object.entries(editKinds) as [EditKindName, EditKind][]).map(([name, k]) => (
            <option key={name} value={name}>
              {k.label}
            </option>
          ))}
        </select>
      </label>
      {form.fields.map((f) => (
        <FieldRow key={f.name} field={f} value={values[f.name] ?? ''} onChange={(v) => setValues((now) => ({ ...now, [f.name]: v }))} />
      ))}
      {preview ? <Preview preview={preview} /> : null}
      {wording ? <Complaint wording={wording} /> : null}
      <button type="submit" className="btn btn-sm btn-primary mt-2" disabled={!edit || !ok || busy}>
        Take it into the plan
      </button>
    </form>
  )
}

function FieldRow({ field, value, onChange }: { field: Field; value: string; onChange: (v: string) => void }) {
  const id = useId()
  if (field.kind === 'yes')
    return (
      <label className="mt-1 flex items-center gap-2">
        <input type="checkbox" className="checkbox checkbox-xs" checked={value === 'yes'} onChange={(e) => onChange(e.target.checked ? 'yes' : '')} />{' '}
        {field.label}
      </label>
    )
  return (
    <div className="mt-1 grid grid-cols-[7.5rem_1fr] items-center gap-2">
      <label htmlFor={id} className="text-soft">
        {field.label}
      </label>
      {field.kind === 'action' ? (
        <select id={id} className="select select-xs w-full" value={value} onChange={(e) => onChange(e.target.value)}>
          {['no action', 'restrict', 'cascade', 'set null', 'set default'].map((a) => (
            <option key={a}>{a}</option>
          ))}
        </select>
      ) : (
        <input id={id} className="db input input-xs w-full" placeholder={field.hint} value={value} onChange={(e) => onChange(e.target.value)} />
      )}
    </div>
  )
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

/** `Schema change:` and what it comes to. */
export function Preview({ preview }: { preview: EditPreview }) {
  return (
    <div aria-live="polite" className="mt-2 border-l-4 border-rule bg-card px-2 py-1">
      {preview.parts.map((p) => (
        <p key={p.says}>
          <b>Schema change:</b> {p.says}.{' '}
          {p.is === 'there' ? (
            <span className="text-soft">The database has it already.</span>
          ) : p.is === 'refused' ? (
            <span className="text-needs">Not possible: {p.because}.</span>
          ) : null}
        </p>
      ))}
      {preview.steps.length > 0 ? (
        <p className="text-soft">
          {preview.steps.length === 1 ? 'One step' : `${preview.steps.length} steps`}: {preview.steps.join('; ')}.
        </p>
      ) : null}
      {preview.hazards.map((h) => (
        <p key={h} className="text-needs">
          ▲ {h}
        </p>
      ))}
    </div>
  )
}
