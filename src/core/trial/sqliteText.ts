// Values of an SQLite file as texts, exactly: what a query in the browser gives comes as values of JavaScript.

/** Integers come as BigInt, so that all 64 bits are there; a real is written with its shortest digits, a blob as SQLite writes one. */
export function sqliteText(v: bigint | number | string | Uint8Array | null): string | null {
  if (v === null || typeof v === 'string') return v
  if (typeof v === 'bigint') return String(v)
  // As the shell prints them: a real that is whole keeps its point ("Floating Point Numbers").
  if (typeof v === 'number') return Number.isInteger(v) && Math.abs(v) < 1e15 ? `${v}.0` : String(v)
  return `x'${Array.from(v, (b) => b.toString(16).padStart(2, '0')).join('')}'`
}
