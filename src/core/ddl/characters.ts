// What a character code begins, goes on with or is none of; NaN stands for the end of the text.

export const isDigit = (c: number) => c >= 48 && c <= 57
export const isSpace = (c: number) => (c < 128 ? classes[c] === 4 : c === 0xfeff || c === 0xa0)
/** Letters, `_`, and everything beyond ASCII begin a name (PostgreSQL manual 4.1.1). */
export const isStart = (c: number) => (c < 128 ? ((classes[c] as number) & 1) !== 0 : c >= 128)
/** Digits and `$` go on with one. NaN, which stands for the end of the text, is in no class. */
export const isPart = (c: number) => (c < 128 ? ((classes[c] as number) & 3) !== 0 : c >= 128)

/** `'` or `&` after a letter: a string with a prefix. */
export const mayPrefix = (c: number) => c === 39 || c === 38

/** Of ASCII: 1 begins a name, 2 goes on with one, 4 is blank, 8 is a capital, 16 a small letter. */
export const classes = Uint8Array.from({ length: 128 }, (_, c) => {
  if (c >= 65 && c <= 90) return 1 | 8
  if (c >= 97 && c <= 122) return 1 | 16
  return c === 95 ? 1 : isDigit(c) || c === 36 ? 2 : c === 32 || (c >= 9 && c <= 13) ? 4 : 0
})
