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

/**
 * Longest-path ranks of the references without self-references. A knot is cut at its optional references first (they can be
 * filled in afterwards), in order of id. A plate that more lines leave than enter then moves right until it stands just before
 * the first that uses it, which keeps lines short; nothing else moves. O(V + E) per cut.
 */
export function rankPlates(ids: readonly string[], lines: readonly LineInput[]): Ranks {
  const known = new Set(ids)
  const real = lines.filter((l) => l.child !== l.parent && known.has(l.child) && known.has(l.parent)).sort((a, b) => (a.id < b.id ? -1 : 1))
  const cut = new Set<string>()
  const childrenOf = (without: ReadonlySet<string>) => {
    const map = new Map<string, string[]>(ids.map((id) => [id, []]))
    for (const l of real) if (!without.has(l.id)) map.get(l.parent)?.push(l.child)
    return map
  }
  const componentsNow = () => {
    const children = childrenOf(cut)
    return strongComponents(ids, (id) => children.get(id) ?? [])
  }
  let components = componentsNow()
  const knots = components.filter((c) => c.length > 1)
  for (let open = knots; open.length > 0; open = components.filter((c) => c.length > 1)) {
    for (const members of open) {
      const set = new Set(members)
      const inside = real.filter((l) => !cut.has(l.id) && set.has(l.child) && set.has(l.parent))
      const victim = inside.find((l) => l.optional) ?? inside[0]
      if (victim) cut.add(victim.id)
    }
    components = componentsNow()
  }
  const children = childrenOf(cut)
  const order = components.map((c) => c[0] as string)
  const rankOf = new Map<string, number>(ids.map((id) => [id, 0]))
  const incoming = new Map<string, number>()
  for (const id of order) {
    for (const child of children.get(id) ?? []) {
      rankOf.set(child, Math.max(rankOf.get(child) as number, (rankOf.get(id) as number) + 1))
      incoming.set(child, (incoming.get(child) ?? 0) + 1)
    }
  }
  for (const id of order.toReversed()) {
    const after = children.get(id) ?? []
    if (after.length === 0 || after.length <= (incoming.get(id) ?? 0)) continue
    const latest = Math.min(...after.map((c) => rankOf.get(c) as number)) - 1
    if (latest > (rankOf.get(id) as number)) rankOf.set(id, latest)
  }
  return { rankOf, cut, knots }
}
