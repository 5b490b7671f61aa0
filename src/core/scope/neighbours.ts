// A table and what it is linked with, to a distance.
import { type Catalog, relationText } from '../catalog/index.ts'
import { globMatches } from '../text/scan.ts'

/** Addresses reached from `start` over at most `distance` foreign keys, in either direction, itself included; views by what they read. O(keys). */
export function neighbours(catalog: Catalog, start: string, distance: number): ReadonlySet<string> {
  const links = new Map<string, Set<string>>()
  const link = (a: string, b: string) => {
    links.set(a, (links.get(a) ?? new Set()).add(b))
    links.set(b, (links.get(b) ?? new Set()).add(a))
  }
  for (const r of catalog.relations) {
    for (const k of r.foreignKeys) link(relationText(r), relationText({ schema: k.target.schema, name: k.target.table }))
    for (const d of r.dependsOn) if (d.kind === 'relation') link(relationText(r), relationText(d))
  }
  const found = new Set([start])
  let edge = [start]
  for (let n = 0; n < distance && edge.length > 0; n += 1) {
    edge = edge.flatMap((a) => [...(links.get(a) ?? [])].filter((b) => !found.has(b)))
    for (const a of edge) found.add(a)
  }
  return found
}

/** `field.cr*`, `*_2019`, `log_?`: does the pattern match the address or the name alone? Case does not matter. */
export function matchesPattern(pattern: string, address: { readonly schema: string; readonly name: string }): boolean {
  const wanted = pattern.trim().toLowerCase()
  return globMatches(wanted, address.name.toLowerCase(), '*', '?') || globMatches(wanted, `${address.schema}.${address.name}`.toLowerCase(), '*', '?')
}
