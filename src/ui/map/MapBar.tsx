'use client'

import { useId } from 'react'
import { isWholeMap, type MapWish, wholeMap } from '../../core/strata/index.ts'

interface Props {
  readonly wish: MapWish
  readonly onWish: (wish: MapWish) => void
  /** Every entity that can be found, by address. */
  readonly entities: readonly { readonly id: string; readonly name: string }[]
  readonly areas: readonly string[]
  readonly onFind: (id: string) => void
  readonly onFocus: () => void
  readonly onWay: () => void
  /** Name of the entity that a way begins at, while its end is not chosen. */
  readonly wayFrom: string | null
  readonly onExport: () => void
}

/** What is drawn of the map, in words, and what else could be. */
export function MapBar({ wish, onWish, entities, areas, onFind, onFocus, onWay, wayFrom, onExport }: Props) {
  const list = useId()
  const nameOf = (id: string) => entities.find((e) => e.id === id)?.name ?? id
  const find = (text: string) => {
    const wanted = text.trim().toLowerCase()
    const found = entities.find((e) => e.name.toLowerCase() === wanted || e.id.toLowerCase() === wanted)
    if (found) onFind(found.id)
    return found !== undefined
  }
  return (
    <div className="flex flex-wrap items-center gap-x-2 gap-y-1 border-b border-rule px-3 py-1 text-[0.92em]">
      <button type="button" className="btn btn-xs" aria-pressed={wish.focus !== null} onClick={onFocus} title="The selected entity and what is near it">
        <span className="key">F</span> Focus
      </button>
      {wish.focus ? (
        <span className="flex items-center gap-1">
          {wish.focus.ids.map(nameOf).join(', ')}, {wish.focus.depth} {wish.focus.depth === 1 ? 'step' : 'steps'}
          <button type="button" className="btn btn-xs" aria-label="One step less" onClick={() => onWish(deeper(wish, -1))} disabled={wish.focus.depth <= 1}>
            <span className="key">[</span>
          </button>
          <button type="button" className="btn btn-xs" aria-label="One step more" onClick={() => onWish(deeper(wish, 1))}>
            <span className="key">]</span>
          </button>
        </span>
      ) : null}
      <button
        type="button"
        className="btn btn-xs"
        aria-pressed={wish.path !== null}
        onClick={onWay}
        title="The shortest ways between two entities: choose one, press, choose the other, press again"
      >
        <span className="key">W</span>{' '}
        {wish.path ? `Way from ${nameOf(wish.path.from)} to ${nameOf(wish.path.to)}` : wayFrom ? `Way from ${nameOf(wayFrom)} to the selected` : 'Way'}
      </button>
      <select
        className="select select-xs w-auto max-w-36"
        aria-label="Area on the map"
        value={wish.area ?? ''}
        onChange={(e) => onWish({ ...wish, area: e.target.value === '' ? null : e.target.value })}
      >
        <option value="">all areas</option>
        {areas.map((a) => (
          <option key={a}>{a}</option>
        ))}
      </select>
      <Check
        label="not enforced"
        title="Only relationships that the database does not enforce"
        on={wish.undeclared}
        onChange={(undeclared) => onWish({ ...wish, undeclared })}
      />
      <Check
        label="hubs"
        title="Draw the lines of plates that everything refers to"
        on={wish.hubLines}
        onChange={(hubLines) => onWish({ ...wish, hubLines })}
      />
      <Check label="views" title="Draw views one by one" on={wish.views === 'all'} onChange={(all) => onWish({ ...wish, views: all ? 'all' : [] })} />
      <Check label="alone" title="Tables that stand alone" on={wish.alone} onChange={(alone) => onWish({ ...wish, alone })} />
      {isWholeMap(wish) ? null : (
        <button type="button" className="btn btn-xs" onClick={() => onWish(wholeMap)}>
          All again
        </button>
      )}
      <input
        className="input input-xs ml-auto w-24"
        placeholder="Find …"
        aria-label="Find on the map"
        list={list}
        onInput={(e) => {
          if (find(e.currentTarget.value)) e.currentTarget.select()
        }}
        onKeyDown={(e) => {
          if (e.key === 'Enter') find(e.currentTarget.value)
        }}
      />
      <datalist id={list}>
        {entities.map((e) => (
          <option key={e.id} value={e.name}>
            {e.id}
          </option>
        ))}
      </datalist>
      <button type="button" className="btn btn-xs" onClick={onExport} title="What is drawn, as one SVG file">
        SVG
      </button>
    </div>
  )
}

/** Focus a step deeper, or less deep; never less than one. */
export const deeper = (wish: MapWish, by: number): MapWish =>
  wish.focus ? { ...wish, focus: { ...wish.focus, depth: Math.max(1, wish.focus.depth + by) } } : wish

function Check({ label, title, on, onChange }: { label: string; title: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <label className="flex items-center gap-1" title={title}>
      <input type="checkbox" className="checkbox checkbox-xs" checked={on} onChange={(e) => onChange(e.target.checked)} />
      {label}
    </label>
  )
}
