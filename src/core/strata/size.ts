// Measures of the map and how names break in them.
import { remembered } from '../memo/memo.ts'

/** All in map units, which are CSS pixels at zoom 1. */
export const size = {
  /** Between blocks, and around them all: bundles run there. */
  channel: 24,
  margin: 14,
  /** Inside a block: above for its name, at the left for what arrives from other blocks. */
  blockHead: 29,
  blockFoot: 8,
  blockLeft: 30,
  blockRight: 10,
  /** Between columns: where lines run, where beads sit with their names, and where there is nothing. */
  gutter: 27,
  beadGutter: 58,
  bareGutter: 12,
  gap: 7,
  /** A line that passes a column between its plates. */
  passing: 3,
  passingGap: 3,
  beadPassing: 34,
  beadName: 11,
  /** From the top of a plate to its first port: one line of its name, and the table with its rows. */
  plateHead: 27,
  plateFoot: 2,
  /** A plate without ports is as high as one with one. */
  port: 7,
  nameLine: 14,
  /** A line that names a hub. */
  markLine: 12,
  inset: 6,
  /** Width of a self-reference with its multiplicities. */
  loop: 58,
  /** Height of a self-reference above its plate, beyond the gap. */
  loops: 8,
  /** The shape that stands for views. */
  folded: 34,
  foldedFont: 20,
  leastPlate: 76,
  /** Names break into lines of so many characters. */
  nameLimit: 14,
  /** Font sizes of names, and of the lines that name hubs. */
  nameFont: 13,
  markFont: 13,
  /** Width of a letter below a bead. */
  character: 7.2,
} as const

/** From one line of a name to the next, in its font size. */
export const nameLeading = 1.08

export const nameWords = (name: string): readonly string[] => name.match(/[\p{Lu}_$]?[^\p{Lu}_$]+|[\p{Lu}_$]+/gu) ?? [name]

/**
 * Width of a text at a font size of 1: Source Sans 3, semibold, by classes of characters, rather more than less; those of East Asian scripts
 * (Unicode Standard Annex 11, wide) take a square.
 */
export const emWidth = remembered((text: string): number => {
  let n = 0
  for (const c of text) n += characterWidth(c)
  return n
})
const characterWidth = remembered((c: string): number => {
  if (/[iljI.,:;'|! ]/.test(c)) return 0.28
  if (/[ftr()[\]/-]/.test(c)) return 0.36
  if (/[mwMW@%]/.test(c)) return 0.85
  if (/[A-Z]/.test(c)) return 0.61
  if (/[a-z0-9_$]/.test(c)) return 0.545
  return isWide(c.codePointAt(0) as number) ? 1.05 : 0.62
})

/** How many letters wide: those of East Asian scripts count as two. */
const letters = (text: string): number => {
  let n = 0
  for (const c of text) n += isWide(c.codePointAt(0) as number) ? 1.9 : 1
  return n
}
const isWide = (code: number) =>
  (code >= 0x1100 && code <= 0x115f) || (code >= 0x2e80 && code <= 0xa4cf) || (code >= 0xac00 && code <= 0xd7a3) || code >= 0x1f300

/** Names break between words so that no line is longer than the limit; longer words break within. */
export function breakName(name: string, limit: number): readonly string[] {
  if (letters(name) <= limit) return [name]
  const lines: string[] = ['']
  for (const word of nameWords(name)) {
    const last = lines[lines.length - 1] as string
    if (last.length > 0 && letters(last) + letters(word) > limit) lines.push(word)
    else lines[lines.length - 1] = last + word
  }
  return lines.flatMap((l) => pieces(l, limit))
}

/** A long word in pieces of about the same length. */
function pieces(line: string, limit: number): readonly string[] {
  const all = letters(line)
  if (all <= limit) return [line]
  const each = all / Math.ceil(all / limit)
  const out: string[] = ['']
  for (const c of line) {
    if (letters(out.at(-1) as string) >= each) out.push('')
    out[out.length - 1] += c
  }
  return out
}
