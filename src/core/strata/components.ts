// Strongly connected components: the knots of a graph of references.

/**
 * Tarjan's algorithm (SIAM J. Comput. 1972), without recursion. Components come in reverse topological order, their members in
 * the order of `ids`. O(V + E).
 */
export function strongComponents(ids: readonly string[], next: (id: string) => readonly string[]): readonly (readonly string[])[] {
  const index = new Map<string, number>()
  const low = new Map<string, number>()
  const onStack = new Set<string>()
  const stack: string[] = []
  const found: string[][] = []
  const place = new Map(ids.map((id, i) => [id, i]))
  for (const root of ids) {
    if (index.has(root)) continue
    const work: { id: string; at: number }[] = [{ id: root, at: 0 }]
    while (work.length > 0) {
      const top = work[work.length - 1] as { id: string; at: number }
      const { id } = top
      if (top.at === 0) {
        index.set(id, index.size)
        low.set(id, index.get(id) as number)
        stack.push(id)
        onStack.add(id)
      }
      const following = next(id)
      const child = following[top.at]
      top.at += 1
      if (child !== undefined) {
        if (!index.has(child)) work.push({ id: child, at: 0 })
        else if (onStack.has(child)) low.set(id, Math.min(low.get(id) as number, index.get(child) as number))
        continue
      }
      work.pop()
      const parent = work[work.length - 1]
      if (parent) low.set(parent.id, Math.min(low.get(parent.id) as number, low.get(id) as number))
      if (low.get(id) !== index.get(id)) continue
      const component: string[] = []
      for (let member = stack.pop(); member !== undefined; member = stack.pop()) {
        onStack.delete(member)
        component.push(member)
        if (member === id) break
      }
      found.push(component.sort((a, b) => (place.get(a) as number) - (place.get(b) as number)))
    }
  }
  return found
}
