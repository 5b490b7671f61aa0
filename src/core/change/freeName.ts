// Names that something has for a while only.

/** The name with a word behind it, and a number where that is taken. It fits into the 63 bytes of a PostgreSQL name where letters have one. */
export function freeName(name: string, word: string, isTaken: (wanted: string) => boolean): string {
  const short = [...name].slice(0, 40).join('')
  for (let n = 0; ; n += 1) {
    const wanted = `${short}_${word}${n === 0 ? '' : n}`
    if (!isTaken(wanted)) return wanted
  }
}
