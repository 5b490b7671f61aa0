import type { Side } from '../../core/review/index.ts'
import { Breakable } from '../common/Breakable.tsx'

/** Columns that are always shown; the rest folds. */
const first = 6

/** Both tables' columns: what they are paired by first, then their keys, then all else. */
export function SideBySide({ sides }: { readonly sides: readonly [Side, Side] }) {
  return (
    <div className="mt-4">
      <h3 className="border-b border-rule pb-0.5 font-sans text-sm font-semibold">Side by side</h3>
      <div className="mt-1 grid grid-cols-2 gap-3">
        {sides.map((s, i) => (
          <div key={i} className="min-w-0">
            <p className="font-semibold break-words">{s.entity}</p>
            <p className="db text-[0.88em] break-words text-soft">
              <Breakable text={s.table} />
            </p>
            <ColumnList side={s} columns={s.columns.slice(0, first)} />
            {s.columns.length > first ? (
              <details>
                <summary className="cursor-pointer text-soft">{s.columns.length - first} more</summary>
                <ColumnList side={s} columns={s.columns.slice(first)} />
              </details>
            ) : null}
          </div>
        ))}
      </div>
    </div>
  )
}

function ColumnList({ side, columns }: { readonly side: Side; readonly columns: Side['columns'] }) {
  return (
    <ul>
      {columns.map((c) => (
        <li key={`${side.table} ${c.name}`} className={`border-b border-rule py-0.5 ${c.paired === null ? '' : 'bg-card'}`}>
          <span className={`db break-words ${c.paired === null ? '' : 'font-semibold'}`}>
            <Breakable text={c.name} />
          </span>
          <span className="db block text-[0.85em] break-words text-soft">
            {c.type}
            {c.nullable ? '' : ' not null'}
          </span>
          {c.marks.length > 0 || c.paired !== null ? (
            <span className="block text-[0.85em]">
              {c.marks.join(', ')}
              {c.paired === null ? '' : `${c.marks.length > 0 ? '; ' : ''}↔ ${c.paired}`}
            </span>
          ) : null}
        </li>
      ))}
    </ul>
  )
}
