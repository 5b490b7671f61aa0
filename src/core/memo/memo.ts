// Pure functions that keep what they worked out: the same words stand in thousands of tables, and the same findings are folded after every ruling.

/**
 * A pure function of a text that keeps its answers; all are forgotten once there are `most` of them, so that what a long-lived process has
 * read does not pile up. Answers are shared: they must not be changed.
 */
export function remembered<T>(of: (text: string) => T, most = 20_000): (text: string) => T {
  const known = new Map<string, T>()
  return (text) => {
    const before = known.get(text)
    if (before !== undefined) return before
    if (known.size >= most) known.clear()
    const answer = of(text)
    known.set(text, answer)
    return answer
  }
}

/** A pure function of an immutable value whose answer is kept for as long as the value is. */
export function keptWith<A extends object, T>(of: (value: A) => T): (value: A) => T {
  const known = new WeakMap<A, { readonly answer: T }>()
  return (value) => {
    const before = known.get(value)
    if (before) return before.answer
    const answer = of(value)
    known.set(value, { answer })
    return answer
  }
}
