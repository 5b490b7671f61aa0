// Topological order that changes as little as possible.

export type Ordered<Id> = { readonly ok: true; readonly order: readonly Id[] } | { readonly ok: false; readonly stuck: readonly [Id, ...Id[]] }

/**
 * Order `ids` so that each comes after everything it depends on.
 *
 * Stable: of the ids that are ready, the first in the given order is taken, so equal input gives equal text. Dependencies
 * outside `ids` do not count. `stuck` holds the members of every cycle and whatever depends on one. O((V + E) log V).
 * Pure: neither argument is changed.
 */
export function orderByDependency<Id>(ids: readonly Id[], dependenciesOf: (id: Id) => Iterable<Id>): Ordered<Id> {
  const position = new Map(ids.map((id, i) => [id, i]))
  const waiting = ids.map(() => 0)
  const dependants: number[][] = ids.map(() => [])
  ids.forEach((id, i) => {
    for (const d of new Set(dependenciesOf(id))) {
      const at = position.get(d)
      if (at === undefined || at === i) continue
      waiting[i] = (waiting[i] as number) + 1
      dependants[at]?.push(i)
    }
  })
  const ready: number[] = []
  waiting.forEach((n, i) => {
    if (n === 0) push(ready, i)
  })
  const order: Id[] = []
  while (ready.length > 0) {
    const i = pop(ready)
    order.push(ids[i] as Id)
    for (const d of dependants[i] as number[]) {
      waiting[d] = (waiting[d] as number) - 1
      if (waiting[d] === 0) push(ready, d)
    }
  }
  if (order.length === ids.length) return { ok: true, order }
  const stuck = ids.filter((_, i) => (waiting[i] as number) > 0)
  return { ok: false, stuck: stuck as [Id, ...Id[]] }
}

/** Binary heap of numbers, smallest first. */
function push(heap: number[], value: number): void {
  let i = heap.push(value) - 1
  while (i > 0) {
    const parent = (i - 1) >> 1
    if ((heap[parent] as number) <= value) break
    heap[i] = heap[parent] as number
    i = parent
  }
  heap[i] = value
}

function pop(heap: number[]): number {
  const top = heap[0] as number
  const last = heap.pop() as number
  if (heap.length === 0) return top
  let i = 0
  for (;;) {
    let child = 2 * i + 1
    if (child >= heap.length) break
    if (child + 1 < heap.length && (heap[child + 1] as number) < (heap[child] as number)) child += 1
    if ((heap[child] as number) >= last) break
    heap[i] = heap[child] as number
    i = child
  }
  heap[i] = last
  return top
}
