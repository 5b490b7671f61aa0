// Names of ends are written where there is room for them beside plates, multiplicities and each other; all others when their line is looked at.
import { emWidth } from './size.ts'
import type { Box, EndName, Line, Mark, Plate } from './types.ts'

/** From close by, in units of the map: fonts of names and multiplicities, and how far a name is moved up to its multiplicity (globals.css). */
const fonts = { name: 6.5, mark: 7 } as const
const up = 5.5
/** Letters with serifs are a little wider than those that widths are reckoned by. */
const wider = 1.08

/** What of a line of text is inked. */
const inked = (x: number, y: number, text: string, anchor: 'start' | 'end', font: number): Box => {
  const width = emWidth(text) * font * wider
  return { x: anchor === 'end' ? x - width : x, y: y - font * 0.75, width, height: font * 0.8 }
}
const ofName = (e: EndName): Box => inked(e.x, e.y - up, e.text, e.anchor, fonts.name)
const ofMark = (m: Mark): Box => inked(m.x, m.y, m.text, m.anchor, fonts.mark)
const over = (a: Box, b: Box) => a.x < b.x + b.width && b.x < a.x + a.width && a.y < b.y + b.height && b.y < a.y + a.height

/** Boxes by the squares they lie in. */
class Squares {
  readonly #side = 120
  readonly #of = new Map<string, Box[]>()

  #keys({ x, y, width, height }: Box): readonly string[] {
    const keys: string[] = []
    for (let i = Math.floor(x / this.#side); i <= Math.floor((x + width) / this.#side); i += 1)
      for (let j = Math.floor(y / this.#side); j <= Math.floor((y + height) / this.#side); j += 1) keys.push(`${i} ${j}`)
    return keys
  }
  add(box: Box): void {
    for (const key of this.#keys(box)) {
      const own = this.#of.get(key)
      if (own) own.push(box)
      else this.#of.set(key, [box])
    }
  }
  isFree = (box: Box): boolean => !this.#keys(box).some((key) => this.#of.get(key)?.some((b) => over(b, box)))
}

/** Lines within blocks, with the names of their ends told apart. */
export function withRoom(lines: readonly Line[], plates: readonly Plate[]): readonly Line[] {
  const taken = new Squares()
  for (const p of plates) taken.add(p)
  for (const l of lines) if (l.bundle === null) for (const m of l.marks) if (!m.shared) taken.add(ofMark(m))
  return lines.map((l) => {
    const [back, there] = l.ends
    if (l.bundle !== null) return l
    const box = ofName(back)
    if (!taken.isFree(box)) return { ...l, ends: [{ ...back, crowded: true }, there] }
    taken.add(box)
    return l
  })
}
