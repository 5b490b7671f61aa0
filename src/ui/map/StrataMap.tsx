'use client'

import { memo, type Ref, useEffect, useImperativeHandle, useMemo, useRef, useState } from 'react'
import type { Becomes } from '../../core/change/index.ts'
import type { Heading } from '../../core/review/index.ts'
import { areaKey, type Block, type Box, countFont, type Label, labelOf, type Plate, type Scene, sayingOf } from '../../core/strata/index.ts'
import { Overview } from './Overview.tsx'
import { BeadShape, BlockLabel, BlockShape, BundleShape, FoldedShape, KnotShape, LineShape, outlineOf, PlateShape } from './Shapes.tsx'
import { type Drawn, everything, useZoom } from './useZoom.ts'

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
  /** The views of an area were asked for; null for those that read nothing drawn. */
  readonly onViews?: ((area: string | null) => void) | undefined
  /** An area was called otherwise: its name, and the new one. */
  readonly onRename?: ((area: string, name: string) => void) | undefined
  /** The pane has become of another shape. */
  readonly onShape?: ((shape: number) => void) | undefined
}

const nothing: ReadonlyMap<string, Becomes> = new Map()
const touches = (a: Box, b: Box) => a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height

/**
 * The map as one SVG. Panning and zooming set one attribute on one group; React renders on a new scene, on another level of detail, and where the
 * view leaves what is drawn. A selection toggles classes on the few elements it touches, and unfolds the lines to other blocks.
 */
export function StrataMap({ ref, scene, selected, plates, becomes = nothing, progress, onSelect, onViews, onRename, onShape }: Props) {
  const [bundle, setBundle] = useState<string | null>(null)
  const [renaming, setRenaming] = useState<Block | null>(null)
  const z = useZoom(scene, onShape)
  const { svg, drawn } = z
  const shown = useRef(scene.plates)
  shown.current = scene.plates
  const blocks = useRef(scene.blocks)
  blocks.current = scene.blocks

  // One listener for thousands of shapes; the docket is the keyboard's way to the same selection.
  useEffect(() => {
    const host = svg.current
    const choose = (event: MouseEvent) => {
      const target = event.target as Element
      const id = target.closest<SVGGElement>('[data-select]')?.dataset['select']
      if (id !== undefined) return onSelect(id)
      const block = target.closest<SVGGElement>('.block-label.area')?.dataset['block']
      if (block !== undefined && onRename) return setRenaming(blocks.current.find((b) => b.key === block) ?? null)
      const views = target.closest<SVGGElement>('[data-views]')?.dataset['views']
      if (views !== undefined) return onViews?.(views === '' ? null : views)
      const chosen = target.closest<SVGGElement>('[data-bundle]')?.dataset['bundle'] ?? null
      setBundle((before) => (before === chosen ? null : chosen))
      // From far all plates of a block are one shape.
      if (!target.classList.contains('plates')) return
      const { x, y } = z.at(event.clientX, event.clientY)
      const plate = shown.current.find((p) => p.x <= x && x <= p.x + p.width && p.y <= y && y <= p.y + p.height)
      if (plate) onSelect(`entity:${plate.id}`)
    }
    host?.addEventListener('click', choose)
    return () => host?.removeEventListener('click', choose)
  }, [onSelect, onViews, onRename, svg, z.at])

  const lit = useMemo(() => scene.plates.filter((p) => plates.includes(p.id)), [scene, plates])
  useImperativeHandle(ref, () => ({ go: () => z.show(lit) }))
  useEffect(() => {
    const host = svg.current
    if (!host || drawn.window.width === 0) return
    mark(host, selected, new Set(plates))
  }, [selected, plates, drawn, svg, scene, bundle])
  const { reveal } = z
  useEffect(() => reveal(lit), [reveal, lit])

  const looked = useMemo(() => lookedAt(scene, selected, bundle), [scene, selected, bundle])
  return (
    <section aria-label="Strata map" className="grid min-h-0 min-w-0 grid-rows-[minmax(0,1fr)_auto] bg-paper">
      <div className="relative min-h-0 overflow-hidden">
        <svg
          ref={svg}
          className={`strata${becomes.size > 0 ? ' planned' : ''} h-full w-full`}
          aria-label="Entities in blocks by subject area, in each from left to right in the order they can be created"
        >
          <title>Strata map</title>
          <g ref={z.group}>
            <Drawing scene={scene} drawn={drawn} looked={looked} bundle={bundle} lit={lit} becomes={becomes} progress={progress} />
          </g>
        </svg>
        {renaming ? (
          <RenameBlock
            key={renaming.key}
            block={renaming}
            at={z.onScreen(renaming)}
            onName={(name) => {
              if (name !== '' && name !== renaming.name) onRename?.(renaming.name, name)
              setRenaming(null)
            }}
          />
        ) : null}
        {scene.plates.length === 0 ? (
          <p className="absolute inset-0 p-6 font-serif text-base text-soft">Nothing is left to draw: show all again, or choose otherwise.</p>
        ) : null}
        <div className="absolute right-2 bottom-2">
          <Overview scene={scene} view={z.view} onGo={z.centre} />
        </div>
      </div>
      <div className="flex items-start gap-2 border-t border-rule px-3 py-0.5">
        <Legend hubs={scene.blocks.some((b) => b.kind === 'hubs')} />
        <div className="ml-auto flex gap-1">
          <button type="button" className="btn btn-xs" onClick={() => z.zoomBy(1.3)} aria-label="Zoom in">
            +
          </button>
          <button type="button" className="btn btn-xs" onClick={() => z.zoomBy(1 / 1.3)} aria-label="Zoom out">
            −
          </button>
          <button type="button" className="btn btn-xs" onClick={z.fit}>
            Fit
          </button>
        </div>
      </div>
    </section>
  )
}

/** The name of an area, written anew where it stands. */
function RenameBlock({ block, at, onName }: { block: Block; at: { x: number; y: number }; onName: (name: string) => void }) {
  return (
    <input
      className="input input-xs absolute w-44"
      style={{ left: Math.max(4, at.x), top: Math.max(4, at.y) }}
      aria-label={`Name of the area ${block.name}`}
      maxLength={60}
      defaultValue={block.name}
      ref={(e) => e?.select()}
      onBlur={() => onName('')}
      onKeyDown={(e) => {
        e.stopPropagation()
        if (e.key === 'Enter') onName(e.currentTarget.value.trim())
        if (e.key === 'Escape') onName('')
      }}
    />
  )
}

/** Classes of what a selection touches. */
function mark(host: SVGSVGElement, selected: string | null, lit: ReadonlySet<string>): void {
  const entity = selected?.startsWith('entity:') === true
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
    e.classList.toggle('touches', !isPlate && entity && (lit.has(e.dataset['a'] as string) || lit.has(e.dataset['b'] as string)))
  }
}

/** Lines and beads between blocks that are drawn one by one: those of the plate, the line or the bundle that is looked at. */
interface Looked {
  readonly lines: Scene['lines']
  readonly beads: Scene['beads']
}
function lookedAt(scene: Scene, selected: string | null, bundle: string | null): Looked {
  const entity = selected?.startsWith('entity:') ? selected.slice('entity:'.length) : null
  return {
    lines: scene.lines.filter((l) => l.bundle !== null && (l.id === selected || l.bundle === bundle || l.child === entity || l.parent === entity)),
    beads: scene.beads.filter(
      (b) =>
        b.bundle !== null &&
        (b.id === selected || selected === `join-table:${b.id}` || b.id === entity || b.bundle === bundle || b.first === entity || b.second === entity),
    ),
  }
}

function Legend({ hubs }: { hubs: boolean }) {
  return (
    <p className="text-[0.8em] text-soft">
      left before right · ── enforced · ─ ─ declared · ╌╌ model · ··· guessed · ○ join table, ● with columns{hubs ? ' · ▸ hub' : ''}
    </p>
  )
}

interface DrawingProps {
  readonly scene: Scene
  readonly drawn: Drawn
  readonly looked: Looked
  readonly bundle: string | null
  /** From far: plates that stand out of the one shape all others of their block are. */
  readonly lit: readonly Plate[]
  readonly becomes: ReadonlyMap<string, Becomes>
  readonly progress: readonly Heading[]
}

const Drawing = memo(function Drawing({ scene, drawn, looked, bundle, lit, becomes, progress }: DrawingProps) {
  const { window, far, k } = drawn
  const labels = useMemo(() => labelsOf(scene, progress, k, !far), [scene, progress, k, far])
  const inView = useMemo(() => {
    const keep = <T extends Box>(list: readonly T[]) => (window === everything ? list : list.filter((b) => touches(b, window)))
    const keepBox = <T extends { readonly box: Box; readonly bundle: string | null }>(list: readonly T[]) =>
      far ? [] : list.filter((l) => l.bundle === null && (window === everything || touches(l.box, window)))
    return {
      plates: far ? [] : keep(scene.plates),
      lines: keepBox(scene.lines),
      beads: keepBox(scene.beads),
      knots: far ? [] : scene.knots.filter((n) => n.boxes.some((b) => window === everything || touches(b, window))),
    }
  }, [scene, window, far])
  return (
    <>
      {scene.blocks.map((b) => (
        <BlockShape key={b.key} block={b} />
      ))}
      {scene.bundles.map((b) => (
        <BundleShape key={b.key} bundle={b} font={countFont(b, k)} open={b.key === bundle} />
      ))}
      {looked.lines.map((l) => (
        <LineShape key={l.id} line={l} becomes={becomes.get(l.id)} />
      ))}
      {far ? <Outlines scene={scene} covered={labels} /> : null}
      {inView.knots.map((n) => (
        <KnotShape key={n.members.join()} knot={n} />
      ))}
      {inView.lines.map((l) => (
        <LineShape key={l.id} line={l} becomes={becomes.get(l.id)} />
      ))}
      {far
        ? [...new Set([...lit, ...scene.plates.filter((p) => becomes.has(p.id))])].map((p) => (
            <g key={p.id} className={`plate${p.readOnly ? ' read-only' : ''}`} data-id={p.id} data-select={`entity:${p.id}`} data-becomes={becomes.get(p.id)}>
              <rect x={p.x} y={p.y} width={p.width} height={p.height} />
            </g>
          ))
        : inView.plates.map((p) => <PlateShape key={p.id} plate={p} becomes={becomes.get(p.id)} k={drawn.names ? k : null} />)}
      {far
        ? null
        : scene.blocks.map((b) => (b.folded && (window === everything || touches(b.folded, window)) ? <FoldedShape key={b.key} folded={b.folded} /> : null))}
      {[...inView.beads, ...looked.beads].map((b) => (
        <BeadShape key={b.id} bead={b} becomes={becomes.get(b.id)} />
      ))}
      {scene.blocks.map((b) => {
        const label = labels.get(b.key)
        return label ? <BlockLabel key={b.key} block={b} label={label} /> : null
      })}
    </>
  )
})

/** The plates of each block as one shape, where no label stands in their place. */
const Outlines = memo(function Outlines({ scene, covered }: { scene: Scene; covered: ReadonlyMap<string, Label> }) {
  const outlines = useMemo(() => scene.blocks.map((b) => ({ key: b.key, path: outlineOf(scene.plates.filter((p) => p.block === b.key)) })), [scene])
  return outlines.map((o) => (covered.get(o.key)?.cover ? null : <path key={o.key} className="plates" d={o.path} />))
})

function labelsOf(scene: Scene, progress: readonly Heading[], k: number, platesShown: boolean): ReadonlyMap<string, Label> {
  const waiting = new Map(progress.map((p) => [p.text, p]))
  const labels = new Map<string, Label>()
  for (const b of scene.blocks) {
    const label = labelOf(b, sayingOf(b, openIn(b, waiting)), k, platesShown)
    if (label) labels.set(b.key, label)
  }
  return labels
}

/** In a focus a block is a part of its area only. */
const openIn = (b: Block, waiting: ReadonlyMap<string, Heading>) =>
  b.kind === 'area' && b.key === areaKey(b.key.slice(areaKey('').length)) ? (waiting.get(b.name)?.open ?? 0) : 0
