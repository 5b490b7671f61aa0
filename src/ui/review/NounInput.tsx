'use client'

import { useEffect, useRef, useState } from 'react'
import type { EditableName, RenameCheck } from '../../core/review/index.ts'

interface Props {
  readonly name: EditableName
  readonly shown: string
  readonly editing: boolean
  readonly onEdit: (on: boolean) => void
  readonly onSave: (value: string) => Promise<boolean>
  /** What a name would come to, asked while it is typed. */
  readonly check: (name: EditableName, wanted: string) => Promise<RenameCheck | null>
}

const pause = 150

/** A name edited where it stands: click or M, Enter keeps, Escape leaves. The database is not touched. */
export function NounInput({ name, shown, editing, onEdit, onSave, check }: Props) {
  const [value, setValue] = useState(name.value)
  const [told, setTold] = useState<{ readonly of: string; readonly check: RenameCheck } | null>(null)
  const input = useRef<HTMLInputElement>(null)
  useEffect(() => {
    if (!editing) return
    setValue(name.value)
    setTold(null)
    input.current?.focus()
    input.current?.select()
  }, [editing, name.value])
  const latest = useRef({ name, check })
  latest.current = { name, check }
  useEffect(() => {
    if (!editing || value === latest.current.name.value) return
    const timer = setTimeout(() => {
      void latest.current.check(latest.current.name, value).then((found) => found && setTold({ of: value, check: found }))
    }, pause)
    return () => clearTimeout(timer)
  }, [editing, value])
  if (!editing) {
    return (
      <button type="button" className="noun" onClick={() => onEdit(true)} title={`Rename ${name.label} (no schema change)`}>
        {shown}
      </button>
    )
  }
  const save = async () => {
    if (value === name.value || (await onSave(value))) onEdit(false)
  }
  const now = told?.of === value && value !== name.value ? told.check : null
  const proposal = now?.proposal ?? null
  return (
    <span className="inline-block max-w-full align-top">
      <input
        ref={input}
        aria-label={`New name for ${name.label}`}
        aria-describedby="rename-told"
        className="input input-xs db w-44"
        value={value}
        onChange={(e) => setValue(e.target.value)}
        onBlur={() => onEdit(false)}
        onKeyDown={(e) => {
          e.stopPropagation()
          if (e.key === 'Enter') void save()
          if (e.key === 'Escape') onEdit(false)
          if (e.key === 'ArrowDown' && proposal !== null) {
            e.preventDefault()
            setValue(proposal)
          }
        }}
      />
      <span id="rename-told" role="status" className="block font-sans text-[0.8rem] leading-snug">
        {now?.problem ? <span className="block text-needs">{now.problem}.</span> : null}
        {now?.remark ? <span className="block text-needs">{now.remark}.</span> : null}
        {proposal === null ? null : (
          <span className="block">
            <span className="key">↓</span> <span className="db">{proposal}</span>
          </span>
        )}
        {now && now.problem === null ? (
          <span className="block text-soft">
            {now.touches.length === 0
              ? 'No file changes.'
              : `Touches ${now.touches.slice(0, 4).join(', ')}${now.touches.length > 4 ? ` and ${now.touches.length - 4} more` : ''}.`}{' '}
            No schema change.
          </span>
        ) : null}
      </span>
    </span>
  )
}
