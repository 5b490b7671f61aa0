'use client'

import { select } from 'd3-selection'
import { type ZoomBehavior, zoom, zoomIdentity } from 'd3-zoom'
import { memo, useCallback, useEffect, useMemo, useRef } from 'react'
import type { Bead, Line, Plate, Scene } from '../../core/strata/index.ts'

interface Props {
  readonly scene: Scene
  readonly selected: string | null
  readonly plates: readonly string[]
  readonly onSelect: (id: string) => void
}

/** Below `far` only names are drawn, above `near` the table and its rows too. */
const levelOf = (k: number) => (k < 0.4 ? 'far' : k < 0.8 ? 'middle' : 'near')

/**
 * The map as one SVG. Panning and zooming set one attribute on one group and never render; React renders on a new scene only,
 * and a selection toggles classes on the few elements it touches.
 */
export function StrataMap({ scene, selected, plates, onSelect }: Props) {
  const svg = useRef<SVGSVGElement>(null)
  const group = useRef<SVGGElement>(null)
  const behaviour = useRef<ZoomBehavior<SVGSVGElement, unknown> | null>(null)
  const size = useRef({ width: scene.width, height: scene.height })
  size.current = { width: scene.width, height: scene.height }

  const showAll = useCallback(() => {
    const host = svg.current
    if (!host || !behaviour.current) return
    const box = host.getBoundingClientRect()
    const k = Math.min(1.1, (box.width - 16) / size.current.width)
    // A tall map starts at its top, at a width one can read; the rest is a scroll away.
    const whole = Math.min(k, (box.height - 16) / size.current.height)
    const scale = Math.max(whole, Math.min(k, 0.5))
    select(host).call(behaviour.current.transform, zoomIdentity.translate(Math.max(8, (box.width - size.current.width * scale) / 2), 8).scale(scale))
  }, [])

  useEffect(() => {
    const host = svg.current
    if (!host) return
    behaviour.current = zoom<SVGSVGElement, unknown>()
      .scaleExtent([0.08, 2.5])
      .on('zoom', (event: { transform: { toString: () => string; k: number } }) => {
        group.current?.setAttribute('transform', event.transform.toString())
        host.dataset['level'] = levelOf(event.transform.k)
      })
    select(host).call(behaviour.current).on('dblclick.zoom', null)
    showAll()
    return () => {
      select(host).on('.zoom', null)
    }
  }, [showAll])

  // One listener for thousands of shapes; the docket is the keyboard's way to the same selection.
  useEffect(() => {
    const host = svg.current
    const choose = (event: MouseEvent) => {
      const id = (event.target as Element).closest<SVGGElement>('[data-select]')?.dataset['select']
      if (id !== undefined) onSelect(id)
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

  useEffect(() => {
    const host = svg.current
    if (!host) return
    const lit = new Set(plates)
    for (const e of host.querySelectorAll<SVGGElement>('[data-id]')) {
      const id = e.dataset['id'] as string
      const isPlate = e.classList.contains('plate')
      e.classList.toggle(
        'chosen',
        id === selected ||
          (isPlate && selected === `entity:${id}`) ||
          (!isPlate && selected !== null && (selected === `join-table:${id}` || selected === `entity:${id}`)),
      )
      e.classList.toggle('near', isPlate && lit.has(id))
      e.classList.toggle(
        'touches',
        !isPlate && selected?.startsWith('entity:') === true && (lit.has(e.dataset['a'] as string) || lit.has(e.dataset['b'] as string)),
      )
    }
    reveal()
  }, [selected, plates, reveal])

  const zoomBy = (factor: number) => {
    if (!svg.current || !behaviour.current) return
    select(svg.current).call(behaviour.current.scaleBy, factor)
    reveal()
  }
  return (
    <section aria-label="Strata map" className="relative min-h-0 min-w-0 overflow-hidden bg-paper">
      <svg
        ref={svg}
        className="strata h-full w-full"
        aria-label="Entities from left to right in the order they can be created, subject areas from top to bottom"
      >
        <title>Strata map</title>
        <g ref={group}>
          <Drawing scene={scene} />
        </g>
      </svg>
      <div className="absolute right-2 bottom-2 flex gap-1">
        <button type="button" className="btn btn-xs" onClick={() => zoomBy(1.3)} aria-label="Zoom in">
          +
        </button>
        <button type="button" className="btn btn-xs" onClick={() => zoomBy(1 / 1.3)} aria-label="Zoom out">
          −
        </button>
        <button type="button" className="btn btn-xs" onClick={showAll}>
          Fit
        </button>
      </div>
      <Legend />
    </section>
  )
}

declare global {
  interface SVGSVGElement {
    /** Kept here by d3-zoom. */
    __zoom: { readonly k: number; readonly x: number; readonly y: number }
  }
}

function Legend() {
  return (
    <p className="pointer-events-none absolute bottom-2 left-2 bg-paper/85 px-1 text-[0.85em] text-soft">
      left is created before right · ─── enforced · ─ ─ declared · ╌╌ model only · ○ join table · ● with own columns
    </p>
  )
}

const Drawing = memo(function Drawing({ scene }: { scene: Scene }) {
  const bands = useMemo(() => [...scene.bands, ...(scene.strip ? [scene.strip] : [])], [scene])
  return (
    <>
      {bands.map((b, i) => (
        <g key={b.area}>
          <rect className={i % 2 === 0 ? 'band' : 'band odd'} x={b.x} y={b.y} width={b.width} height={b.height} />
        </g>
      ))}
      {bands.map((b) => (
        <g key={b.area}>
          <line className="band-edge" x1={b.x} x2={b.x + b.width} y1={b.y} y2={b.y} />
          <text className="band-name" x={b.x + 8} y={b.y + 17}>
            {b.area} <tspan className="count">{b.count}</tspan>
          </text>
        </g>
      ))}
      {scene.knots.map((k) => (
        <g key={k.members.join()} className="knot">
          <rect x={k.x} y={k.y} width={k.width} height={k.height} rx={3} />
          <text x={k.x + 4} y={k.y + k.height + 13}>
            {k.label}
          </text>
        </g>
      ))}
      {scene.lines.map((l) => (
        <LineShape key={l.id} line={l} />
      ))}
      {scene.plates.map((p) => (
        <PlateShape key={p.id} plate={p} />
      ))}
      {scene.beads.map((b) => (
        <BeadShape key={b.id} bead={b} />
      ))}
    </>
  )
})

function Marks({ marks }: { marks: Line['marks'] }) {
  return (
    <>
      {marks.map((m, i) => (
        <text key={i} className="mark" x={m.x} y={m.y} textAnchor={m.anchor}>
          {m.text}
        </text>
      ))}
    </>
  )
}

function LineShape({ line }: { line: Line }) {
  return (
    <g
      className={`line state-${line.state}${line.crossesBands ? ' crosses' : ''}`}
      data-id={line.id}
      data-select={line.id}
      data-a={line.child}
      data-b={line.parent}
    >
      <path d={line.path} />
      <path className="hit" d={line.path} />
      <Marks marks={line.marks} />
    </g>
  )
}

function BeadShape({ bead }: { bead: Bead }) {
  return (
    <g
      className={`bead state-${bead.state}${bead.filled ? ' filled' : ''}${bead.tight ? ' tight' : ''}${bead.crossesBands ? ' crosses' : ''}`}
      data-id={bead.id}
      data-select={bead.filled ? `entity:${bead.id}` : bead.id}
      data-a={bead.first}
      data-b={bead.second}
    >
      <path d={bead.path} />
      <path className="hit" d={bead.path} />
      <Marks marks={bead.marks} />
      <circle cx={bead.x} cy={bead.y} r={6.5} />
      {bead.labelLines.map((l, i) => (
        <text key={i} className="label" x={bead.x} y={bead.y + 19 + i * 12} textAnchor="middle">
          {l}
        </text>
      ))}
    </g>
  )
}

function PlateShape({ plate }: { plate: Plate }) {
  const last = plate.y + plate.height - 8
  const rows = plate.rows?.toLocaleString('en') ?? ''
  return (
    <g className={`plate${plate.readOnly ? ' read-only' : ''}`} data-id={plate.id} data-select={`entity:${plate.id}`}>
      <rect x={plate.x} y={plate.y} width={plate.width} height={plate.height} rx={2} />
      {plate.nameLines.map((l, i) => (
        <text key={i} className="name" x={plate.x + 9} y={plate.y + 17 + i * 16}>
          {l}
        </text>
      ))}
      <text className="table" x={plate.x + 9} y={last}>
        {shorten(plate.table, plate.width - 20 - rows.length * 6.5)}
      </text>
      {rows === '' ? null : (
        <text className="rows" x={plate.x + plate.width - 8} y={last} textAnchor="end">
          {rows}
        </text>
      )}
    </g>
  )
}

/** The database's name in 10 px mono, 6 px a character; the class name above it is never cut. */
function shorten(text: string, width: number): string {
  const n = Math.floor(width / 6.05)
  return text.length <= n ? text : `${text.slice(0, Math.max(1, n - 1))}…`
}
