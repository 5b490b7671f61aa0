'use client'

import { type KeyboardEvent, useId, useState } from 'react'
import { completed, matching } from './completion.ts'

interface Props {
  readonly id: string
  readonly value: string
  readonly onChange: (value: string) => void
  readonly options: readonly string[]
  /** A list with commas; each part is completed by itself. */
  readonly many?: boolean
  readonly hint: string
}

/** A text field that offers what there is while one types; anything else can be typed as well. Keys as in the ARIA pattern of a combobox with a list. */
export function Completing({ id, value, onChange, options, many = false, hint }: Props) {
  const listId = useId()
  const [open, setOpen] = useState(false)
  const [at, setAt] = useState(-1)
  const found = open ? matching(value, options, many) : []
  const take = (option: string) => {
    onChange(completed(value, option, many))
    setOpen(false)
    setAt(-1)
  }
  const step = (by: number) => {
    setOpen(true)
    setAt((now) => Math.max(-1, Math.min(matching(value, options, many).length - 1, now + by)))
  }
  const keys = (e: KeyboardEvent) => {
    if (e.key === 'ArrowDown') step(1)
    else if (e.key === 'ArrowUp') step(-1)
    else if (e.key === 'Enter' && found[at] !== undefined) take(found[at])
    else if (e.key === 'Escape' && found.length > 0) setOpen(false)
    else return
    e.preventDefault()
    e.stopPropagation()
  }
  return (
    <div className="min-w-0">
      <input
        id={id}
        role="combobox"
        aria-expanded={found.length > 0}
        aria-controls={found.length > 0 ? listId : undefined}
        aria-autocomplete="list"
        aria-activedescendant={at >= 0 ? `${listId}-${at}` : undefined}
        autoComplete="off"
        spellCheck={false}
        className="db input input-sm w-full"
        placeholder={hint}
        value={value}
        onChange={(e) => {
          onChange(e.target.value)
          setOpen(true)
          setAt(-1)
        }}
        onKeyDown={keys}
        onBlur={() => setOpen(false)}
      />
      {found.length === 0 ? null : (
        <div id={listId} role="listbox" aria-label="What there is" className="max-h-36 overflow-auto border border-t-0 border-rule bg-card">
          {found.map((option, i) => (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the field above has the keys
            <div
              key={option}
              id={`${listId}-${i}`}
              role="option"
              tabIndex={-1}
              aria-selected={i === at}
              ref={i === at ? (line) => line?.scrollIntoView({ block: 'nearest' }) : undefined}
              // The field keeps the focus, so that the click is not lost to its blur.
              onMouseDown={(e) => e.preventDefault()}
              onClick={() => take(option)}
              className={`db cursor-pointer border-l-4 px-2 break-words ${i === at ? 'border-l-needs' : 'border-l-transparent hover:bg-paper'}`}
            >
              {option}
            </div>
          ))}
        </div>
      )}
    </div>
  )
}
