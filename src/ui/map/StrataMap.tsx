'use client'

import { select } from 'd3-selection'
import { type ZoomBehavior, zoom, zoomIdentity } from 'd3-zoom'
import { memo, type Ref, type RefObject, useCallback, useEffect, useImperativeHandle, useMemo, useRef, useState } from 'react'
import type { Becomes } from '../../core/change/index.ts'
import type { Heading } from '../../core/review/index.ts'
import type { Box, Scene } from '../../core/strata/index.ts'
import { AreaGrid } from './AreaGrid.tsx'
import { Overview } from './Overview.tsx'
import { BandName, BandShape, BeadShape, KnotShape, LineShape, PlateShape } from './Shapes.tsx'

/** What others may ask of the map. */
export interface MapHandle {
  /** The selection in the middle, large enough to read. */
  readonly go: () => void
}

interface Props {
  readonly ref?: Ref<MapHandle>
  readonly scene: Scene
  readonly selected: string | null
  readonly plates: readonly string[]
  /** What a plan makes of plates, beads and lines, by id; all others are pale. */
  readonly becomes?: ReadonlyMap<string, Becomes> | undefined
  /** How far the review of each area is. */
  readonly progress: readonly Heading[]
  readonly onSelect: (id: string) => void
}

/** From here on names are at least 10 CSS pixels high. */
const readable = 0.7

/** Far: areas and plates. Middle: names and multiplicities. Near: tables and rows. Close: key columns and the names of ends. */
const levelOf = (k: number) => (k < readable ? 'far' : k < 1 ? 'middle' : k < 1.3 ? 'near' : 'close')

/** More shapes than this are drawn only where they are in view. */
const many = 500
const touches = (a: Box, b: Box) => a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height
const holds = (a: Box, b: Box) => a.x <= b.x && a.y <= b.y && a.x + a.width >= b.x + b.width && a.y + a.height >= b.y + b.height
/** A view and a third more on every side: what is drawn costs with every frame. */
const around = (b: Box): Box => ({ x: b.x - b.width / 3, y: b.y - b.height / 3, width: (b.width * 5) / 3, height: (b.height * 5) / 3 })
/** A band must be this high on the screen, in CSS pixels, for its name. */
const nameRoom = 60
const nobody: readonly string[] = []
const nothing: ReadonlyMap<string, Becomes> = new Map()
const unbounded: Box = { x: 0, y: 0, width: Number.MAX_VALUE, height: Number.MAX_VALUE }
const everything: Box = { x: Number.NEGATIVE_INFINITY, y: Number.NEGATIVE_INFINITY, width: Number.POSITIVE_INFINITY, height: Number.POSITIVE_INFINITY }

interface Drawn {
  /** What is drawn: the view, and some of what is around it. */
  readonly window: Box
  readonly far: boolean
  /** So far that the names of bands would cover each other: the areas stand in a grid instead. */
  readonly areas: boolean
}

/**
 * The map as one SVG. Panning and zooming set one attribute on one group; React renders on a new scene, and where the view leaves what is
 * drawn. A selection toggles classes on the few elements it touches.
 */
export function StrataMap({ ref, scene, selected, plates, becomes = nothing, progress, onSelect }: Props) {
  const svg = useRef<SVGSVGElement>(null)
  const group = useRef<SVGGElement>(null)
  const view = useRef<SVGRectElement>(null)
  const names = useRef<SVGGElement>(null)
  const behaviour = useRef<ZoomBehavior<SVGSVGElement, unknown> | null>(null)
  const size = useRef({ width: scene.width, height: scene.height })
  size.current = { width: scene.width, height: scene.height }
  const shown = useRef(scene.plates)
  shown.current = scene.plates
  const heavy = scene.plates.length + scene.lines.length + scene.beads.length > many
  const [drawn, setDrawn] = useState<Drawn>({ window: everything, far: false, areas: false })
  const latest = useRef({ heavy, drawn, bandHeight: 0 })
  latest.current = { heavy, drawn, bandHeight: scene.bands.length === 0 ? 0 : scene.height / scene.bands.length }

  /** Draw what has come into view. */
  const follow = useCallback(() => {
    const host = svg.current
    if (!host) return
    const t = host.__zoom
    const { width, height } = host.getBoundingClientRect()
    const now: Box = { x: -t.x / t.k, y: -t.y / t.k, width: width / t.k, height: height / t.k }
    const rect = view.current
    if (rect) {
      for (const [name, value] of Object.entries(now)) rect.setAttribute(name, String(Math.max(0, value)))
      const whole = now.x <= 0 && now.y <= 0 && now.x + now.width >= size.current.width && now.y + now.height >= size.current.height
      rect.ownerSVGElement?.classList.toggle('idle', whole)
    }
    const { heavy: culled, drawn: before } = latest.current
    const far = culled && levelOf(t.k) === 'far'
    const areas = culled && latest.current.bandHeight * t.k < nameRoom
    if (!culled) {
      if (before.window !== everything || before.far) setDrawn({ window: everything, far: false, areas: false })
    } else if (far !== before.far || areas !== before.areas || before.window === everything || (!far && !holds(before.window, now)))
      setDrawn({ far, areas, window: far ? unbounded : around(now) })
  }, [])

  const moveTo = useCallback((x: number, y: number, k: number) => {
    const host = svg.current
    if (!host || !behaviour.current) return
    select(host).call(behaviour.current.transform, zoomIdentity.translate(x, y).scale(k))
  }, [])
  const fit = useCallback(
    (toRead: boolean) => {
      const box = svg.current?.getBoundingClientRect()
      if (!box || size.current.width === 0) return
      const k = Math.min(1.1, (box.width - 16) / size.current.width)
      const whole = Math.min(k, (box.height - 40) / size.current.height)
      // A large map starts at its top, at a size one can read; the rest is a scroll away.
      const scale = toRead ? Math.max(whole, readable) : whole
      moveTo(Math.max(8, (box.width - size.current.width * scale) / 2), 8, scale)
    },
    [moveTo],
  )
  const centre = useCallback(
    (x: number, y: number, k: number) => {
      const box = svg.current?.getBoundingClientRect()
      if (box) moveTo(box.width / 2 - x * k, box.height / 2 - y * k, k)
    },
    [moveTo],
  )

  useEffect(() => {
    const host = svg.current
    if (!host) return
    behaviour.current = zoom<SVGSVGElement, unknown>()
      .scaleExtent([0.02, 2.5])
      .on('zoom', (event: { transform: { toString: () => string; k: number } }) => {
        group.current?.setAttribute('transform', event.transform.toString())
        const level = levelOf(event.transform.k)
        if (host.dataset['level'] !== level) host.dataset['level'] = level
        // Only the names of bands go by it: set on the map it would make every shape's style anew with every step.
        names.current?.style.setProperty('--k', String(event.transform.k))
        follow()
      })
    select(host).call(behaviour.current).on('dblclick.zoom', null)
    const resized = new ResizeObserver(follow)
    resized.observe(host)
    return () => {
      resized.disconnect()
      select(host).on('.zoom', null)
    }
  }, [follow])
  // Another part of the map, or other plates on it, is looked at from its beginning; a ruling moves no view.
  const shape = `${scene.plates.length} ${scene.bands.map((b) => b.area).join()}`
  useEffect(() => {
    if (shape !== '') fit(true)
  }, [fit, shape])

  // One listener for thousands of shapes; the docket is the keyboard's way to the same selection.
  useEffect(() => {
    const host = svg.current
    const choose = (event: MouseEvent) => {
      const id = (event.target as Element).closest<SVGGElement>('[data-select]')?.dataset['select']
      if (id !== undefined) return onSelect(id)
      // From far all plates are one shape.
      const t = host?.__zoom
      if (!host || !t || !(event.target as Element).classList.contains('plates')) return
      const box = host.getBoundingClientRect()
      const [x, y] = [(event.clientX - box.left - t.x) / t.k, (event.clientY - box.top - t.y) / t.k]
      const plate = shown.current.find((p) => p.x <= x && x <= p.x + p.width && p.y <= y && y <= p.y + p.height)
      if (plate) onSelect(`entity:${plate.id}`)
    }
    host?.addEventListener('click', choose)
    return () => host?.removeEventListener('click', choose)
  }, [onSelect])

  /** Bring the selected plates into view, moving no further than needed. */
  const reveal = useCallback(() => {
    const host = svg.current
    if (!host || !behaviour.current || plates.length === 0) return
    const own = scene.plates.filter((p) => plates.includes(p.id))
    if (own.length === 0) return
    const box = host.getBoundingClientRect()
    const t = host.__zoom
    const x0 = Math.min(...own.map((p) => p.x)) * t.k + t.x
    const x1 = Math.max(...own.map((p) => p.x + p.width)) * t.k + t.x
    const y0 = Math.min(...own.map((p) => p.y)) * t.k + t.y
    const y1 = Math.max(...own.map((p) => p.y + p.height)) * t.k + t.y
    const shift = (low: number, high: number, limit: number) => (low < 20 ? 20 - low : high > limit - 20 ? Math.max(20 - low, limit - 20 - high) : 0)
    const dx = shift(x0, x1, box.width)
    const dy = shift(y0, y1, box.height)
    if (dx !== 0 || dy !== 0) select(host).call(behaviour.current.translateBy, dx / t.k, dy / t.k)
  }, [plates, scene])
  useImperativeHandle(ref, () => ({
    go: () => {
      const own = scene.plates.filter((p) => plates.includes(p.id))
      const first = own[0]
      if (!first) return
      const [x0, x1] = [Math.min(...own.map((p) => p.x)), Math.max(...own.map((p) => p.x + p.width))]
      const [y0, y1] = [Math.min(...own.map((p) => p.y)), Math.max(...own.map((p) => p.y + p.height))]
      const box = svg.current?.getBoundingClientRect()
      const room = box ? Math.min((box.width - 40) / (x1 - x0), (box.height - 40) / (y1 - y0)) : 1
      centre((x0 + x1) / 2, (y0 + y1) / 2, Math.min(1.3, Math.max(readable, room)))
    },
  }))

  useEffect(() => {
    const host = svg.current
    if (!host || drawn.window.width === 0) return
    names.current?.style.setProperty('--k', String(host.__zoom.k))
    const lit = new Set(plates)
    for (const e of host.querySelectorAll<SVGGElement>('[data-id]')) {
      const id = e.dataset['id'] as string
      const isPlate = e.classList.contains('plate')
      const ids = e.dataset['ids']?.split('\n')
      e.classList.toggle(
        'chosen',
        id === selected ||
          (selected !== null && ids?.includes(selected) === true) ||
          (isPlate && selected === `entity:${id}`) ||
          (!isPlate && selected !== null && (selected === `join-table:${id}` || selected === `entity:${id}`)),
      )
      e.classList.toggle('near', isPlate && lit.has(id))
      e.classList.toggle(
        'touches',
        !isPlate && selected?.startsWith('entity:') === true && (lit.has(e.dataset['a'] as string) || lit.has(e.dataset['b'] as string)),
      )
    }
  }, [selected, plates, drawn])
  useEffect(reveal, [reveal])

  const zoomBy = (factor: number) => {
    if (!svg.current || !behaviour.current) return
    select(svg.current).call(behaviour.current.scaleBy, factor)
    reveal()
  }
  return (
    <section aria-label="Strata map" className="grid min-h-0 min-w-0 grid-rows-[minmax(0,1fr)_auto] bg-paper">
      <div className="relative min-h-0 overflow-hidden">
        <svg
          ref={svg}
          className={`strata${heavy ? ' heavy' : ''}${becomes.size > 0 ? ' planned' : ''} h-full w-full`}
          aria-label="Entities from left to right in the order they can be created, subject areas from top to bottom"
        >
          <title>Strata map</title>
          <g ref={group}>
            <Drawing scene={scene} drawn={drawn} lit={drawn.far ? plates : nobody} becomes={becomes} names={names} />
          </g>
        </svg>
        {drawn.areas ? (
          <AreaGrid
            scene={scene}
            progress={progress}
            onArea={(b) => {
              const own = scene.plates.filter((p) => p.y >= b.y && p.y < b.y + b.height)
              const left = Math.min(...own.map((p) => p.x))
              moveTo(16 - (left - 20) * readable, 8 - b.y * readable, readable)
            }}
          />
        ) : null}
        {scene.plates.length === 0 ? (
          <p className="absolute inset-0 p-6 font-serif text-base text-soft">Nothing is left to draw: show all again, or choose otherwise.</p>
        ) : null}
        <div className="absolute right-2 bottom-2 flex flex-col items-end gap-1">
          <Overview scene={scene} view={view} onGo={(x, y) => centre(x, y, svg.current?.__zoom.k ?? 1)} />
          <div className="flex gap-1">
            <button type="button" className="btn btn-xs" onClick={() => zoomBy(1.3)} aria-label="Zoom in">
              +
            </button>
            <button type="button" className="btn btn-xs" onClick={() => zoomBy(1 / 1.3)} aria-label="Zoom out">
              −
            </button>
            <button type="button" className="btn btn-xs" onClick={() => fit(false)}>
              Fit
            </button>
          </div>
        </div>
      </div>
      <Legend hubs={scene.edge !== null} />
    </section>
  )
}

declare global {
  interface SVGSVGElement {
    /** Kept here by d3-zoom. */
    __zoom: { readonly k: number; readonly x: number; readonly y: number }
  }
}

function Legend({ hubs }: { hubs: boolean }) {
  return (
    <p className="border-t border-rule px-3 py-0.5 text-[0.85em] text-soft">
      left before right · ── enforced · ─ ─ declared · ╌╌ model · ··· guessed · ○ join table · ● with columns{hubs ? ' · ▸ to a hub' : ''}
    </p>
  )
}

interface DrawingProps {
  readonly scene: Scene
  readonly drawn: Drawn
  /** From far: plates that stand out of the one shape all others are. */
  readonly lit: readonly string[]
  readonly becomes: ReadonlyMap<string, Becomes>
  readonly names: RefObject<SVGGElement | null>
}

const Drawing = memo(function Drawing({ scene, drawn, lit, becomes, names }: DrawingProps) {
  const bands = useMemo(() => [scene.edge, ...scene.bands, scene.strip].filter((b) => b !== null), [scene])
  const inView = useMemo(() => {
    const { window } = drawn
    const keep = <T extends Box>(list: readonly T[]) => (window === everything || drawn.far ? list : list.filter((b) => touches(b, window)))
    const keepBox = <T extends { readonly box: Box }>(list: readonly T[]) =>
      window === everything ? list : drawn.far ? [] : list.filter((l) => touches(l.box, window))
    return { plates: keep(scene.plates), lines: keepBox(scene.lines), beads: keepBox(scene.beads), knots: drawn.far ? [] : keep(scene.knots) }
  }, [scene, drawn])
  const outline = useMemo(() => (drawn.far ? scene.plates.map((p) => `M${p.x} ${p.y}h${p.width}v${p.height}h${-p.width}z`).join('') : ''), [scene, drawn.far])
  const bandNames = (
    <g ref={names}>
      {bands.map((b) => (
        <BandName key={b.area} band={b} />
      ))}
    </g>
  )
  return (
    <>
      {bands.map((b, i) => (
        <BandShape key={b.area} band={b} odd={i % 2 !== 0} />
      ))}
      {drawn.far ? <path className="plates" d={outline} /> : bandNames}
      {inView.knots.map((k) => (
        <KnotShape key={k.members.join()} knot={k} />
      ))}
      {inView.lines.map((l) => (
        <LineShape key={l.id} line={l} becomes={becomes.get(l.id)} />
      ))}
      {drawn.far
        ? inView.plates
            .filter((p) => lit.includes(p.id) || becomes.has(p.id))
            .map((p) => (
              <g key={p.id} className={`plate${p.readOnly ? ' read-only' : ''}`} data-id={p.id} data-select={`entity:${p.id}`} data-becomes={becomes.get(p.id)}>
                <rect x={p.x} y={p.y} width={p.width} height={p.height} />
              </g>
            ))
        : inView.plates.map((p) => <PlateShape key={p.id} plate={p} becomes={becomes.get(p.id)} />)}
      {inView.beads.map((b) => (
        <BeadShape key={b.id} bead={b} becomes={becomes.get(b.id)} />
      ))}
      {drawn.far ? bandNames : null}
    </>
  )
})
