'use client'

import type { Level } from '../../core/trial/index.ts'
import { Cell, ScrolledRows } from '../common/ScrolledRows.tsx'

interface Props {
  readonly levels: readonly Level[]
  /** Of each level, the row whose own are shown below; null for all. */
  readonly chosen: readonly (number | null)[]
  readonly onChoose: (chosen: readonly (number | null)[]) => void
}

/** Row indexes of each level that hang under what is chosen above. */
function shownRows(levels: readonly Level[], chosen: readonly (number | null)[]): readonly ReadonlySet<number>[] {
  const shown: Set<number>[] = []
  for (const [i, level] of levels.entries()) {
    const above = chosen[i - 1] ?? null
    const before = shown[i - 1]
    const rows = level.rows.flatMap((r, k) => (before === undefined || (r.of !== null && (above === null ? before.has(r.of) : r.of === above)) ? [k] : []))
    shown.push(new Set(rows))
  }
  return shown
}

/** A table for each step of the path; a row that is chosen narrows those below to its own. */
export function Levels({ levels, chosen, onChoose }: Props) {
  const shown = shownRows(levels, chosen)
  return (
    <>
      {levels.map((level, i) => (
        <Rows
          key={`${level.entity} ${level.property ?? ''} ${i}`}
          level={level}
          rows={shown[i] ?? new Set()}
          orphans={new Set(levels[i + 1]?.orphans)}
          toward={levels[i + 1]?.property ?? null}
          chosen={chosen[i] ?? null}
          onChoose={(row) => onChoose([...levels.slice(0, i).map((_, k) => chosen[k] ?? null), row])}
        />
      ))}
    </>
  )
}

interface RowsProps {
  readonly level: Level
  readonly rows: ReadonlySet<number>
  /** Rows whose columns lead to nothing. */
  readonly orphans: ReadonlySet<number>
  /** What the next level is reached by; null on the last. */
  readonly toward: string | null
  readonly chosen: number | null
  readonly onChoose: (row: number | null) => void
}

function Rows({ level, rows, orphans, toward, chosen, onChoose }: RowsProps) {
  const twice = [...rows].filter((i) => level.rows[i]?.twice).length
  const lost = [...rows].filter((i) => orphans.has(i)).length
  return (
    <div className="mt-3 first:mt-0">
      <h2 className="text-lg">
        {level.property ?? level.name}{' '}
        <span className="font-sans text-sm font-normal text-soft">
          {level.property === null ? '' : `${level.name}, `}
          {rows.size.toLocaleString('en')} {rows.size === 1 ? 'row' : 'rows'}
          {level.more ? ' and more' : ''}
        </span>
        {twice > 0 ? <span className="ml-2 font-sans text-sm text-needs">◆ {twice} twice</span> : null}
        {lost > 0 ? (
          <span className="ml-2 font-sans text-sm text-needs">
            ◆ {lost} {lost === 1 ? 'points' : 'point'} nowhere by {toward}
          </span>
        ) : null}
      </h2>
      {rows.size === 0 ? (
        <p className="text-soft">No row.</p>
      ) : (
        <ScrolledRows
          label={`Rows of ${level.property ?? level.name}`}
          height="max-h-80"
          head={
            <>
              {toward === null ? null : (
                <th className="border-b border-rule px-1.5 font-normal">
                  <span className="sr-only">only this one</span>
                </th>
              )}
              {level.columns.map((c) => (
                <th key={c.column} className="border-b border-rule px-1.5 font-semibold whitespace-nowrap" title={c.column}>
                  {c.property}
                  {c.key ? <span className="font-normal text-soft"> key</span> : null}
                </th>
              ))}
            </>
          }
        >
          {[...rows].map((i) => {
            const row = level.rows[i]
            if (!row) return null
            return (
              <tr key={i} className={`border-b border-rule ${chosen === i ? 'bg-band' : ''}`}>
                {toward === null ? null : (
                  <td className="px-1.5">
                    <Only lost={orphans.has(i)} chosen={chosen === i} toward={toward} onChoose={() => onChoose(chosen === i ? null : i)} />
                  </td>
                )}
                {row.values.map((v, k) => (
                  <Cell key={level.columns[k]?.column} value={v} className={row.twice ? 'text-needs' : ''} />
                ))}
              </tr>
            )
          })}
        </ScrolledRows>
      )}
    </div>
  )
}

interface OnlyProps {
  /** Does it lead to no row? */
  readonly lost: boolean
  readonly chosen: boolean
  readonly toward: string
  readonly onChoose: () => void
}

/** Narrows what stands below to the rows of one; nothing to narrow to where it points nowhere. */
function Only({ lost, chosen, toward, onChoose }: OnlyProps) {
  if (lost)
    return (
      <span className="text-needs" title={`Points nowhere by ${toward}`}>
        ◆
      </span>
    )
  return (
    <button
      type="button"
      className="link link-hover font-sans"
      aria-pressed={chosen}
      aria-label={chosen ? 'All rows again' : `Only the ${toward} of this row`}
      onClick={onChoose}
    >
      {chosen ? 'all' : 'only'}
    </button>
  )
}
