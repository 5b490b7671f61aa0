'use client'

import type { MouseEvent, Ref } from 'react'
import type { Scene } from '../../core/strata/index.ts'
import { outlineOf } from './Shapes.tsx'

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
      {scene.blocks.map((b) => (
        <rect key={b.key} className="block" x={b.x} y={b.y} width={b.width} height={b.height} />
      ))}
      <path className="all" d={outlineOf(scene.plates)} />
      <rect ref={view} className="in-view" vectorEffect="non-scaling-stroke" />
    </svg>
  )
}
