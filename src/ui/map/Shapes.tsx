// What stands on the map, as SVG.
import type { CSSProperties } from 'react'
import type { Becomes } from '../../core/change/index.ts'
import {
  atUsualSize,
  type Bead,
  type Block,
  type Bundle,
  bundleWidth,
  type Folded,
  foldedText,
  type Knot,
  type Label,
  type Line,
  type Plate,
  plateText,
  tipPath,
} from '../../core/strata/index.ts'

/** What a plan makes of a table, in the words of its map. */
const becomesWords: Readonly<Record<Becomes, string>> = { made: 'new', dropped: 'goes', changed: 'changes', locked: 'locked' }

export function BlockShape({ block }: { block: Block }) {
  return (
    <g className={`block ${block.kind}`}>
      <rect x={block.x} y={block.y} width={block.width} height={block.height} rx={3} />
    </g>
  )
}

/** Name, count and what waits, as large as there is room for. */
export function BlockLabel({ block, label }: { block: Block; label: Label }) {
  return (
    <g className={`block-label ${block.kind}`} data-block={block.key} style={{ fontSize: label.font }}>
      {label.lines.map((line, i) => (
        <text key={i} x={line.x} y={line.y}>
          {line.spans.map((s, n) => (
            <tspan key={s.of} className={s.of}>
              {n === 0 ? s.text : ` ${s.text}`}
            </tspan>
          ))}
        </text>
      ))}
    </g>
  )
}

/** All plates of a block as one shape, from where their names cannot be read. */
export const outlineOf = (plates: readonly Plate[]): string => plates.map((p) => `M${p.x} ${p.y}h${p.width}v${p.height}h${-p.width}z`).join('')

export function BundleShape({ bundle, font, open }: { bundle: Bundle; font: number | null; open: boolean }) {
  const width = bundleWidth(bundle.count)
  return (
    <g className={`bundle${open ? ' chosen' : ''}`} data-bundle={bundle.key}>
      <title>{`${bundle.count} ${bundle.count === 1 ? 'line' : 'lines'}${bundle.back > 0 ? `, ${bundle.back} of them back` : ''}`}</title>
      <path d={bundle.path} style={{ strokeWidth: width }} />
      <path className="hit" d={bundle.path} />
      <path className="tip" d={tipPath(bundle)} />
      {font === null ? null : (
        <text x={bundle.tip.x + 9} y={bundle.tip.y + font * 0.36} style={{ fontSize: font }}>
          {bundle.count}
        </text>
      )}
    </g>
  )
}

export function FoldedShape({ folded }: { folded: Folded }) {
  return (
    <g className="folded" data-views={folded.area ?? ''}>
      <title>Draw these views one by one</title>
      <rect x={folded.x + 3} y={folded.y + 3} width={folded.width - 3} height={folded.height - 3} rx={2} />
      <rect x={folded.x} y={folded.y} width={folded.width - 3} height={folded.height - 3} rx={2} />
      <text x={folded.x + 8} y={folded.y + 23}>
        {foldedText(folded.count)}
      </text>
    </g>
  )
}

export function KnotShape({ knot }: { knot: Knot }) {
  return (
    <g className="knot">
      <title>{knot.label}</title>
      {knot.boxes.map((b) => (
        <rect key={`${b.x} ${b.y}`} x={b.x} y={b.y} width={b.width} height={b.height} rx={3} />
      ))}
    </g>
  )
}

function Marks({ marks }: { marks: Line['marks'] }) {
  return (
    <>
      {marks.map((m, i) => (
        <text key={i} className={m.shared ? 'mark shared' : 'mark'} x={m.x} y={m.y} textAnchor={m.anchor}>
          {m.text}
        </text>
      ))}
    </>
  )
}

export function LineShape({ line, becomes }: { line: Line; becomes: Becomes | undefined }) {
  return (
    <g
      className={`line state-${line.state}${line.bundle === null ? '' : ' across'}`}
      data-id={line.id}
      data-select={line.id}
      data-a={line.child}
      data-b={line.parent}
      data-becomes={becomes}
    >
      <path d={line.path} />
      <path className="hit" d={line.path} />
      <Marks marks={line.marks} />
      {line.ends.map((e, i) => (
        <text key={i} className={`end${i === 0 ? ' back' : ''}${e.crowded ? ' crowded' : ''}`} x={e.x} y={e.y} textAnchor={e.anchor}>
          {e.text}
        </text>
      ))}
    </g>
  )
}

export function BeadShape({ bead, becomes }: { bead: Bead; becomes: Becomes | undefined }) {
  return (
    <g
      className={`bead state-${bead.state}${bead.filled ? ' filled' : ''}${bead.tight ? ' tight' : ''}${bead.bundle === null ? '' : ' across'}`}
      data-id={bead.id}
      data-select={bead.filled ? `entity:${bead.id}` : bead.id}
      data-a={bead.first}
      data-b={bead.second}
      data-becomes={becomes}
    >
      <path d={bead.path} />
      <path className="hit" d={bead.path} />
      <Marks marks={bead.marks} />
      <circle cx={bead.x} cy={bead.y} r={6} />
      {bead.labelLines.map((l, i) => (
        <text key={i} className="label" x={bead.x} y={bead.y + 16 + i * 11} textAnchor="middle">
          {l}
        </text>
      ))}
      {becomes ? (
        <text className="becomes" x={bead.x} y={bead.y - 10} textAnchor="middle">
          {becomesWords[becomes]}
        </text>
      ) : null}
    </g>
  )
}

/** The least size of what is written, in CSS pixels; and what has it where the map is close, in map units. */
const legible = 10
const smallest = 5.5

interface PlateShapeProps {
  readonly plate: Plate
  readonly becomes: Becomes | undefined
  /** Zoom where plates bear nothing but their names, which are drawn where they can be read; null nearer than that. */
  readonly k: number | null
}

export function PlateShape({ plate: drawn, becomes, k }: PlateShapeProps) {
  const { plate, transform } = atUsualSize(drawn)
  const t = plateText(plate)
  return (
    <g
      className={`plate${plate.readOnly ? ' read-only' : ''}${plate.fans === null ? '' : ' hub'}${plate.central ? ' central' : ''}`}
      data-id={plate.id}
      data-select={`entity:${plate.id}`}
      data-becomes={becomes}
      transform={transform}
    >
      <rect x={plate.x} y={plate.y} width={plate.width} height={plate.height} rx={2} />
      {becomes ? (
        // On its lower edge: over it stands the name of its block, under it the next plate.
        <text className="becomes" x={plate.x + plate.width - 6} y={plate.y + plate.height + 4} textAnchor="end">
          {becomesWords[becomes]}
        </text>
      ) : null}
      {k !== null && plate.nameFont * plate.scale * k < legible ? null : (
        <text className="name" y={plate.y + 2} style={{ '--whole': `${plate.nameFont}px` } as CSSProperties}>
          {plate.nameLines.map((l, i) => (
            <tspan key={i} x={t.x} dy={i === 0 ? '0.95em' : '1.08em'}>
              {l}
            </tspan>
          ))}
        </text>
      )}
      {t.table.map((l) => (
        <text
          key={l.y}
          className={t.tableFont < legible ? (t.tableFont < smallest ? 'table least' : 'table small') : 'table'}
          x={t.x}
          y={l.y}
          style={{ '--font': `${t.tableFont}px` } as CSSProperties}
        >
          {l.text}
        </text>
      ))}
      {t.rows === '' ? null : (
        <text className="rows" x={plate.x + plate.width - 5} y={t.rowsY} textAnchor="end">
          {t.rows}
        </text>
      )}
      {plate.keys.map((key) => (
        <text
          key={key.y}
          className={t.keyFont(key.text) < smallest ? 'column least' : 'column'}
          x={t.x}
          y={key.y + 2}
          style={{ '--font': `${t.keyFont(key.text)}px` } as CSSProperties}
        >
          {key.text}
        </text>
      ))}
      {plate.marks.map((m) => (
        <g key={m.text} className="hub-mark" data-id={m.ids[0]} data-ids={m.ids.join('\n')} data-select={m.ids[0]} data-a={plate.id} data-b={m.hub}>
          <text x={t.x} y={m.y}>
            {m.text}
          </text>
        </g>
      ))}
    </g>
  )
}
