'use client'

import { useId, useState } from 'react'
import type { EntryBody } from '../../core/model/index.ts'
import { areaEntry, type Detail } from '../../core/review/index.ts'

interface Props {
  readonly subject: string
  readonly area: NonNullable<Detail['area']>
  readonly onAppend: (entries: readonly EntryBody[]) => Promise<boolean>
}

/** The subject area a table stands in on the map: chosen among those there are, or a new one. */
export function AreaChoice({ subject, area, onAppend }: Props) {
  const list = useId()
  const [text, setText] = useState(area.name ?? '')
  const wanted = text.trim()
  const keep = () => {
    if (wanted !== '' && wanted !== area.name) void onAppend([areaEntry(subject, wanted)])
  }
  return (
    <form
      className="mt-4"
      onSubmit={(e) => {
        e.preventDefault()
        keep()
      }}
    >
      <h3 className="border-b border-rule pb-0.5 font-sans text-sm font-semibold">Area on the map</h3>
      <div className="mt-1 flex items-center gap-2">
        <input
          className="input input-xs flex-1"
          aria-label="Area on the map"
          list={list}
          maxLength={60}
          value={text}
          placeholder="stands alone"
          onChange={(e) => setText(e.target.value)}
        />
        <datalist id={list}>
          {area.all.map((a) => (
            <option key={a}>{a}</option>
          ))}
        </datalist>
        <button type="submit" className="btn btn-xs" disabled={wanted === '' || wanted === area.name}>
          Move there
        </button>
        {area.ruled ? (
          <button type="button" className="btn btn-xs" onClick={() => void onAppend([areaEntry(subject, null)])}>
            As proposed
          </button>
        ) : null}
      </div>
      <p className="text-soft">Only the map changes.</p>
    </form>
  )
}
