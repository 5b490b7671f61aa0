'use client'

import Link from 'next/link'
import { useState } from 'react'
import { type TypescriptSettings, typescriptSettings } from '../../core/model/index.ts'
import { type Answer, post } from '../common/api.ts'
import { Complaint } from '../common/Complaint.tsx'
import { useSend } from '../common/useSend.ts'

interface Preview {
  readonly added: readonly string[]
  readonly gone: readonly string[]
  readonly changed: readonly string[]
}

const choices = {
  indent: ['2 spaces', '4 spaces', 'tab'],
  lineEnds: ['LF', 'CRLF'],
  imports: ['.js', '.ts', 'nothing'],
} as const satisfies { readonly [K in keyof TypescriptSettings]?: readonly TypescriptSettings[K][] }

const labels: Readonly<Record<keyof TypescriptSettings, string>> = {
  base: 'Folder of what is rewritten',
  packageName: 'Name in package.json',
  indent: 'Indented by',
  lineEnds: 'Lines end with',
  imports: 'Imports end with',
}

/** How the files are laid out: shown what it comes to, then kept as an entry of the ledger. */
export function Settings({ projectId, settings, head }: { readonly projectId: string; readonly settings: TypescriptSettings; readonly head: number }) {
  const [wanted, setWanted] = useState(settings)
  const [preview, setPreview] = useState<{ readonly of: string; readonly answer: Answer<Preview> } | null>(null)
  const { wording, busy, send } = useSend()
  const key = JSON.stringify(wanted)
  const parsed = typescriptSettings.safeParse(wanted)
  const isOther = key !== JSON.stringify(settings)
  const set = <K extends keyof TypescriptSettings>(name: K, value: TypescriptSettings[K]) => setWanted({ ...wanted, [name]: value })
  const look = () => void post<Preview>(`/api/projects/${projectId}/settings`, { settings: wanted }).then((answer) => setPreview({ of: key, answer }))
  const keep = () =>
    void send(`/api/projects/${projectId}/ledger`, { entries: [{ kind: 'settings', target: 'typescript', settings: wanted, note: null }], seen: head })
  return (
    <details className="mt-1">
      <summary className="cursor-pointer text-soft">Layout: folders, package, style</summary>
      <form
        aria-label="Layout of the code"
        className="mt-1 flex flex-wrap items-end gap-3"
        onSubmit={(e) => {
          e.preventDefault()
          look()
        }}
      >
        <label className="grid">
          <span className="text-soft">{labels.base}</span>
          <input className="db input input-sm w-36" value={wanted.base} onChange={(e) => set('base', e.target.value)} />
        </label>
        <label className="grid">
          <span className="text-soft">{labels.packageName}</span>
          <input
            className="db input input-sm w-44"
            placeholder="no package.json"
            value={wanted.packageName ?? ''}
            onChange={(e) => set('packageName', e.target.value === '' ? null : e.target.value)}
          />
        </label>
        {(Object.keys(choices) as (keyof typeof choices)[]).map((name) => (
          <label key={name} className="grid">
            <span className="text-soft">{labels[name]}</span>
            <select className="select select-sm w-28" value={wanted[name]} onChange={(e) => set(name, e.target.value as never)}>
              {choices[name].map((c) => (
                <option key={c}>{c}</option>
              ))}
            </select>
          </label>
        ))}
        <button type="submit" className="btn btn-sm" disabled={!isOther || !parsed.success}>
          Show what changes
        </button>
        {preview?.of === key && preview.answer.ok && isOther ? (
          <button type="button" className="btn btn-sm btn-primary" disabled={busy} onClick={keep}>
            Set it
          </button>
        ) : null}
      </form>
      {parsed.success ? null : <p className="text-needs">{parsed.error.issues[0]?.message}</p>}
      {preview?.of === key && isOther ? preview.answer.ok ? <Changes preview={preview.answer.value} /> : <Complaint wording={preview.answer.wording} /> : null}
      {wording ? <Complaint wording={wording} /> : null}
      <p className="text-soft">
        The letter case of files and members is a naming rule: <Link href={`/p/${projectId}/review`}>Review</Link>, Names.
      </p>
    </details>
  )
}

function Changes({ preview }: { readonly preview: Preview }) {
  const line = (what: string, list: readonly string[]) =>
    list.length === 0 ? null : (
      <li>
        {list.length} {what}: <span className="db text-soft">{list.slice(0, 6).join(', ')}</span>
        {list.length > 6 ? ` and ${list.length - 6} more` : ''}
      </li>
    )
  if (preview.added.length + preview.gone.length + preview.changed.length === 0) return <p role="status">No file would change.</p>
  return (
    <ul role="status" className="mt-1">
      {line('new', preview.added)}
      {line('no longer written', preview.gone)}
      {line('changed', preview.changed)}
    </ul>
  )
}
