// Words that say that a table keeps what was.

/** Tables that keep what was: often copies, and seldom under the rules of what they copy. */
export const recordWords: ReadonlySet<string> = new Set(
  'log history histo hist audit stat statistic cache archive archived backup bak old tmp temp temporary journal trace staging'.split(' '),
)
