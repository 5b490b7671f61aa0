// Creation order: every table stands to the right of all it refers to.
import { strongComponents } from '../graph/components.ts'
import type { LineInput } from './types.ts'

export interface Ranks {
  /** From 0; by plate id. */
  readonly rankOf: ReadonlyMap<string, number>
  readonly knots: readonly (readonly string[])[]
  /** By parent, without self-references and without the lines that knots are cut at. */
  readonly children: ReadonlyMap<string, readonly string[]>
}

/**
 * Longest-path ranks of the references without self-references, no plate before its start. A knot is cut at its optional references first
 * (they can be filled in afterwards), in order of id: their child may stand left of their parent. A changed line moves its child and what depends
 * on that, and nothing else. O(V + E) per cut.
 */
export function rankPlates(ids: readonly string[], lines: readonly LineInput[], starts: ReadonlyMap<string, number> = new Map()): Ranks {
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
  return { rankOf, knots, children }
}
