// Strongly connected components: the knots of a graph of references.

/** Every id after all that can be reached from it and was not yet listed; without recursion, so that long chains do not overflow. */
function postorder(ids: readonly string[], next: (id: string) => readonly string[]): readonly string[] {
  const seen = new Set<string>()
  const listed: string[] = []
  for (const root of ids) {
    if (seen.has(root)) continue
    seen.add(root)
    const path: { readonly id: string; at: number }[] = [{ id: root, at: 0 }]
    for (let top = path.at(-1); top !== undefined; top = path.at(-1)) {
      const child = next(top.id)[top.at]
      top.at += 1
      if (child === undefined) {
        listed.push(top.id)
        path.pop()
      } else if (!seen.has(child)) {
        seen.add(child)
        path.push({ id: child, at: 0 })
      }
    }
  }
  return listed
}

/**
 * Kosaraju's algorithm (Sharir, Comput. Math. Appl. 1981): what reaches a vertex in the reversed graph, taken in reversed
 * postorder, is its component. Components come in topological order, their members in the order of `ids`. O(V + E).
 */
export function strongComponents(ids: readonly string[], next: (id: string) => readonly string[]): readonly (readonly string[])[] {
  const back = new Map<string, string[]>(ids.map((id) => [id, []]))
  for (const id of ids) for (const child of next(id)) back.get(child)?.push(id)
  const place = new Map(ids.map((id, i) => [id, i]))
  const taken = new Set<string>()
  return postorder(ids, next)
    .toReversed()
    .flatMap((root) => {
      if (taken.has(root)) return []
      const members = postorder([root], (id) => (back.get(id) ?? []).filter((p) => !taken.has(p)))
      for (const m of members) taken.add(m)
      return [members.toSorted((a, b) => (place.get(a) as number) - (place.get(b) as number))]
    })
}
