'use client'

import { useEffect, useState } from 'react'
import type { EntryBody } from '../../core/model/index.ts'
import { caseStyles, type NamingRule, namingRule, ruleText } from '../../core/names/index.ts'
import type { NamingView, Renaming } from '../../core/review/index.ts'
import { Breakable } from '../common/Breakable.tsx'

interface Props {
  readonly naming: NamingView
  /** Position of the ledger: what a rule would change depends on it. */
  readonly head: number
  readonly preview: (rule: NamingRule) => Promise<readonly Renaming[]>
  readonly onAppend: (entries: readonly EntryBody[]) => Promise<boolean>
  readonly onTakeBack: (seq: number) => void
  readonly onClose: () => void
}

const kinds = [
  ['word', 'A word or abbreviation, read as'],
  ['plural', 'An irregular plural'],
  ['prefix', 'A prefix of table names'],
  ['number', 'Singular or plural classes'],
  ['property', 'Letter case of properties'],
  ['file', 'Letter case of files'],
  ['acronym', 'Acronyms in names'],
] as const
type Kind = (typeof kinds)[number][0]

interface Form {
  readonly kind: Kind
  readonly schema: string
  readonly first: string
  readonly second: string
  readonly choice: string
}

const choices: Readonly<Record<Kind, readonly string[]>> = {
  word: [],
  plural: [],
  prefix: ['left out', 'kept'],
  number: ['singular', 'as written', 'by habit'],
  property: ['camelCase', 'snake_case'],
  file: caseStyles,
  acronym: ['Url', 'URL'],
}

/** What the form says; null while it is no whole rule. */
function ruleOf(f: Form): NamingRule | null {
  const first = f.first.trim().toLowerCase()
  const second = f.second.trim().toLowerCase()
  const said = {
    word: () => ({ rule: 'word', word: first, as: second.split(/[^\p{L}\p{N}]+/u).filter((w) => w !== '') }),
    plural: () => ({ rule: 'plural', one: first, many: second }),
    prefix: () => ({ rule: 'prefix', schema: f.schema, prefix: first, drop: f.choice === 'left out' }),
    number: () => ({ rule: 'number', schema: f.schema, tables: f.choice }),
    property: () => ({ rule: 'case', target: 'typescript', of: 'property', as: f.choice }),
    file: () => ({ rule: 'case', target: 'typescript', of: 'file', as: f.choice }),
    acronym: () => ({ rule: 'case', target: 'typescript', of: 'acronym', as: f.choice }),
  }[f.kind]()
  const parsed = namingRule.safeParse(said)
  return parsed.success ? parsed.data : null
}

/** Rules that names are proposed by: those in force, and a new one with all it would change before it is set. */
export function Names({ naming, head, preview, onAppend, onTakeBack, onClose }: Props) {
  const [form, setForm] = useState<Form>({ kind: 'word', schema: naming.schemas[0] ?? '', first: '', second: '', choice: '' })
  const rule = ruleOf(form)
  const text = rule === null ? '' : JSON.stringify(rule)
  const changes = usePreview(text, head, preview)
  const set = (part: Partial<Form>) => setForm((f) => ({ ...f, ...part }))
  return (
    <section aria-label="Naming rules" className="min-h-0 overflow-auto border-l border-rule px-4 py-3">
      <div className="flex items-baseline">
        <h2 className="flex-1 text-lg">Naming rules</h2>
        <button type="button" className="btn btn-xs" onClick={onClose}>
          Close
        </button>
      </div>
      <p className="mt-1 text-soft">They change names in the code only, never in the database. What somebody called something by hand stays.</p>
      <ul className="mt-2 space-y-1" aria-label="Rules in force">
        {naming.rules.map((r) => (
          <li key={r.seq} className="flex items-baseline gap-2">
            <span className="flex-1 font-serif text-base">{r.text}</span>
            <button type="button" className="btn btn-xs" onClick={() => onTakeBack(r.seq)} title={`Entry ${r.seq}, by ${r.by}`}>
              Take back
            </button>
          </li>
        ))}
        {naming.rules.length === 0 ? <li className="font-serif text-base text-soft">None yet: names follow what the schema shows.</li> : null}
      </ul>
      <h3 className="mt-4 border-b border-rule pb-0.5 font-sans text-sm font-semibold">A new rule</h3>
      <form
        className="mt-2 space-y-2"
        onSubmit={(e) => {
          e.preventDefault()
          if (rule) void onAppend([{ kind: 'naming', rule, note: null }]).then((taken) => taken && set({ first: '', second: '' }))
        }}
      >
        <label className="block">
          <span className="text-soft">About</span>
          <select
            className="select select-sm w-full"
            value={form.kind}
            onChange={(e) => set({ kind: e.target.value as Kind, choice: choices[e.target.value as Kind][0] ?? '', first: '', second: '' })}
          >
            {kinds.map(([k, label]) => (
              <option key={k} value={k}>
                {label}
              </option>
            ))}
          </select>
        </label>
        <Fields form={form} schemas={naming.schemas} onChange={set} />
        <button type="submit" className="btn btn-xs" disabled={rule === null}>
          Set the rule
        </button>
        {rule ? <span className="ml-2 text-soft">{ruleText(rule)}</span> : null}
      </form>
      {rule && changes ? <Changes changes={changes} /> : null}
    </section>
  )
}

function Fields({ form, schemas, onChange }: { readonly form: Form; readonly schemas: readonly string[]; readonly onChange: (part: Partial<Form>) => void }) {
  const { kind } = form
  const labels = { word: ['The word', 'Read as'], plural: ['One', 'Several'], prefix: ['Prefix'] } as Partial<Record<Kind, readonly [string, string?]>>
  const [first, second] = labels[kind] ?? []
  const ofSchema = (kind === 'prefix' || kind === 'number') && schemas.length > 1
  return (
    <>
      {ofSchema ? (
        <label className="block">
          <span className="text-soft">Schema</span>
          <select className="select select-sm w-full" value={form.schema} onChange={(e) => onChange({ schema: e.target.value })}>
            {schemas.map((s) => (
              <option key={s}>{s}</option>
            ))}
          </select>
        </label>
      ) : null}
      <div className="flex gap-2">
        {first === undefined ? null : <Word label={first} value={form.first} onChange={(v) => onChange({ first: v })} />}
        {second === undefined ? null : <Word label={second} value={form.second} onChange={(v) => onChange({ second: v })} />}
      </div>
      {choices[kind].length > 0 ? (
        <label className="block">
          <span className="text-soft">Is</span>
          <select className="select select-sm w-full" value={form.choice} onChange={(e) => onChange({ choice: e.target.value })}>
            {choices[kind].map((c) => (
              <option key={c}>{c}</option>
            ))}
          </select>
        </label>
      ) : null}
    </>
  )
}

const Word = ({ label, value, onChange }: { readonly label: string; readonly value: string; readonly onChange: (value: string) => void }) => (
  <label className="block min-w-0 flex-1">
    <span className="text-soft">{label}</span>
    <input className="input input-sm w-full" value={value} maxLength={200} onChange={(e) => onChange(e.target.value)} />
  </label>
)

/** What the rule written so would change; null until the worker has answered. */
function usePreview(text: string, head: number, preview: Props['preview']): readonly Renaming[] | null {
  const [changes, setChanges] = useState<readonly Renaming[] | null>(null)
  useEffect(() => {
    setChanges(null)
    if (text === '') return
    // Not at every letter: at 1,000 tables an answer takes a second of the worker.
    const wait = setTimeout(() => void preview(JSON.parse(text) as NamingRule).then(setChanges), 200)
    return () => clearTimeout(wait)
  }, [text, head, preview])
  return changes
}

const shownAtMost = 200

function Changes({ changes }: { readonly changes: readonly Renaming[] }) {
  if (changes.length === 0) return <p className="mt-3 text-soft">It would change no name.</p>
  return (
    <>
      <p className="mt-3">
        It would change {changes.length} {changes.length === 1 ? 'name' : 'names'}
        {changes.length > shownAtMost ? `; the first ${shownAtMost}:` : ':'}
      </p>
      <table className="mt-1 w-full text-[0.92em]" aria-label="What the rule would change">
        <tbody>
          {changes.slice(0, shownAtMost).map((c) => (
            <tr key={`${c.what} ${c.of} ${c.before}`} className="border-b border-rule align-baseline">
              <td className="pr-2 text-soft">{c.what}</td>
              <td className="db pr-2">
                <Breakable text={c.of === '' ? c.before : `${c.of}.${c.before}`} />
              </td>
              <td className="db">
                <Breakable text={c.after} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  )
}
