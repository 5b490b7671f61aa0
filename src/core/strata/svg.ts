// A scene as one SVG document of its own (SVG 1.1): nothing in it refers to anything outside.
import { foldedText } from './frame.ts'
import { labelOf, sayingOf } from './labels.ts'
import { atUsualSize } from './plate.ts'
import { plateText } from './plateText.ts'
import { emWidth, size } from './size.ts'
import type { Bead, Block, Bundle, Folded, Knot, Line, Mark, Plate, Scene } from './types.ts'

/** Colours, as CSS. */
export interface MapTheme {
  readonly paper: string
  readonly card: string
  readonly band: string
  readonly ink: string
  readonly soft: string
  readonly rule: string
}

/** Wider the more lines there are in it, up to a limit; map units. */
export const bundleWidth = (count: number): number => Math.round(Math.min(4, 0.8 + Math.sqrt(count) * 0.6) * 10) / 10

/** An arrowhead where a bundle arrives at the left edge of a block; a second one before it where some lines lead the other way. */
export const tipPath = ({ tip, back }: Pick<Bundle, 'tip' | 'back'>): string => {
  const head = (x: number) => `M${x} ${tip.y - 4}L${x + 7} ${tip.y}L${x} ${tip.y + 4}z`
  return back > 0 ? `${head(tip.x)}M${tip.x - 2} ${tip.y - 4}L${tip.x - 9} ${tip.y}L${tip.x - 2} ${tip.y + 4}z` : head(tip.x)
}

/** XML 1.0, 2.4: what may not stand as itself in text and attributes. Control characters, which XML has no way to write, are left out. */
const escaped = (text: string) =>
  text
    // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what XML cannot hold
    .replace(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/g, '')
    .replace(/&/g, '&amp;')
    .replace(/</g, '&lt;')
    .replace(/>/g, '&gt;')
    .replace(/"/g, '&quot;')

const text = (cls: string, x: number, y: number, says: string, anchor: 'start' | 'middle' | 'end' = 'start') =>
  `<text class="${cls}" x="${x}" y="${y}"${anchor === 'start' ? '' : ` text-anchor="${anchor}"`}>${escaped(says)}</text>`

const mark = (m: Mark) => (m.shared ? '' : text('mark', m.x, m.y, m.text, m.anchor))

const lineOf = (l: Line) => `<g class="line ${l.state}"><title>${escaped(l.id)}</title><path d="${l.path}"/>${l.marks.map(mark).join('')}</g>`

const beadOf = (b: Bead) =>
  `<g class="bead ${b.state}${b.filled ? ' filled' : ''}"><title>${escaped(b.id)}</title><path d="${b.path}"/>${b.marks.map(mark).join('')}` +
  `<circle cx="${b.x}" cy="${b.y}" r="6"/>${b.labelLines.map((l, i) => text('label', b.x, b.y + 16 + i * 11, l, 'middle')).join('')}</g>`

function blockOf(b: Block): string {
  // Its name at the size it has where a map is read, smaller or shorter where the block is narrow.
  const label = labelOf(b, sayingOf(b), 0.9, true)
  const names = label?.lines.map(
    (l) =>
      `<text class="block-name" style="font-size:${round(label.font)}px" x="${round(l.x)}" y="${round(l.y)}">${l.spans.map((s, i) => `<tspan class="${s.of}-of">${i > 0 ? ' ' : ''}${escaped(s.text)}</tspan>`).join('')}</text>`,
  )
  return `<g class="block ${b.kind}"><rect x="${b.x}" y="${b.y}" width="${b.width}" height="${b.height}" rx="3"/>${names?.join('') ?? ''}${b.folded ? foldedOf(b.folded) : ''}</g>`
}

const foldedOf = (f: Folded) =>
  `<g class="folded"><rect x="${f.x + 3}" y="${f.y + 3}" width="${f.width - 3}" height="${f.height - 3}" rx="2"/><rect x="${f.x}" y="${f.y}" width="${f.width - 3}" height="${f.height - 3}" rx="2"/>` +
  `${text('name', f.x + 8, f.y + 20, foldedText(f.count))}</g>`

const bundleOf = (b: Bundle) =>
  `<g class="bundle"><path style="stroke-width:${bundleWidth(b.count)}" d="${b.path}"/><path class="tip" d="${tipPath(b)}"/>${text('count', b.tip.x + 9, b.tip.y + 4, String(b.count))}</g>`

function plateOf(drawn: Plate): string {
  const { plate: p, transform } = atUsualSize(drawn)
  const t = plateText(p)
  const names = p.nameLines.map((l, i) => text('name', t.x, p.y + 14 + i * size.nameLine, l)).join('')
  const sized = (cls: string, font: number, x: number, y: number, says: string) =>
    `<text class="${cls}" style="font-size:${font}px" x="${x}" y="${y}">${escaped(says)}</text>`
  return (
    `<g class="plate${p.readOnly ? ' read-only' : ''}${p.fans === null ? '' : ' hub'}"${transform ? ` transform="${transform}"` : ''}><title>${escaped(p.id)}</title>` +
    `<rect x="${p.x}" y="${p.y}" width="${p.width}" height="${p.height}" rx="2"/>${names}` +
    `${t.table.map((l) => sized('table', t.tableFont, t.x, l.y, l.text)).join('')}${t.rows === '' ? '' : text('rows', p.x + p.width - 5, t.rowsY, t.rows, 'end')}` +
    `${p.keys.map((k) => sized('key', t.keyFont(k.text), t.x, k.y + 2, k.text)).join('')}${p.marks.map((m) => text('hub-mark', t.x, m.y, m.text)).join('')}</g>`
  )
}

const knotOf = (k: Knot) =>
  `<g class="knot"><title>${escaped(k.label)}</title>${k.boxes.map((b) => `<rect x="${b.x}" y="${b.y}" width="${b.width}" height="${b.height}" rx="3"/>`).join('')}</g>`

/** The day's colours, where no page gives others: those of the interface. */
export const dayTheme: MapTheme = { paper: '#f5f1e6', card: '#fbf9f2', band: '#efe9da', ink: '#1d2b3a', soft: '#5f6b76', rule: '#d8d1bf' }

const styleOf = (theme: MapTheme) =>
  [
    `text{font-family:"Source Sans 3","Source Sans Pro",sans-serif;fill:${theme.ink}}`,
    `.block rect{fill:${theme.band};stroke:${theme.rule}}.block-name{font-family:"Source Serif 4",serif;font-weight:600}.count-of{font-weight:400;fill:${theme.soft}}`,
    `.folded rect{fill:${theme.card};stroke:${theme.soft};stroke-dasharray:1 2}.bundle path{fill:none;stroke:${theme.soft};stroke-opacity:.45}.bundle .tip{fill:${theme.soft};stroke:none}.bundle .count{font-size:11px;fill:${theme.soft}}`,
    `.plate rect{fill:${theme.card};stroke:${theme.ink}}.plate.read-only rect{stroke-dasharray:1 2}.plate.hub rect{stroke-width:2}`,
    `.name{font-weight:600;font-size:13px}.table,.key{font-family:"Source Code Pro",monospace;fill:${theme.soft}}.rows{font-size:9px;fill:${theme.soft}}.mark,.hub-mark{font-size:10px;fill:${theme.soft}}`,
    `.line path,.bead path{fill:none;stroke:${theme.ink};stroke-width:1.1}.declared path{stroke-dasharray:10 3}.model path{stroke-dasharray:6 4}.guessed path{stroke-dasharray:2 3}`,
    `.bead circle{fill:${theme.card};stroke:${theme.ink};stroke-width:1.4}.bead.filled circle{fill:${theme.ink}}.label,.knot text{font-style:italic;font-size:11px;fill:${theme.soft}}`,
    `.knot rect{fill:none;stroke:${theme.soft};stroke-dasharray:2 3}.legend text{font-size:12px;fill:${theme.soft}}`,
  ].join('')

/** A sample, drawn from 0 to 34 on a line at 0, and what it means. */
interface LegendItem {
  readonly sample: string
  readonly says: string
}

const sampleLine = (state: string) => `<g class="line ${state}"><path d="M0 0H34"/></g>`
const sampleBead = (filled: boolean) => `<g class="bead enforced${filled ? ' filled' : ''}"><path d="M0 0H34"/><circle cx="17" cy="0" r="6"/></g>`
const samplePlate = (cls: string) => `<g class="plate ${cls}"><rect x="2" y="-7" width="30" height="14" rx="2"/></g>`

/** What is drawn in this scene, and what it means. */
function legendOf(scene: Scene): readonly LegendItem[] {
  const drawn = [...scene.lines, ...scene.beads].filter((l) => l.bundle === null)
  const states = (['enforced', 'declared', 'model', 'guessed'] as const).filter((s) => drawn.some((l) => l.state === s))
  const meaning = { enforced: 'enforced by the database', declared: 'declared, not enforced', model: 'in the model only', guessed: 'guessed' } as const
  const items: (LegendItem | null)[] = [
    { sample: '', says: 'A table stands right of what it refers to. 1, 0–1, n: how many there are at that end.' },
    ...states.map((s) => ({ sample: sampleLine(s), says: meaning[s] })),
    scene.beads.some((b) => !b.filled) ? { sample: sampleBead(false), says: 'join table' } : null,
    scene.beads.some((b) => b.filled) ? { sample: sampleBead(true), says: 'join table with columns of its own' } : null,
    scene.plates.some((p) => p.marks.length > 0) ? { sample: text('hub-mark', 12, 4, '▸'), says: 'refers to a hub' } : null,
    scene.knots.length > 0
      ? { sample: '<g class="knot"><rect x="2" y="-8" width="30" height="16" rx="3"/></g>', says: 'refer to each other in a cycle' }
      : null,
    scene.plates.some((p) => p.readOnly) ? { sample: samplePlate('read-only'), says: 'only read' } : null,
    scene.bundles.length > 0
      ? {
          sample: `<g class="bundle"><path style="stroke-width:3" d="M0 0H28"/><path class="tip" d="M27 -4L34 0L27 4z"/></g>`,
          says: 'so many lines to another area',
        }
      : null,
  ]
  return items.filter((i) => i !== null)
}

const legendLine = 22

/** The legend in lines no wider than this, from the top left corner, and how high it is. */
function legendSvg(items: readonly LegendItem[], width: number): { readonly svg: string; readonly height: number } {
  let [x, y] = [0, legendLine]
  const parts = items.map(({ sample, says }) => {
    const room = (sample === '' ? 0 : 42) + emWidth(says) * 12 + 24
    if (x > 0 && x + room > width) [x, y] = [0, y + legendLine]
    const part = `<g transform="translate(${round(x)} ${y})"><g transform="translate(0 -4)">${sample}</g>${text('', sample === '' ? 0 : 42, 0, says)}</g>`
    x += room
    return part
  })
  return { svg: `<g class="legend">${parts.join('')}</g>`, height: y + legendLine / 2 }
}

const round = (n: number) => Math.round(n * 10) / 10

/** CSS pixels; the drawing keeps its proportions in it. */
export interface PictureSize {
  readonly width: number
  readonly height: number
}

/** All of a scene with its legend, whatever part of it is on a screen: as large as it is, or in a picture of this size. */
export function sceneSvg(scene: Scene, theme: MapTheme, title: string, picture: PictureSize | null = null): string {
  const side = Math.max(scene.width, 420)
  const legend = legendSvg(legendOf(scene), side - 2 * size.margin)
  const [width, height] = [Math.ceil(side), Math.ceil(scene.height + legend.height + size.margin)]
  const shown = picture ?? { width, height }
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${shown.width}" height="${shown.height}" viewBox="0 0 ${width} ${height}">`,
    `<title>${escaped(title)}</title><style>${styleOf(theme)}</style><rect width="${width}" height="${height}" fill="${theme.paper}"/>`,
    ...scene.blocks.map(blockOf),
    ...scene.bundles.map(bundleOf),
    ...scene.knots.map(knotOf),
    ...scene.lines.filter((l) => l.bundle === null).map(lineOf),
    ...scene.plates.map(plateOf),
    ...scene.beads.filter((b) => b.bundle === null).map(beadOf),
    `<g transform="translate(${size.margin} ${Math.ceil(scene.height)})">${legend.svg}</g>`,
    '</svg>',
    '',
  ].join('\n')
}
