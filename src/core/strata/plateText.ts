// What is written on a plate below its name, and how large so that nothing is cut.
import { breakName, size } from './size.ts'
import type { Plate } from './types.ts'

export interface PlateText {
  readonly x: number
  /** The database's name, or how many refer to a hub. */
  readonly table: readonly { readonly text: string; readonly y: number }[]
  readonly tableFont: number
  readonly rows: string
  readonly rowsY: number
  readonly keyFont: (text: string) => number
}

/** Width of a character of the monospaced face, in its font size. */
const monospaced = 0.605
const largest = { table: 10, key: 5.6, centralKey: 13 }
const smallestTable = 5.5

export function plateText(p: Plate): PlateText {
  const below = p.y + 4 + p.nameLines.length * size.nameLine
  const rows = p.rows?.toLocaleString('en') ?? ''
  const text = p.fans === null ? p.table : `${p.fans} refer to it`
  const room = p.width - 2 * size.inset - rows.length * 5
  const font = Math.max(smallestTable, Math.min(largest.table, room / (text.length * monospaced)))
  const lines = breakName(text, Math.max(4, Math.floor(room / (smallestTable * monospaced))))
  const tableFont = lines.length > 1 ? Math.min(smallestTable, 9 / lines.length) : Math.round(font * 10) / 10
  return {
    x: p.x + size.inset,
    table: lines.map((l, i) => ({ text: l, y: below + 8 - (lines.length > 1 ? 4 : 0) + i * tableFont })),
    tableFont,
    rows,
    rowsY: below + 8,
    keyFont: (key) => Math.round(Math.min(p.central ? largest.centralKey : largest.key, (p.width - 2 * size.inset) / (key.length * monospaced)) * 10) / 10,
  }
}
