// Measures of the map and how names break in them.

/** All in map units. The gutter holds two multiplicities and a curve one can still follow; a bead needs its label's line as well. */
export const size = {
  gutter: 68,
  margin: 20,
  bandHead: 26,
  bandFoot: 16,
  gap: 16,
  passing: 8,
  passingGap: 6,
  beadPassing: 38,
  beadName: 9,
  /** From the top of a plate to its first port: one line of its name, and the table with its rows. */
  head: 38,
  foot: 4,
  nameLine: 16,
  port: 14,
  /** A line that names a hub. */
  markLine: 15,
  inset: 9,
  /** Room for loops above a hub. */
  loops: 24,
  stripGap: 16,
  character: 8.6,
} as const

export const nameWords = (name: string): readonly string[] => name.match(/[\p{Lu}_$]?[^\p{Lu}_$]+|[\p{Lu}_$]+/gu) ?? [name]

/** Names break between words so that no line is longer than the plate. */
export function breakName(name: string, limit: number): readonly string[] {
  if (name.length <= limit) return [name]
  const words = nameWords(name)
  const lines: string[] = ['']
  for (const word of words) {
    const last = lines[lines.length - 1] as string
    if (last.length > 0 && last.length + word.length > limit) lines.push(word)
    else lines[lines.length - 1] = last + word
  }
  return lines.flatMap((l) => l.match(new RegExp(`.{1,${limit}}`, 'gu')) ?? [l])
}
