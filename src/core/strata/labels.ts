// What the name of a block, and the count of a bundle, come to at a zoom: as large as can be read, and never beyond the room they have.
import { emWidth, size } from './size.ts'
import type { Block, Bundle } from './types.ts'

/** What is said of a block: its name, how many are in it, and what waits there; shorter ways of saying it where there is less room. */
export interface Saying {
  readonly name: string
  /** A shorter name, where there is one. */
  readonly short: string | null
  readonly count: string
  /** Empty where nothing waits. */
  readonly open: string
}

/** What a block says of itself; `open` of its findings wait. */
export function sayingOf(b: Block, open = 0): Saying {
  const views = b.folded ? ` + ${b.folded.count.toLocaleString('en')} ${b.folded.count === 1 ? 'view' : 'views'}` : ''
  const short = { hubs: 'Hubs', alone: 'Alone', area: null, views: 'Views' } as const
  return { name: b.name, short: short[b.kind], count: `${b.count}${views}`, open: open > 0 ? `${open} open` : '' }
}

export interface LabelLine {
  readonly x: number
  /** Baseline. */
  readonly y: number
  readonly spans: readonly { readonly text: string; readonly of: 'name' | 'count' | 'open' }[]
}

/** In map units; `cover` where the label takes the room of the plates, which are not drawn then. */
export interface Label {
  readonly font: number
  readonly lines: readonly LabelLine[]
  readonly cover: boolean
}

/** CSS pixels: a label is as large as this where there is room, and not smaller than that. */
const wanted = 15
const least = 10
/** Serif, semibold, against the widths of the sans. */
const serif = 1.06

type Span = LabelLine['spans'][number]
const widthOf = (spans: readonly Span[], font: number) => (emWidth(spans.map((s) => s.text).join(' ')) + 0.3) * font * serif

/**
 * At zoom `k`: one line in the head of the block, with less of it where there is little room; over the whole block where the head is too low to be
 * read and the plates are too small to be told apart; null where not even the count fits.
 */
export function labelOf(block: Block, say: Saying, k: number, platesShown: boolean): Label | null {
  const spans = (name: string | null, ...more: readonly (readonly [string, Span['of']])[]): readonly Span[] => [
    ...(name === null ? [] : [{ text: name, of: 'name' as const }]),
    ...more.filter(([text]) => text !== '').map(([text, of]) => ({ text, of })),
  ]
  const names = [say.name, ...(say.short === null ? [] : [say.short])]
  const single = [
    ...names.map((n) => spans(n, [say.count, 'count'], [say.open, 'open'])),
    ...names.map((n) => spans(n, [say.count, 'count'])),
    ...names.map((n) => spans(n)),
    spans(null, [say.count, 'count']),
  ]
  const room = block.width - 14
  const head = Math.min(wanted / k, size.blockHead * 0.72)
  if (head * k >= least) {
    for (const line of single) {
      const font = Math.min(head, (head * room) / widthOf(line, head))
      if (font * k >= least) return { font, cover: false, lines: [{ x: block.x + 8, y: block.y + size.blockHead * 0.5 + font * 0.34, spans: line }] }
    }
    return null
  }
  if (platesShown) return null
  return covering(block, say, k)
}

/** Words of the name in lines, then the count, in the middle of the block; with less where there is little room. */
function covering(block: Block, say: Saying, k: number): Label | null {
  const font = Math.min(wanted / k, block.height / 3)
  const fonts = [font, (font + least / k) / 2, least / k].filter((f) => f * k >= least - 0.01)
  const count: Span = { text: say.count, of: 'count' }
  const open: readonly Span[] = say.open === '' ? [] : [{ text: say.open, of: 'open' }]
  const names = [say.name, ...(say.short === null ? [] : [say.short])]
  for (const tail of [[count, ...open], [count], []]) {
    for (const f of fonts) {
      for (const name of names) {
        const lines = coverLines(name, tail, f, block.width - 8)
        const high = lines.length * f * 1.2
        if (high > block.height - 4 || !lines.every((line) => widthOf(line, f) <= block.width - 8)) continue
        const top = block.y + (block.height - high) / 2
        return {
          font: f,
          cover: true,
          lines: lines.map((spans, i) => ({ x: block.x + (block.width - widthOf(spans, f)) / 2, y: top + f * (1.2 * i + 1), spans })),
        }
      }
    }
  }
  return null
}

function coverLines(name: string, tail: readonly Span[], font: number, room: number): readonly (readonly Span[])[] {
  const lines: string[] = []
  for (const word of name.split(' ')) {
    const joined = lines.length === 0 ? word : `${lines.at(-1)} ${word}`
    if (lines.length > 0 && widthOf([{ text: joined, of: 'name' }], font) <= room) lines[lines.length - 1] = joined
    else lines.push(word)
  }
  const rest = tail.length > 0 && widthOf(tail, font) <= room ? [tail] : tail.map((s) => [s])
  return [...lines.map((text): readonly Span[] => [{ text, of: 'name' }]), ...rest]
}

/** Font of a bundle's count at a zoom, in map units; null where it could not be read in the room it has. */
export function countFont(bundle: Pick<Bundle, 'room' | 'count'>, k: number): number | null {
  const font = Math.min(12 / k, bundle.room.height * 0.95, bundle.room.width / Math.max(0.6, emWidth(String(bundle.count))))
  return font * k >= least ? font : null
}
