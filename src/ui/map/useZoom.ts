'use client'

import { select } from 'd3-selection'
import { type ZoomBehavior, zoom, zoomIdentity } from 'd3-zoom'
import { useCallback, useEffect, useRef, useState } from 'react'
import { type Box, nearestShape, type Scene } from '../../core/strata/index.ts'

/** From here on names are at least 10 CSS pixels high at their usual size. */
const readable = 0.77
/** From here on the largest names can be read that have a plate for themselves. */
const named = 0.5

/**
 * Far: blocks with what is in them. Names: plates with nothing but their names. Middle: names and multiplicities. Near: tables and rows. Close: key
 * columns and the names of ends. Closest: what is long, too.
 */
const levelOf = (k: number) => (k < named ? 'far' : k < readable ? 'names' : k < 1 ? 'middle' : k < 1.8 ? 'near' : k < 3.2 ? 'close' : 'closest')

/** As near as one is brought: key columns can be read. */
const nearest = 2
/** More shapes than this are drawn only where they are in view. */
const many = 500
/** Labels are laid out anew for every step of the zoom by this factor. */
const labelStep = 1.15
const stepped = (k: number) => labelStep ** Math.floor(Math.log(k) / Math.log(labelStep) + 1e-6)
/** A pane must differ so much from the shape a map is packed to for it to be packed anew. */
const anotherShape = 1.18
/** The pane is looked at again so long after it was last changed, in milliseconds. */
const rest = 250

const holds = (a: Box, b: Box) => a.x <= b.x && a.y <= b.y && a.x + a.width >= b.x + b.width && a.y + a.height >= b.y + b.height
/** A view and a third more on every side: what is drawn costs with every frame. */
const around = (b: Box): Box => ({ x: b.x - b.width / 3, y: b.y - b.height / 3, width: (b.width * 5) / 3, height: (b.height * 5) / 3 })
export const everything: Box = { x: Number.NEGATIVE_INFINITY, y: Number.NEGATIVE_INFINITY, width: Number.POSITIVE_INFINITY, height: Number.POSITIVE_INFINITY }

export interface Drawn {
  /** What is drawn: the view, and some of what is around it. */
  readonly window: Box
  readonly far: boolean
  /** Plates bear nothing but their names. */
  readonly names: boolean
  /** Zoom that labels are laid out for. */
  readonly k: number
}

const drawnAt = (k: number): Omit<Drawn, 'window'> => ({ far: levelOf(k) === 'far', names: levelOf(k) === 'names', k: stepped(k) })

/** The zoom at which a whole map is in view in a pane. */
const fitting = (of: { readonly width: number; readonly height: number }, width: number, height: number) => Math.min(1.2, width / of.width, height / of.height)

declare global {
  interface SVGSVGElement {
    /** Kept here by d3-zoom. */
    __zoom: { readonly k: number; readonly x: number; readonly y: number }
  }
}

/** Zoom and pan of a scene: what is in view, and how one gets elsewhere. The whole is shown first, and again where it changes while it is in view. */
export function useZoom(scene: Scene, onShape: ((shape: number) => void) | undefined) {
  const svg = useRef<SVGSVGElement>(null)
  const group = useRef<SVGGElement>(null)
  const view = useRef<SVGRectElement>(null)
  const behaviour = useRef<ZoomBehavior<SVGSVGElement, unknown> | null>(null)
  const size = useRef({ width: scene.width, height: scene.height })
  size.current = { width: scene.width, height: scene.height }
  const heavy = scene.plates.length + scene.lines.length + scene.beads.length > many
  const [drawn, setDrawn] = useState<Drawn>(() => ({ ...drawnAt(fitting(scene, window.innerWidth / 2, window.innerHeight * 0.85)), window: everything }))
  const latest = useRef({ heavy, drawn })
  latest.current = { heavy, drawn }
  /** Is the whole in view, as nobody has moved it? */
  const fitted = useRef(true)

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
    const { far, names, k } = drawnAt(t.k)
    const leaves = culled ? before.window === everything || (!far && !holds(before.window, now)) : before.window !== everything
    if (leaves || far !== before.far || names !== before.names || k !== before.k) setDrawn({ far, names, k, window: culled && !far ? around(now) : everything })
  }, [])

  const moveTo = useCallback((x: number, y: number, k: number) => {
    const host = svg.current
    if (!host || !behaviour.current) return
    select(host).call(behaviour.current.transform, zoomIdentity.translate(x, y).scale(k))
  }, [])
  const fit = useCallback(() => {
    const box = svg.current?.getBoundingClientRect()
    if (!box || size.current.width === 0) return
    const k = fitting(size.current, box.width, box.height)
    moveTo((box.width - size.current.width * k) / 2, Math.max(0, Math.min(8, (box.height - size.current.height * k) / 2)), k)
    fitted.current = true
  }, [moveTo])
  const centre = useCallback(
    (x: number, y: number, k = svg.current?.__zoom.k ?? 1) => {
      const box = svg.current?.getBoundingClientRect()
      if (!box) return
      moveTo(box.width / 2 - x * k, box.height / 2 - y * k, k)
      fitted.current = false
    },
    [moveTo],
  )

  useEffect(() => {
    const host = svg.current
    if (!host) return
    behaviour.current = zoom<SVGSVGElement, unknown>()
      .scaleExtent([0.02, 5])
      .on('zoom', (event: { transform: { toString: () => string; k: number }; sourceEvent: unknown }) => {
        group.current?.setAttribute('transform', event.transform.toString())
        const level = levelOf(event.transform.k)
        if (host.dataset['level'] !== level) host.dataset['level'] = level
        if (event.sourceEvent) fitted.current = false
        follow()
      })
    select(host).call(behaviour.current).on('dblclick.zoom', null)
    return () => {
      select(host).on('.zoom', null)
    }
  }, [follow])

  const packed = useRef<number | null>(null)
  const report = useRef(onShape)
  report.current = onShape
  useEffect(() => {
    const host = svg.current
    if (!host) return
    let timer: ReturnType<typeof setTimeout> | undefined
    const look = () => {
      const { width, height } = host.getBoundingClientRect()
      if (width === 0 || height === 0) return
      const own = width / height
      if (packed.current !== null && Math.abs(Math.log(own / packed.current)) < Math.log(anotherShape)) return
      packed.current = nearestShape(width, height)
      report.current?.(packed.current)
    }
    const resized = new ResizeObserver(() => {
      if (fitted.current) fit()
      else follow()
      clearTimeout(timer)
      timer = setTimeout(look, packed.current === null ? 0 : rest)
    })
    resized.observe(host)
    return () => {
      clearTimeout(timer)
      resized.disconnect()
    }
  }, [fit, follow])

  // Another part of the map is looked at whole; a ruling moves no view.
  const shape = `${scene.width} ${scene.height} ${scene.blocks.map((b) => b.key).join()}`
  const before = useRef('')
  useEffect(() => {
    const other = before.current === '' || scene.blocks.map((b) => b.key).join() !== before.current
    before.current = scene.blocks.map((b) => b.key).join()
    if (shape !== '' && (fitted.current || other)) fit()
    else follow()
  }, [fit, follow, shape, scene])

  const show = useCallback(
    (boxes: readonly Box[]) => {
      if (boxes.length === 0) return
      const b = hull(boxes)
      const pane = svg.current?.getBoundingClientRect()
      const room = pane ? Math.min((pane.width - 40) / b.width, (pane.height - 40) / b.height) : 1
      centre(b.x + b.width / 2, b.y + b.height / 2, Math.min(nearest, Math.max(readable, room)))
    },
    [centre],
  )
  /** Bring boxes into view, moving no further than needed. */
  const reveal = useCallback((boxes: readonly Box[]) => {
    const host = svg.current
    if (!host || !behaviour.current || boxes.length === 0) return
    const pane = host.getBoundingClientRect()
    const t = host.__zoom
    const b = hull(boxes)
    const shift = (low: number, high: number, limit: number) => (low < 20 ? 20 - low : high > limit - 20 ? Math.max(20 - low, limit - 20 - high) : 0)
    const dx = shift(b.x * t.k + t.x, (b.x + b.width) * t.k + t.x, pane.width)
    const dy = shift(b.y * t.k + t.y, (b.y + b.height) * t.k + t.y, pane.height)
    // Where the whole is in view there is nothing to bring.
    if (!fitted.current && (dx !== 0 || dy !== 0)) select(host).call(behaviour.current.translateBy, dx / t.k, dy / t.k)
  }, [])
  const zoomBy = useCallback((factor: number) => {
    if (!svg.current || !behaviour.current) return
    fitted.current = false
    select(svg.current).call(behaviour.current.scaleBy, factor)
  }, [])
  const at = useCallback((clientX: number, clientY: number) => {
    const host = svg.current
    const t = host?.__zoom
    if (!host || !t) return { x: Number.NaN, y: Number.NaN }
    const box = host.getBoundingClientRect()
    return { x: (clientX - box.left - t.x) / t.k, y: (clientY - box.top - t.y) / t.k }
  }, [])
  const onScreen = useCallback((box: Box) => {
    const t = svg.current?.__zoom
    return t ? { x: box.x * t.k + t.x, y: box.y * t.k + t.y } : { x: 0, y: 0 }
  }, [])
  return { svg, group, view, drawn, fit, centre, show, reveal, zoomBy, at, onScreen }
}

function hull(boxes: readonly Box[]): Box {
  const [x, y] = [Math.min(...boxes.map((b) => b.x)), Math.min(...boxes.map((b) => b.y))]
  return { x, y, width: Math.max(...boxes.map((b) => b.x + b.width)) - x, height: Math.max(...boxes.map((b) => b.y + b.height)) - y }
}
