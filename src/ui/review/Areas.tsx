'use client'

import { useId, useState } from 'react'
import type { EntryBody } from '../../core/model/index.ts'
import type { AreaBlock, ReviewView } from '../../core/review/index.ts'
import { areaEntries, areaEntry } from '../../core/review/index.ts'
import type { SplitPart } from '../../core/strata/index.ts'
import { Breakable } from '../common/Breakable.tsx'
import { AsidePane } from './AsidePane.tsx'
import { areaRenaming } from './areaRenaming.ts'

interface Props {
  readonly view: ReviewView
  readonly chosen: string | null
  readonly split: (area: string) => Promise<readonly SplitPart[] | null>
  readonly onAppend: (entries: readonly EntryBody[]) => Promise<boolean>
  readonly onUndo: () => void
  readonly onClose: () => void
}

/** The areas of the map: each can be renamed, joined with another and split, and the chosen table moved. All of it are entries of the ledger. */
export function Areas({ view, chosen, split, onAppend, onUndo, onClose }: Props) {
  const [told, setTold] = useState('')
  const [parts, setParts] = useState<{ readonly area: string; readonly parts: readonly SplitPart[] } | null>(null)
  const append = async (entries: readonly EntryBody[], says: string) => {
    if (await onAppend(entries)) setTold(says)
  }
  const lookForParts = async (area: string) => {
    const found = await split(area)
    setParts(found && { area, parts: found })
    setTold(found ? '' : `${area} holds together: its tables refer to each other too much to be told apart.`)
  }
  const entity = chosen?.startsWith('entity:') ? chosen.slice('entity:'.length) : null
  return (
    <AsidePane title="Areas" onClose={onClose}>
      <p className="mt-1 text-soft">Only the map changes. Two areas of one name are one area.</p>
      <p role="status" className="mt-1 min-h-5">
        {told}
        {told === '' ? null : (
          <button type="button" className="btn btn-xs ml-2" onClick={onUndo}>
            <span className="key">U</span> Undo
          </button>
        )}
      </p>
      {entity === null ? null : (
        <Move key={entity} entity={entity} view={view} onMove={(area) => void append([areaEntry(entity, area)], `Moved to ${area}.`)} />
      )}
      <ul className="mt-3 space-y-1" aria-label="Areas of the map">
        {view.areaBlocks.map((b) => (
          <Area
            key={b.name}
            block={b}
            names={view.areas}
            onName={(name) =>
              void append(areaRenaming(b, name), view.areas.includes(name) ? `${b.name} is part of ${name} now.` : `${b.name} is called ${name} now.`)
            }
            onSplit={() => void lookForParts(b.name)}
          />
        ))}
      </ul>
      {parts ? (
        <Parts
          key={parts.area}
          parts={parts.parts}
          entities={view.entities}
          onSplit={(named) => {
            setParts(null)
            const batch = crypto.randomUUID()
            void append(
              named.slice(1).flatMap((p) => areaEntries(p.tables, p.name, batch)),
              `${parts.area} is ${named.length} areas now.`,
            )
          }}
          onLeave={() => setParts(null)}
        />
      ) : null}
    </AsidePane>
  )
}

interface AreaProps {
  readonly block: AreaBlock
  readonly names: readonly string[]
  readonly onName: (name: string) => void
  readonly onSplit: () => void
}

function Area({ block, names, onName, onSplit }: AreaProps) {
  const [text, setText] = useState(block.name)
  const wanted = text.trim()
  const changed = wanted !== '' && wanted !== block.name
  const joins = changed && names.includes(wanted)
  return (
    <li>
      <form
        className="flex items-center gap-2"
        onSubmit={(e) => {
          e.preventDefault()
          if (changed) onName(wanted)
        }}
      >
        <input
          className="input input-xs min-w-0 flex-1"
          aria-label={`Name of the area ${block.name}`}
          maxLength={60}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
        <span className="w-8 text-right text-soft tabular-nums">{block.count}</span>
        {changed ? (
          <button type="submit" className="btn btn-xs">
            {joins ? 'Join' : 'Rename'}
          </button>
        ) : (
          <button type="button" className="btn btn-xs" onClick={onSplit} disabled={block.count < 4} aria-label={`Split ${block.name}`}>
            Split …
          </button>
        )}
      </form>
    </li>
  )
}

function Move({ entity, view, onMove }: { readonly entity: string; readonly view: ReviewView; readonly onMove: (area: string) => void }) {
  const list = useId()
  const [text, setText] = useState('')
  const wanted = text.trim()
  const name = view.entities.find((e) => e.id === entity)?.name ?? entity
  return (
    <form
      className="mt-2 flex items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault()
        if (wanted !== '') onMove(wanted)
      }}
    >
      <label className="flex min-w-0 flex-1 items-center gap-2">
        <span className="min-w-0 break-words">
          Move <b>{name}</b> to
        </span>
        <input className="input input-xs min-w-0 flex-1" list={list} maxLength={60} value={text} onChange={(e) => setText(e.target.value)} />
      </label>
      <datalist id={list}>
        {view.areas.map((a) => (
          <option key={a}>{a}</option>
        ))}
      </datalist>
      <button type="submit" className="btn btn-xs" disabled={wanted === ''}>
        Move
      </button>
    </form>
  )
}

interface PartsProps {
  readonly parts: readonly SplitPart[]
  readonly entities: ReviewView['entities']
  readonly onSplit: (parts: readonly SplitPart[]) => void
  readonly onLeave: () => void
}

/** What a split would make, with a name for each part; the first keeps the area's own. */
function Parts({ parts, entities, onSplit, onLeave }: PartsProps) {
  const [names, setNames] = useState(parts.map((p) => p.name))
  const nameOf = new Map(entities.map((e) => [e.id, e.name]))
  const complete = names.every((n) => n.trim() !== '') && new Set(names.map((n) => n.trim())).size === names.length
  return (
    <form
      className="mt-4 border-t border-ink pt-2"
      aria-label={`Split ${parts[0]?.name}`}
      onSubmit={(e) => {
        e.preventDefault()
        if (complete) onSplit(parts.map((p, i) => ({ ...p, name: (names[i] as string).trim() })))
      }}
    >
      <h3 className="font-sans text-sm font-semibold">
        {parts[0]?.name} in {parts.length} areas
      </h3>
      {parts.map((p, i) => (
        <div key={p.tables[0]} className="mt-2">
          {i === 0 ? (
            <b>{p.name}</b>
          ) : (
            <input
              className="input input-xs w-full"
              aria-label={`Name of part ${i + 1}`}
              maxLength={60}
              value={names[i]}
              onChange={(e) => setNames(names.map((n, k) => (k === i ? e.target.value : n)))}
            />
          )}
          <p className="text-soft break-words">
            <Breakable text={p.tables.map((t) => nameOf.get(t) ?? t).join(', ')} />
          </p>
        </div>
      ))}
      <p className="mt-2 flex gap-2">
        <button type="submit" className="btn btn-xs" disabled={!complete}>
          Split
        </button>
        <button type="button" className="btn btn-xs" onClick={onLeave}>
          Leave it
        </button>
      </p>
    </form>
  )
}
