// Creation order: every table stands to the right of all it refers to.
import { strongComponents } from '../graph/components.ts'
import type { LineInput } from './types.ts'

export interface Ranks {
  /** From 0; by plate id. */
  readonly rankOf: ReadonlyMap<string, number>
  /** Lines that a knot is cut at: their child may stand left of their parent. */
  readonly cut: ReadonlySet<string>
  readonly knots: readonly (readonly string[])[]
}

interface Ordered extends Ranks {
  readonly children: ReadonlyMap<string, readonly string[]>
  /** Parents before children. */
  readonly order: readonly string[]
}

/**
 * Longest-path ranks of the references without self-references, no plate before its start. A knot is cut at its optional references first
 * (they can be filled in afterwards), in order of id. A changed line moves its child and what depends on that, and nothing else. O(V + E) per cut.
 */
export function rankPlates(ids: readonly string[], lines: readonly LineInput[], starts: ReadonlyMap<string, number> = new Map()): Ranks {
  return ordered(ids, lines, starts)
}

/**
 * Ranks of plates that more lines leave than enter, moved right until they stand just before the first that uses them, which keeps lines
 * short; only those that move.
 */
export function lateRanks(ids: readonly string[], lines: readonly LineInput[]): ReadonlyMap<string, number> {
  const { rankOf, children, order } = ordered(ids, lines, new Map())
  const incoming = new Map<string, number>()
  for (const list of children.values()) for (const child of list) incoming.set(child, (incoming.get(child) ?? 0) + 1)
  const late = new Map<string, number>()
  for (const id of order.toReversed()) {
    const after = children.get(id) ?? []
    if (after.length === 0 || after.length <= (incoming.get(id) ?? 0)) continue
    const latest = Math.min(...after.map((c) => late.get(c) ?? (rankOf.get(c) as number))) - 1
    if (latest > (rankOf.get(id) as number)) late.set(id, latest)
  }
  return late
}

function ordered(ids: readonly string[], lines: readonly LineInput[], starts: ReadonlyMap<string, number>): Ordered {
  const known = new Set(ids)
  const real = lines.filter((l) => l.child !== l.parent && known.has(l.child) && known.has(l.parent)).sort((a, b) => (a.id < b.id ? -1 : 1))
  const cut = new Set<string>()
  const childrenNow = () => {
    const map = new Map<string, string[]>(ids.map((id) => [id, []]))
    for (const l of real) if (!cut.has(l.id)) map.get(l.parent)?.push(l.child)
    return map
  }
  const componentsOf = (children: ReadonlyMap<string, readonly string[]>) => strongComponents(ids, (id) => children.get(id) ?? [])
  let children = childrenNow()
  let components = componentsOf(children)
  const knots = components.filter((c) => c.length > 1)
  for (let open = knots; open.length > 0; open = components.filter((c) => c.length > 1)) {
    for (const members of open) {
      const set = new Set(members)
      const inside = real.filter((l) => !cut.has(l.id) && set.has(l.child) && set.has(l.parent))
      const victim = inside.find((l) => l.optional) ?? inside[0]
      if (victim) cut.add(victim.id)
    }
    children = childrenNow()
    components = componentsOf(children)
  }
  const order = components.map((c) => c[0] as string)
  const rankOf = new Map<string, number>(ids.map((id) => [id, starts.get(id) ?? 0]))
  for (const id of order) for (const child of children.get(id) ?? []) rankOf.set(child, Math.max(rankOf.get(child) as number, (rankOf.get(id) as number) + 1))
  return { rankOf, cut, knots, children, order }
}
