// What stands on the map, as SVG.
import type { Becomes } from '../../core/change/index.ts'
import type { Band, Bead, Knot, Line, Plate } from '../../core/strata/index.ts'

/** What a plan makes of a table, in the words of its map. */
const becomesWords: Readonly<Record<Becomes, string>> = { made: 'new', dropped: 'goes', changed: 'changes', locked: 'locked' }

export function BandShape({ band, odd }: { band: Band; odd: boolean }) {
  return <rect className={odd ? 'band odd' : 'band'} x={band.x} y={band.y} width={band.width} height={band.height} />
}

export function BandName({ band }: { band: Band }) {
  return (
    <g>
      <line className="band-edge" x1={band.x} x2={band.x + band.width} y1={band.y} y2={band.y} />
      <text className="band-name" x={band.x + 8} y={band.y} dy="1.2em">
        {band.area} <tspan className="count">{band.count}</tspan>
      </text>
    </g>
  )
}

export function KnotShape({ knot }: { knot: Knot }) {
  return (
    <g className="knot">
      <rect x={knot.x} y={knot.y} width={knot.width} height={knot.height} rx={3} />
      <text x={knot.x + 4} y={knot.y + knot.height + 13}>
        {knot.label}
      </text>
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
      className={`line state-${line.state}${line.crossesBands ? ' crosses' : ''}`}
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
        <text key={i} className={i === 0 ? 'end back' : 'end'} x={e.x} y={e.y} textAnchor={e.anchor}>
          {e.text}
        </text>
      ))}
    </g>
  )
}

export function BeadShape({ bead, becomes }: { bead: Bead; becomes: Becomes | undefined }) {
  return (
    <g
      className={`bead state-${bead.state}${bead.filled ? ' filled' : ''}${bead.tight ? ' tight' : ''}${bead.crossesBands ? ' crosses' : ''}`}
      data-id={bead.id}
      data-select={bead.filled ? `entity:${bead.id}` : bead.id}
      data-a={bead.first}
      data-b={bead.second}
      data-becomes={becomes}
    >
      <path d={bead.path} />
      <path className="hit" d={bead.path} />
      <Marks marks={bead.marks} />
      <circle cx={bead.x} cy={bead.y} r={6.5} />
      {bead.labelLines.map((l, i) => (
        <text key={i} className="label" x={bead.x} y={bead.y + 19 + i * 12} textAnchor="middle">
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

export function PlateShape({ plate, becomes }: { plate: Plate; becomes: Becomes | undefined }) {
  const under = plate.y + 17 + (plate.nameLines.length - 1) * 16 + 13
  const counted = plate.fans === null ? '' : `${plate.fans} refer to it`
  const rows = plate.rows?.toLocaleString('en') ?? ''
  return (
    <g
      className={`plate${plate.readOnly ? ' read-only' : ''}${plate.fans === null ? '' : ' hub'}`}
      data-id={plate.id}
      data-select={`entity:${plate.id}`}
      data-becomes={becomes}
    >
      <rect x={plate.x} y={plate.y} width={plate.width} height={plate.height} rx={2} />
      {becomes ? (
        <text className="becomes" x={plate.x} y={plate.y - 3}>
          {becomesWords[becomes]}
        </text>
      ) : null}
      {plate.nameLines.map((l, i) => (
        <text key={i} className="name" x={plate.x + 9} y={plate.y + 17 + i * 16}>
          {l}
        </text>
      ))}
      <text className="table" x={plate.x + 9} y={under}>
        {counted === '' ? shorten(plate.table, plate.width - 20 - rows.length * 6.5) : counted}
      </text>
      {rows === '' ? null : (
        <text className="rows" x={plate.x + plate.width - 8} y={under} textAnchor="end">
          {rows}
        </text>
      )}
      {plate.keys.map((k) => (
        <text key={k.y} className="column" x={plate.x + 9} y={k.y + 3}>
          {shorten(k.text, plate.width - 16)}
        </text>
      ))}
      {plate.marks.map((m) => (
        <g key={m.text} className="hub-mark" data-id={m.ids[0]} data-ids={m.ids.join('\n')} data-select={m.ids[0]} data-a={plate.id} data-b={m.hub}>
          <text x={plate.x + 9} y={m.y}>
            {m.text}
          </text>
        </g>
      ))}
    </g>
  )
}

/** The database's name in 10 px mono, 6 px a character; the class name above it is never cut. */
function shorten(text: string, width: number): string {
  const n = Math.floor(width / 6.05)
  return text.length <= n ? text : `${text.slice(0, Math.max(1, n - 1))}…`
}
