// Blocks in rows, packed to the shape of the pane: every block can be drawn wide and low or narrow and high, and rows are filled like lines of text.
import { size } from './size.ts'

/** A block in one of the forms it can take: outer width and height. */
export interface Form {
  readonly width: number
  readonly height: number
}

export interface Packable {
  readonly key: string
  /** From low and wide to high and narrow; at least one. */
  readonly forms: readonly Form[]
}

/** Rows from top to bottom, cells from left to right, blocks on top of each other in a cell, each with the room it was given. */
export interface Packing {
  readonly rows: readonly Row[]
}
export interface Row {
  readonly cells: readonly Cell[]
}
export interface Cell {
  readonly blocks: readonly Given[]
}
export interface Given extends Form {
  readonly key: string
}

const widthOf = (c: Cell) => Math.max(...c.blocks.map((b) => b.width))
const heightOf = (c: Cell) => c.blocks.reduce((h, b) => h + b.height + size.channel, -size.channel)
const rowWidth = (r: Row) => r.cells.reduce((w, c) => w + widthOf(c) + size.channel, -size.channel)
const rowHeight = (r: Row) => Math.max(...r.cells.map(heightOf))

/** Width and height of all, without the margin. */
export function extentOfPacking(p: Packing): Form {
  if (p.rows.length === 0) return { width: 0, height: 0 }
  return { width: Math.max(...p.rows.map(rowWidth)), height: p.rows.reduce((h, r) => h + rowHeight(r) + size.channel, -size.channel) }
}

/** Heights that a row can have: those of the forms, a few dozen of them. */
function heightsOf(blocks: readonly Packable[]): readonly number[] {
  const all = [...new Set(blocks.flatMap((b) => b.forms.map((f) => Math.ceil(f.height))))].sort((a, b) => a - b)
  const least = Math.ceil(Math.max(...blocks.map((b) => Math.min(...b.forms.map((f) => f.height)))))
  const kept: number[] = []
  for (const h of all) if (h >= least && (kept.length === 0 || h >= (kept.at(-1) as number) * 1.04)) kept.push(h)
  return kept
}

/** The narrowest form no higher than this; null where all are higher. Forms come from low to high, each narrower than the one before. */
function narrowest(b: Packable, height: number): Form | null {
  for (let i = b.forms.length - 1; i >= 0; i -= 1) if ((b.forms[i] as Form).height <= height) return b.forms[i] as Form
  return null
}

/** A block below another one costs less width than this share of what it would cost beside it. */
const worthStacking = 0.5

/** Where the blocks of a row go: below the one before, or beside it; and the form of each. */
interface Step {
  readonly below: boolean
  readonly form: Form
}

/** Fills one row of this height from a block on, as far as the width goes; tells how high the row is with each block. */
function fillRow(blocks: readonly Packable[], from: number, height: number, width: number, each: (count: number, high: number, step: Step) => void): void {
  let used = -size.channel
  let wide = 0
  let high = 0
  let highest = 0
  for (let i = from; i < blocks.length; i += 1) {
    const b = blocks[i] as Packable
    const beside = narrowest(b, height)
    if (!beside) return
    const under = i === from ? null : narrowest(b, height - high - size.channel)
    const more = under ? Math.max(0, under.width - wide) : Number.POSITIVE_INFINITY
    const below = under !== null && more <= beside.width * worthStacking && used + more <= width
    if (below) {
      used += more
      wide += more
      high += size.channel + under.height
    } else {
      if (used + size.channel + beside.width > width) return
      used += size.channel + beside.width
      wide = beside.width
      high = beside.height
    }
    highest = Math.max(highest, high)
    each(i - from + 1, highest, { below, form: below ? under : beside })
  }
}

/** Height of the lowest packing in the given order into this width, and the height and number of blocks of each row; by dynamic programming over the rows. */
function planRows(
  blocks: readonly Packable[],
  width: number,
  heights: readonly number[],
): { readonly total: number; readonly rows: readonly { readonly height: number; readonly count: number }[] } | null {
  const total = new Array<number>(blocks.length + 1).fill(Number.POSITIVE_INFINITY)
  total[blocks.length] = -size.channel
  const choice: ({ readonly height: number; readonly count: number } | undefined)[] = []
  for (let from = blocks.length - 1; from >= 0; from -= 1) {
    for (const height of heights) {
      fillRow(blocks, from, height, width, (count, high) => {
        const all = high + size.channel + (total[from + count] as number)
        if (all >= (total[from] as number)) return
        total[from] = all
        choice[from] = { height, count }
      })
    }
    if (total[from] === Number.POSITIVE_INFINITY) return null
  }
  const rows: { readonly height: number; readonly count: number }[] = []
  for (let at = 0; at < blocks.length; at += rows.at(-1)?.count as number) rows.push(choice[at] as { height: number; count: number })
  return { total: total[0] as number, rows }
}

/** The cells of a row that was planned. */
function rowOf(blocks: readonly Packable[], from: number, plan: { readonly height: number; readonly count: number }): Row {
  const cells: { blocks: Given[] }[] = []
  fillRow(blocks.slice(0, from + plan.count), from, plan.height, Number.POSITIVE_INFINITY, (count, _, { below, form }) => {
    const given = { key: (blocks[from + count - 1] as Packable).key, width: form.width, height: form.height }
    if (below) cells.at(-1)?.blocks.push(given)
    else cells.push({ blocks: [given] })
  })
  return { cells }
}

interface Tried {
  readonly blocks: readonly Packable[]
  readonly width: number
  readonly scale: number
  readonly rows: readonly { readonly height: number; readonly count: number }[]
}

/** How much wider than it needs a block may be made so that rows end together. */
const mostStretch = 1.4
/** Widths that are tried, as shares of the side of a square of all blocks; and around the best of them, for other orders. */
const widths = Array.from({ length: 40 }, (_, i) => 0.9 + i * 0.02)
const near = [-0.03, 0, 0.03]

/**
 * Blocks so that the whole is as large as it can be in a pane of this shape (width over height): in the given order, or with a few of them moved
 * where that wins much. Rows are as high as their highest cell and end together, as far as blocks
 * can be stretched. Deterministic.
 */
export function packBlocks(blocks: readonly Packable[], shape: number): Packing {
  if (blocks.length === 0) return { rows: [] }
  const heights = heightsOf(blocks)
  const area = blocks.reduce((n, b) => n + Math.min(...b.forms.map((f) => (f.width + size.channel) * (f.height + size.channel))), 0)
  const side = Math.sqrt(area * shape)
  const at = (order: readonly Packable[], shares: readonly number[]): Tried | null =>
    shares.reduce<Tried | null>((best, share) => {
      const plan = planRows(order, side * share, heights)
      if (!plan) return best
      const scale = Math.min(shape / (side * share + 2 * size.margin), 1 / (plan.total + 2 * size.margin))
      return best && best.scale >= scale ? best : { blocks: order, width: share, scale, rows: plan.rows }
    }, null)
  const first = at(blocks, widths) ?? at(blocks, [4, 8, 16, 32])
  if (!first) return { rows: blocks.map((b) => ({ cells: [{ blocks: [{ key: b.key, ...(b.forms.at(-1) as Form) }] }] })) }
  let best: Tried = first
  for (let n = 0; n < mostMoves; n += 1) {
    const shares = near.map((d) => best.width + d)
    let better: Tried = best
    for (const order of movesOf(best.blocks)) {
      const tried = at(order, shares)
      if (tried && tried.scale > better.scale) better = tried
    }
    if (better.scale < best.scale * leastGain) break
    best = better
  }
  let from = 0
  const rows: Row[] = []
  for (const plan of best.rows) {
    rows.push(rowOf(best.blocks, from, plan))
    from += plan.count
  }
  return stretched({ rows })
}

/** A move must make the map larger by this to be worth leaving the order. */
const leastGain = 1.008
const mostMoves = 4
/** Of more blocks than this none does: it would take too long. */
const mostMoved = 40

/** Orders with one block moved. */
function movesOf(order: readonly Packable[]): readonly (readonly Packable[])[] {
  if (order.length > mostMoved) return []
  return order.flatMap((block, i) => {
    const rest = [...order.slice(0, i), ...order.slice(i + 1)]
    return [-3, -2, 1, 2, 3].filter((d) => i + d >= 0 && i + d < order.length).map((d) => [...rest.slice(0, i + d), block, ...rest.slice(i + d)])
  })
}

function stretched(p: Packing): Packing {
  const { width } = extentOfPacking(p)
  return {
    rows: p.rows.map((row) => {
      const own = row.cells.reduce((w, c) => w + widthOf(c), 0)
      const factor = Math.min(mostStretch, (own + width - rowWidth(row)) / own)
      const high = rowHeight(row)
      return {
        cells: row.cells.map((cell) => {
          const wide = widthOf(cell) * factor
          const tall = cell.blocks.reduce((h, b) => h + b.height, 0)
          const more = (high - heightOf(cell) + tall) / tall
          return { blocks: cell.blocks.map((b) => ({ key: b.key, width: wide, height: b.height * more })) }
        }),
      }
    }),
  }
}

/** Where the blocks of a packing stand, none smaller than what it needs; and the channels between them. */
export interface Stacked {
  readonly width: number
  readonly height: number
  readonly places: ReadonlyMap<string, PlaceInRows>
  /** Middle of the channel above each row, and of that below the last. */
  readonly rowChannels: readonly number[]
  /** By row: middle of the channel left of each cell, and of that right of the last. */
  readonly cellChannels: readonly (readonly number[])[]
}
export interface PlaceInRows {
  readonly row: number
  readonly cell: number
  readonly x: number
  readonly y: number
  readonly width: number
  readonly height: number
}

export function stackPacking(p: Packing, needs: (key: string) => Form): Stacked {
  const places = new Map<string, PlaceInRows>()
  const rowChannels: number[] = []
  const cellChannels: number[][] = []
  let y: number = size.margin
  let right = 0
  for (const [r, row] of p.rows.entries()) {
    rowChannels.push(y - size.channel / 2)
    const xs: number[] = []
    let x: number = size.margin
    let bottom = y
    for (const [c, cell] of row.cells.entries()) {
      xs.push(x - size.channel / 2)
      const wide = Math.max(...cell.blocks.map((b) => Math.max(b.width, needs(b.key).width)))
      let top = y
      for (const b of cell.blocks) {
        const height = Math.max(b.height, needs(b.key).height)
        places.set(b.key, { row: r, cell: c, x, y: top, width: wide, height })
        top += height + size.channel
      }
      bottom = Math.max(bottom, top - size.channel)
      x += wide + size.channel
    }
    xs.push(x - size.channel / 2)
    right = Math.max(right, x - size.channel)
    cellChannels.push(xs)
    y = bottom + size.channel
  }
  rowChannels.push(y - size.channel / 2)
  return { width: right + size.margin, height: y - size.channel + size.margin, places, rowChannels, cellChannels }
}
