// Did you mean …? Names close to one that does not exist.

/** Levenshtein distance. O(a × b). */
function editDistance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, j) => j)
  for (let i = 1; i <= a.length; i += 1) {
    const next = [i]
    for (let j = 1; j <= b.length; j += 1) {
      next.push(Math.min((row[j] ?? 0) + 1, (next[j - 1] ?? 0) + 1, (row[j - 1] ?? 0) + (a[i - 1] === b[j - 1] ? 0 : 1)))
    }
    row = next
  }
  return row[b.length] ?? 0
}

/** The existing names closest to `wanted`, at most three: within two edits, or a third of its letters where it is long, or else begun by it; case and signs aside. Nearest first. */
export function nearestNames(wanted: string, existing: readonly string[]): readonly string[] {
  const plain = (name: string) => name.toLowerCase().replace(/[^\p{L}\p{N}]/gu, '')
  const limit = Math.max(2, Math.floor(plain(wanted).length / 3))
  const byEdits = existing.map((name) => ({ name, edits: editDistance(plain(wanted), plain(name)) })).sort((a, b) => a.edits - b.edits)
  const close = byEdits.filter((x) => x.edits <= limit)
  const begun = plain(wanted).length < 3 ? [] : byEdits.filter((x) => plain(x.name).startsWith(plain(wanted)))
  return (close.length > 0 ? close : begun).slice(0, 3).map((x) => x.name)
}
