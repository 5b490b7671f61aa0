'use client'

import type { MouseEvent, Ref } from 'react'
import type { Scene } from '../../core/strata/index.ts'

interface Props {
  readonly scene: Scene
  /** The part in view; moved without rendering. */
  readonly view: Ref<SVGRectElement>
  /** Bring a place of the map into the middle. */
  readonly onGo: (x: number, y: number) => void
}

const room = { width: 150, height: 110 }

/** The whole map at a glance, with what is in view. */
export function Overview({ scene, view, onGo }: Props) {
  const k = Math.min(room.width / scene.width, room.height / scene.height)
  const go = (e: MouseEvent<SVGSVGElement>) => {
    const box = e.currentTarget.getBoundingClientRect()
    onGo((e.clientX - box.left) / k, (e.clientY - box.top) / k)
  }
  return (
    <svg
      className="overview border border-rule bg-paper"
      width={scene.width * k}
      height={scene.height * k}
      viewBox={`0 0 ${scene.width} ${scene.height}`}
      onClick={go}
      aria-hidden="true"
    >
      {scene.bands.map((b, i) => (
        <rect key={b.area} className={i % 2 === 0 ? 'band' : 'band odd'} x={0} y={b.y} width={scene.width} height={b.height} />
      ))}
      <path className="all" d={scene.plates.map((p) => `M${p.x} ${p.y}h${p.width}v${p.height}h${-p.width}z`).join('')} />
      <rect ref={view} className="in-view" vectorEffect="non-scaling-stroke" />
    </svg>
  )
}
