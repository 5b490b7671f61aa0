// A scene as one SVG document of its own (SVG 1.1): nothing in it refers to anything outside.
import { atUsualSize } from './plate.ts'
import { plateText } from './plateText.ts'
import { size } from './size.ts'
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

const blockOf = (b: Block) =>
  `<g class="block ${b.kind}"><rect x="${b.x}" y="${b.y}" width="${b.width}" height="${b.height}" rx="3"/>${text('block-name', b.x + 9, b.y + 21, `${b.name} ${b.count}`)}${
    b.folded ? foldedOf(b.folded) : ''
  }</g>`

const foldedOf = (f: Folded) =>
  `<g class="folded"><rect x="${f.x + 3}" y="${f.y + 3}" width="${f.width - 3}" height="${f.height - 3}" rx="2"/><rect x="${f.x}" y="${f.y}" width="${f.width - 3}" height="${f.height - 3}" rx="2"/>` +
  `${text('name', f.x + 8, f.y + 20, f.count === 1 ? '1 view' : `${f.count} views`)}</g>`

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
  `<g class="knot">${k.boxes.map((b) => `<rect x="${b.x}" y="${b.y}" width="${b.width}" height="${b.height}" rx="3"/>`).join('')}${text('', k.label.x, k.label.y, k.label.text)}</g>`

/** All of a scene, whatever part of it is on a screen. Lengths are CSS pixels. */
export function sceneSvg(scene: Scene, theme: MapTheme, title: string): string {
  const style = [
    `text{font-family:"Source Sans 3",sans-serif;fill:${theme.ink}}`,
    `.block rect{fill:${theme.band};stroke:${theme.rule}}.block-name{font-family:"Source Serif 4",serif;font-weight:600;font-size:15px;fill:${theme.soft}}`,
    `.folded rect{fill:${theme.card};stroke:${theme.soft};stroke-dasharray:1 2}.bundle path{fill:none;stroke:${theme.soft};stroke-opacity:.45}.bundle .tip{fill:${theme.soft};stroke:none}.count{font-size:11px;fill:${theme.soft}}`,
    `.plate rect{fill:${theme.card};stroke:${theme.ink}}.plate.read-only rect{stroke-dasharray:1 2}.plate.hub rect{stroke-width:2}`,
    `.name{font-weight:600;font-size:13px}.table{font-family:"Source Code Pro",monospace;fill:${theme.soft}}.key{font-family:"Source Code Pro",monospace;fill:${theme.soft}}.rows{font-size:9px;fill:${theme.soft}}.mark,.hub-mark{font-size:10px;fill:${theme.soft}}`,
    `.line path,.bead path{fill:none;stroke:${theme.ink};stroke-width:1.1}.declared path{stroke-dasharray:10 3}.model path{stroke-dasharray:6 4}.guessed path{stroke-dasharray:2 3}`,
    `.bead circle{fill:${theme.card};stroke:${theme.ink};stroke-width:1.4}.bead.filled circle{fill:${theme.ink}}.label,.knot text{font-style:italic;font-size:11px;fill:${theme.soft}}`,
    `.knot rect{fill:none;stroke:${theme.soft};stroke-dasharray:2 3}`,
  ].join('')
  const [width, height] = [Math.ceil(scene.width), Math.ceil(scene.height)]
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">`,
    `<title>${escaped(title)}</title><style>${style}</style><rect width="${width}" height="${height}" fill="${theme.paper}"/>`,
    ...scene.blocks.map(blockOf),
    ...scene.bundles.map(bundleOf),
    ...scene.knots.map(knotOf),
    ...scene.lines.filter((l) => l.bundle === null).map(lineOf),
    ...scene.plates.map(plateOf),
    ...scene.beads.filter((b) => b.bundle === null).map(beadOf),
    '</svg>',
    '',
  ].join('\n')
}
