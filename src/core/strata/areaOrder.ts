// Areas in the order they are read on the map: what is referred to before what refers to it, linked ones close.
import { compareText } from '../catalog/index.ts'

/** Lines between two areas, from the one referred to. */
export interface AreaWeight {
  readonly from: string
  readonly to: string
  readonly weight: number
}

/** A line that leads back costs as much as one that leads so many places on. */
const backwards = 4

/**
 * Starting from the heaviest, each area goes where it adds the least: distance times weight, lines that lead back costing more. Deterministic;
 * O(areas² × links between areas).
 */
export function orderAreas(areas: readonly string[], weights: readonly AreaWeight[]): readonly string[] {
  const total = new Map<string, number>()
  for (const w of weights) for (const a of [w.from, w.to]) total.set(a, (total.get(a) ?? 0) + w.weight)
  const waiting = areas.toSorted((a, b) => (total.get(b) ?? 0) - (total.get(a) ?? 0) || compareText(a, b))
  let order: readonly string[] = []
  for (const area of waiting) {
    const placed = new Set([...order, area])
    const inside = weights.filter((w) => placed.has(w.from) && placed.has(w.to))
    let best = { order: [...order, area], cost: costOf([...order, area], inside) }
    for (let at = order.length - 1; at >= 0; at -= 1) {
      const tried = [...order.slice(0, at), area, ...order.slice(at)]
      const cost = costOf(tried, inside)
      if (cost < best.cost) best = { order: tried, cost }
    }
    order = best.order
  }
  return order
}

function costOf(order: readonly string[], weights: readonly AreaWeight[]): number {
  const at = new Map(order.map((a, i) => [a, i]))
  return weights.reduce((sum, w) => {
    const distance = (at.get(w.to) as number) - (at.get(w.from) as number)
    return sum + w.weight * (distance > 0 ? distance : backwards - distance)
  }, 0)
}
