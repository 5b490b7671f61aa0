'use client'

import { useEffect, useRef, useState } from 'react'
import type { EditableName } from '../../core/review/index.ts'

/** A name edited where it stands: click or M, Enter keeps, Escape leaves. The database is not touched. */
export function NounInput({
  name,
  shown,
  editing,
  onEdit,
  onSave,
}: {
  name: EditableName
  shown: string
  editing: boolean
  onEdit: (on: boolean) => void
  onSave: (value: string) => Promise<boolean>
}) {
  const [value, setValue] = useState(name.value)
  const input = useRef<HTMLInputElement>(null)
  useEffect(() => {
    if (!editing) return
    setValue(name.value)
    input.current?.focus()
    input.current?.select()
  }, [editing, name.value])
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
  return (
    <input
      ref={input}
      aria-label={`New name for ${name.label}`}
      className="input input-xs db w-44"
      value={value}
      onChange={(e) => setValue(e.target.value)}
      onBlur={() => onEdit(false)}
      onKeyDown={(e) => {
        e.stopPropagation()
        if (e.key === 'Enter') void save()
        if (e.key === 'Escape') onEdit(false)
      }}
    />
  )
}
