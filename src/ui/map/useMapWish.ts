'use client'

import { useState } from 'react'
import { type MapWish, sceneSvg, wholeMap } from '../../core/strata/index.ts'
import type { ReviewHandle } from '../review/useReview.ts'

const colour = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--color-${name}`).trim()

/** What is wanted on the map, and what changes it. */
export function useMapWish(review: ReviewHandle, chosen: string | null, title: string) {
  const [wayFrom, setWayFrom] = useState<string | null>(null)
  const [wish, setWish] = useState(wholeMap)
  const entity = chosen?.startsWith('entity:') ? chosen.slice('entity:'.length) : (review.selection.plates[0] ?? null)
  const show = (next: MapWish) => {
    setWayFrom(null)
    setWish(next)
    review.showMap(next)
  }
  return {
    wish,
    wayFrom,
    show,
    focus: () => {
      if (wish.focus) show({ ...wish, focus: null })
      else if (entity !== null) show({ ...wish, path: null, focus: { ids: [entity], depth: 1 } })
    },
    way: () => {
      if (wish.path) show({ ...wish, path: null })
      else if (wayFrom === null) setWayFrom(entity)
      else if (entity !== null && entity !== wayFrom) show({ ...wish, focus: null, path: { from: wayFrom, to: entity } })
    },
    all: () => {
      if (review.view) show(wholeMap)
    },
    save: () => {
      if (!review.view) return
      const theme = { paper: colour('paper'), card: colour('card'), band: colour('band'), ink: colour('ink'), soft: colour('soft'), rule: colour('rule') }
      const url = URL.createObjectURL(new Blob([sceneSvg(review.view.scene, theme, title)], { type: 'image/svg+xml' }))
      const link = document.createElement('a')
      link.href = url
      link.download = 'strata.svg'
      link.click()
      URL.revokeObjectURL(url)
    },
  }
}
