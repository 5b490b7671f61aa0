// One area in parts, as its own lines suggest.
import type { Catalog } from '../catalog/index.ts'
import { type AreaRulings, derive, type Finding } from '../model/index.ts'
import { proposeAreas } from './areas.ts'
import { groundOf, nodesOf } from './ground.ts'
import { areasNow } from './mapInput.ts'

export interface SplitPart {
  readonly name: string
  /** Relations of it, in order of address. */
  readonly tables: readonly string[]
}

/** At least two parts, the largest first and under the area's own name; null where its tables hold together or are too few. */
export function proposeSplit(catalog: Catalog, findings: readonly Finding[], rulings: AreaRulings, area: string): readonly SplitPart[] | null {
  const ground = groundOf(catalog, findings)
  const { areas } = areasNow(ground, rulings)
  const nodes = nodesOf(catalog, derive(catalog, findings, []), ground.views).filter((n) => areas.get(n.id) === area && !ground.hubs.includes(n.id))
  const own = new Set(nodes.map((n) => n.id))
  const links = [...ground.drawing.lines.map((l) => ({ from: l.child, to: l.parent })), ...ground.drawing.beads.map((b) => ({ from: b.first, to: b.second }))]
  const parts = new Map<string, string[]>()
  const proposed = proposeAreas(
    nodes,
    links.filter((l) => own.has(l.from) && own.has(l.to)),
  )
  for (const [id, name] of proposed) parts.set(name, [...(parts.get(name) ?? []), id])
  const sorted = [...parts]
    .map(([name, tables]) => ({ name, tables: tables.sort() }))
    .sort((a, b) => b.tables.length - a.tables.length || (a.name < b.name ? -1 : 1))
  const [first, ...rest] = sorted
  if (!first || rest.length === 0) return null
  const taken = new Set(areas.values())
  const loose = [...own].filter((id) => !proposed.has(id)).sort()
  const free = (name: string) => {
    for (let n = 1; ; n += 1) {
      const tried = n === 1 ? name : `${name} ${n}`
      if (!taken.has(tried)) return tried
    }
  }
  return [{ name: area, tables: [...first.tables, ...loose] }, ...rest.map((p) => ({ name: free(p.name), tables: p.tables }))]
}
