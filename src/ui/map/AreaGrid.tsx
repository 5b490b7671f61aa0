'use client'

import { useMemo } from 'react'
import type { Heading } from '../../core/review/index.ts'
import type { Band, Scene } from '../../core/strata/index.ts'

interface Props {
  readonly scene: Scene
  readonly progress: readonly Heading[]
  /** Look at one area on the map. */
  readonly onArea: (band: Band) => void
}

/** A map too large to be seen at once, as its areas: how many tables, how far their review is, and what they are linked to most. */
export function AreaGrid({ scene, progress, onArea }: Props) {
  const links = useMemo(() => linksOf(scene), [scene])
  const bands = [scene.edge, ...scene.bands, scene.strip].filter((b) => b !== null)
  return (
    <ul
      aria-label="Areas"
      className="absolute inset-0 grid grid-cols-[repeat(auto-fill,minmax(180px,1fr))] content-start gap-2 overflow-auto bg-paper p-3 pb-16"
    >
      {bands.map((b) => {
        const p = progress.find((h) => h.text === b.area)
        return (
          <li key={b.area}>
            <button type="button" className="block h-full w-full border border-rule bg-card px-2 py-1.5 text-left hover:border-ink" onClick={() => onArea(b)}>
              <span className="block font-serif text-[15px] font-semibold break-words">{b.area}</span>
              <span className="block text-soft">
                {b.count} {b.count === 1 ? 'table' : 'tables'}
                {p && p.open > 0 ? <span className="text-needs">, {p.open} open</span> : ''}
                {p && p.asked > 0 ? `, ${p.asked} asked` : ''}
              </span>
              <Thumbnail scene={scene} band={b} />
              {(links.get(b.area) ?? []).slice(0, 3).map(([other, n]) => (
                <span key={other} className="block truncate text-[0.88em] text-soft" title={other}>
                  {n} to {other}
                </span>
              ))}
            </button>
          </li>
        )
      })}
    </ul>
  )
}

function Thumbnail({ scene, band }: { scene: Scene; band: Band }) {
  const own = scene.plates.filter((p) => p.y >= band.y && p.y < band.y + band.height)
  const x0 = Math.min(...own.map((p) => p.x))
  const x1 = Math.max(...own.map((p) => p.x + p.width))
  return (
    <svg
      className="overview my-1 block h-12 w-full"
      viewBox={`${x0} ${band.y} ${x1 - x0} ${band.height}`}
      preserveAspectRatio="xMinYMid meet"
      aria-hidden="true"
    >
      <path className="all" d={own.map((p) => `M${p.x} ${p.y}h${p.width}v${p.height}h${-p.width}z`).join('')} />
    </svg>
  )
}

/** Other areas by how many lines and beads lead there, most first. */
function linksOf(scene: Scene): ReadonlyMap<string, readonly (readonly [string, number])[]> {
  const area = new Map(scene.plates.map((p) => [p.id, p.area]))
  const counts = new Map<string, Map<string, number>>()
  const add = (a: string, b: string) => {
    const of = counts.get(a) ?? new Map<string, number>()
    of.set(b, (of.get(b) ?? 0) + 1)
    counts.set(a, of)
  }
  for (const [x, y] of [...scene.lines.map((l) => [l.child, l.parent]), ...scene.beads.map((b) => [b.first, b.second])]) {
    const [a, b] = [area.get(x as string), area.get(y as string)]
    if (!a || !b || a === b) continue
    add(a, b)
    add(b, a)
  }
  return new Map([...counts].map(([a, of]) => [a, [...of].sort((x, y) => y[1] - x[1] || (x[0] < y[0] ? -1 : 1))]))
}
