// Short forms of names: the front of a word, its consonants, or the initials of several.

/** How well `short` stands for these words, from 0 to 1: `dept` for department, `addr` for address, `pn` for part number. */
export function shortFormOf(short: string, words: readonly string[]): number {
  const last = words.at(-1)
  if (last === undefined) return 0
  if (words.length > 1 && short.length === words.length && words.every((w, i) => w[0] === short[i])) return 0.8
  if (short.length < 3) return 0
  if (short.length < last.length && last.startsWith(short)) return words.length === 1 ? 1 : 0.7
  if (short.length < words.join('').length - 1 && isSkeleton(short, last)) return words.length === 1 ? 0.8 : 0.5
  return 0
}

/** The same first letter and every letter of `short` in order; vowels only where the word begins so. */
function isSkeleton(short: string, word: string): boolean {
  if (short[0] !== word[0] || short.length * 3 < word.length || short.length >= word.length) return false
  let at = 0
  for (const c of short) {
    at = word.indexOf(c, at) + 1
    if (at === 0) return false
  }
  return !/[aeiou]/.test(short.slice(1)) || word.startsWith(short.slice(0, 3))
}
