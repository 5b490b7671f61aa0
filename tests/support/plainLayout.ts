// A plain layered layout to measure against, as the textbook has it (Sugiyama, Tagawa, Toda 1981): longest-path ranks, a dummy node wherever a
// line passes a rank, barycentre sweeps, then every node as near to its neighbours as order and an even gap allow. No areas, no hubs.
import type { MapInput } from '../../src/core/strata/index.ts'
import { placeColumn } from '../../src/core/strata/order.ts'
import { rankPlates } from '../../src/core/strata/ranks.ts'
import { size } from '../../src/core/strata/size.ts'
import type { Point } from './geometry.ts'

interface Node {
  readonly rank: number
  readonly height: number
  readonly before: string[]
  readonly after: string[]
  order: number
  y: number
}

/** Plates of this height at this distance; gives each connection's points from port to port. */
export function plainLayout(input: MapInput, plate: { readonly width: number; readonly height: number }): readonly (readonly Point[])[] {
  const ids = input.plates.map((p) => p.id)
  const { rankOf } = rankPlates(ids, input.lines)
  const links = [
    ...input.lines.filter((l) => l.child !== l.parent).map((l) => ({ id: l.id, ends: [l.parent, l.child] as const })),
    ...input.beads.map((b) => ({ id: b.id, ends: [b.first, b.second] as const })),
  ].filter((l) => l.ends.every((e) => rankOf.has(e)))
  const linked = new Set(links.flatMap((l) => l.ends))
  const nodes = new Map<string, Node>()
  const add = (key: string, rank: number, height: number) => nodes.set(key, { rank, height, before: [], after: [], order: nodes.size, y: 0 })
  for (const id of [...linked].sort()) add(id, rankOf.get(id) as number, plate.height)
  const chains = links.map(({ id, ends }) => {
    const [left, right] = [...ends].sort((a, b) => (rankOf.get(a) as number) - (rankOf.get(b) as number)) as [string, string]
    const chain = [left]
    for (let r = (rankOf.get(left) as number) + 1; r < (rankOf.get(right) as number); r += 1) {
      add(`${id} ${r}`, r, size.passing)
      chain.push(`${id} ${r}`)
    }
    chain.push(right)
    for (let i = 1; i < chain.length; i += 1) {
      nodes.get(chain[i - 1] as string)?.after.push(chain[i] as string)
      nodes.get(chain[i] as string)?.before.push(chain[i - 1] as string)
    }
    return chain
  })
  const ranks = Math.max(...[...nodes.values()].map((n) => n.rank)) + 1
  const column = (r: number) => [...nodes.values()].filter((n) => n.rank === r).sort((a, b) => a.order - b.order)
  const mean = (keys: readonly string[], of: (n: Node) => number, otherwise: number) =>
    keys.length === 0 ? otherwise : keys.reduce((s, k) => s + of(nodes.get(k) as Node), 0) / keys.length
  for (let r = 0; r < ranks; r += 1) for (const [i, n] of column(r).entries()) n.order = i
  for (let sweep = 0; sweep < 10; sweep += 1) {
    for (let step = 0; step < ranks; step += 1) {
      const forward = sweep % 2 === 0
      const nodesHere = column(forward ? step : ranks - 1 - step)
      const wishes = new Map(nodesHere.map((n) => [n, mean(forward ? n.before : n.after, (o) => o.order, n.order)]))
      for (const [i, n] of nodesHere.sort((a, b) => (wishes.get(a) as number) - (wishes.get(b) as number)).entries()) n.order = i
    }
  }
  for (let round = 0; round < 10; round += 1) {
    for (let step = 0; step < ranks; step += 1) {
      const nodesHere = column(round % 2 === 0 ? step : ranks - 1 - step)
      const tops = placeColumn(
        nodesHere.map((n) => ({ height: n.height, wish: round === 0 ? 0 : mean([...n.before, ...n.after], (o) => o.y, n.y) })),
        size.gap,
      )
      for (const [i, n] of nodesHere.entries()) n.y = (tops[i] as number) + n.height / 2
    }
  }
  const left = (r: number) => r * (plate.width + size.gutter)
  return chains.map((chain) =>
    chain.flatMap((key, i) => {
      const n = nodes.get(key) as Node
      const [from, to] = [left(n.rank), left(n.rank) + plate.width]
      return i === 0
        ? [{ x: to, y: n.y }]
        : i === chain.length - 1
          ? [{ x: from, y: n.y }]
          : [
              { x: from, y: n.y },
              { x: to, y: n.y },
            ]
    }),
  )
}
