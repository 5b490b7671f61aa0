// Waiting for a state; the time is a guard against waiting for ever, not one that anything has to take.

/** Ask until `probe` gives something. */
export async function eventually<T>(what: string, probe: () => Promise<T | null | undefined | false>, seconds = 120): Promise<T> {
  const until = Date.now() + seconds * 1000
  for (;;) {
    const found = await probe()
    if (found) return found
    if (Date.now() > until) throw new Error(`${what} did not happen within ${seconds} s`)
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
}
