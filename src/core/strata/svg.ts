// A scene as one SVG document of its own (SVG 1.1): nothing in it refers to anything outside.
import type { Bead, Line, Mark, Plate, Scene } from './types.ts'

/** Colours, as CSS. */
export interface MapTheme {
  readonly paper: string
  readonly card: string
  readonly band: string
  readonly ink: string
  readonly soft: string
  readonly rule: string
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
  `<circle cx="${b.x}" cy="${b.y}" r="6.5"/>${b.labelLines.map((l, i) => text('label', b.x, b.y + 19 + i * 12, l, 'middle')).join('')}</g>`

function plateOf(p: Plate): string {
  const names = p.nameLines.map((l, i) => text('name', p.x + 9, p.y + 17 + i * 16, l)).join('')
  const under = p.y + 17 + (p.nameLines.length - 1) * 16 + 13
  const rows = p.rows === null ? '' : text('rows', p.x + p.width - 8, under, p.rows.toLocaleString('en'), 'end')
  return (
    `<g class="plate${p.readOnly ? ' read-only' : ''}${p.fans === null ? '' : ' hub'}"><title>${escaped(p.id)}</title>` +
    `<rect x="${p.x}" y="${p.y}" width="${p.width}" height="${p.height}" rx="2"/>${names}${text('table', p.x + 9, under, p.table)}${rows}` +
    `${p.keys.map((k) => text('key', p.x + 9, k.y + 3, k.text)).join('')}${p.marks.map((m) => text('hub-mark', p.x + 9, m.y, m.text)).join('')}</g>`
  )
}

/** All of a scene, whatever part of it is on a screen. Lengths are CSS pixels. */
export function sceneSvg(scene: Scene, theme: MapTheme, title: string): string {
  const style = [
    `text{font-family:"Source Sans 3",sans-serif;fill:${theme.ink}}`,
    `.band-name{font-family:"Source Serif 4",serif;font-weight:600;font-size:14px;fill:${theme.soft}}`,
    `.plate rect{fill:${theme.card};stroke:${theme.ink}}.plate.read-only rect{stroke-dasharray:1 2}.plate.hub rect{stroke-width:2}`,
    `.name{font-weight:600;font-size:13px}.table,.key{font-family:"Source Code Pro",monospace;font-size:10px;fill:${theme.soft}}.rows,.mark,.hub-mark{font-size:11px;fill:${theme.soft}}`,
    `.line path,.bead path{fill:none;stroke:${theme.ink};stroke-width:1.1}.declared path{stroke-dasharray:10 3}.model path{stroke-dasharray:6 4}.guessed path{stroke-dasharray:2 3}`,
    `.bead circle{fill:${theme.card};stroke:${theme.ink};stroke-width:1.4}.bead.filled circle{fill:${theme.ink}}.label,.knot text{font-style:italic;font-size:11px;fill:${theme.soft}}`,
    `.knot rect{fill:none;stroke:${theme.soft};stroke-dasharray:2 3}`,
  ].join('')
  const bands = [scene.edge, ...scene.bands, scene.strip].filter((b) => b !== null)
  const [width, height] = [Math.ceil(scene.width), Math.ceil(scene.height)]
  return [
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" viewBox="0 0 ${width} ${height}">`,
    `<title>${escaped(title)}</title><style>${style}</style><rect width="${width}" height="${height}" fill="${theme.paper}"/>`,
    ...bands.map(
      (b, i) =>
        `<g><rect x="${b.x}" y="${b.y}" width="${b.width}" height="${b.height}" fill="${i % 2 === 0 ? theme.paper : theme.band}"/>` +
        `<path d="M${b.x} ${b.y}H${b.x + b.width}" stroke="${theme.rule}"/>${text('band-name', b.x + 8, b.y + 17, `${b.area} ${b.count}`)}</g>`,
    ),
    ...scene.knots.map(
      (k) =>
        `<g class="knot"><rect x="${k.x}" y="${k.y}" width="${k.width}" height="${k.height}" rx="3"/>${text('', k.x + 4, k.y + k.height + 13, k.label)}</g>`,
    ),
    ...scene.lines.map(lineOf),
    ...scene.plates.map(plateOf),
    ...scene.beads.map(beadOf),
    '</svg>',
    '',
  ].join('\n')
}
