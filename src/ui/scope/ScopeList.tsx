'use client'

import { useVirtualizer } from '@tanstack/react-virtual'
import { useRef, useState } from 'react'
import type { ScopeColumn, ScopeRow } from '../../core/scope/index.ts'
import { type ScopeDraft, takesPart } from './draft.ts'

interface Props {
  readonly rows: readonly ScopeRow[]
  readonly draft: ScopeDraft
  readonly search: string
  readonly columnsOf: (subject: string) => Promise<readonly ScopeColumn[]>
  readonly onRow: (row: ScopeRow) => void
  readonly onSchema: (schema: string, value: 'in' | 'out') => void
  readonly onColumn: (id: string, was: 'in' | 'out', value: 'in' | 'out') => void
}

type Line =
  | { readonly kind: 'schema'; readonly schema: string; readonly rows: readonly ScopeRow[] }
  | { readonly kind: 'row'; readonly row: ScopeRow }
  | { readonly kind: 'column'; readonly row: ScopeRow; readonly column: ScopeColumn }

function linesOf(rows: readonly ScopeRow[], open: ReadonlyMap<string, readonly ScopeColumn[]>): readonly Line[] {
  const lines: Line[] = []
  const bySchema = new Map<string, ScopeRow[]>()
  for (const r of rows) bySchema.set(r.schema, [...(bySchema.get(r.schema) ?? []), r])
  for (const [schema, of] of bySchema) {
    lines.push({ kind: 'schema', schema, rows: of })
    for (const row of of) {
      lines.push({ kind: 'row', row })
      for (const column of open.get(row.id) ?? []) lines.push({ kind: 'column', row, column })
    }
  }
  return lines
}

/** Relations and routines by schema; a relation opens into its columns. Renders only what is in view. */
export function ScopeList({ rows, draft, search, columnsOf, onRow, onSchema, onColumn }: Props) {
  const scroller = useRef<HTMLDivElement>(null)
  const [open, setOpen] = useState<ReadonlyMap<string, readonly ScopeColumn[]>>(new Map())
  const lines = linesOf(rows, open)
  const virtual = useVirtualizer({ count: lines.length, getScrollElement: () => scroller.current, estimateSize: () => 27, overscan: 12 })
  const toggle = async (row: ScopeRow) => {
    const next = new Map(open)
    if (!next.delete(row.id)) next.set(row.id, await columnsOf(row.id))
    setOpen(next)
  }
  return (
    <div ref={scroller} className="min-h-0 flex-1 overflow-auto" tabIndex={-1}>
      {rows.length === 0 ? <p className="px-5 py-4 font-serif text-base">Nothing matches “{search}”.</p> : null}
      <ul style={{ height: virtual.getTotalSize(), position: 'relative' }} aria-label="What takes part">
        {virtual.getVirtualItems().map((item) => {
          const line = lines[item.index] as Line
          return (
            <li
              key={item.key}
              className="absolute inset-x-0 flex items-center gap-2 px-5"
              style={{ height: item.size, transform: `translateY(${item.start}px)` }}
            >
              {line.kind === 'schema' ? (
                <SchemaLine line={line} draft={draft} onSchema={onSchema} />
              ) : line.kind === 'row' ? (
                <RowLine row={line.row} draft={draft} open={open.has(line.row.id)} onRow={onRow} onOpen={() => void toggle(line.row)} />
              ) : (
                <ColumnLine column={line.column} draft={draft} onColumn={onColumn} />
              )}
            </li>
          )
        })}
      </ul>
    </div>
  )
}

function SchemaLine({ line, draft, onSchema }: { line: Extract<Line, { kind: 'schema' }>; draft: ScopeDraft; onSchema: Props['onSchema'] }) {
  const taking = line.rows.filter((r) => takesPart(r, draft)).length
  const all = taking === line.rows.length
  return (
    <label className="flex w-full items-center gap-2 border-b border-ink pt-1">
      <input
        type="checkbox"
        className="checkbox checkbox-xs"
        checked={all}
        ref={(box) => {
          if (box) box.indeterminate = taking > 0 && !all
        }}
        onChange={() => onSchema(line.schema, all ? 'out' : 'in')}
      />
      <span className="font-serif text-base font-semibold">{line.schema === '' ? 'the database' : line.schema}</span>
      <span className="text-soft">
        {taking.toLocaleString('en')} of {line.rows.length.toLocaleString('en')}
      </span>
    </label>
  )
}

function RowLine({ row, draft, open, onRow, onOpen }: { row: ScopeRow; draft: ScopeDraft; open: boolean; onRow: (row: ScopeRow) => void; onOpen: () => void }) {
  const on = takesPart(row, draft)
  return (
    <>
      <label className="flex min-w-0 items-center gap-2 pl-5">
        <input type="checkbox" className="checkbox checkbox-xs" checked={on} onChange={() => onRow(row)} />
        <span className={`db truncate ${on ? '' : 'text-soft line-through'}`} title={row.name}>
          {row.name}
        </span>
      </label>
      {row.what === 'table' ? null : <span className="shrink-0 text-soft">{row.what}</span>}
      {row.columns === 0 ? null : (
        <button type="button" className="shrink-0 text-soft underline decoration-rule underline-offset-2 hover:text-ink" onClick={onOpen} aria-expanded={open}>
          {row.columns} columns{row.out.length > 0 ? `, ${row.out.length} left out` : ''}
        </button>
      )}
      {row.proposal === null ? null : (
        <span className="min-w-0 truncate text-soft italic" title={row.proposal}>
          {row.proposal}
        </span>
      )}
    </>
  )
}

function ColumnLine({ column, draft, onColumn }: { column: ScopeColumn; draft: ScopeDraft; onColumn: Props['onColumn'] }) {
  const was = column.takesPart ? 'in' : 'out'
  const on = (draft.get(column.id) ?? was) === 'in'
  return (
    <>
      <label className="flex items-center gap-2 pl-14">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={on}
          disabled={column.fixed}
          onChange={() => onColumn(column.id, was, on ? 'out' : 'in')}
        />
        <span className={`db ${on ? '' : 'text-soft line-through'}`}>{column.name}</span>
      </label>
      <span className="db text-soft">{column.type}</span>
      {column.fixed ? <span className="text-soft">part of the primary key, always there</span> : null}
      {!on && column.needed ? <span className="font-semibold text-needs">inserts through the model would fail: not null, no default</span> : null}
    </>
  )
}
