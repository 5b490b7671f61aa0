'use client'

import { useEffect, useState } from 'react'
import type { ObjectDetail } from '../../core/browse/index.ts'
import { AskChange } from '../change/Asking.tsx'
import { LazySourceText } from '../common/LazySourceText.tsx'
import type { AskCatalog } from '../common/useCatalog.ts'

interface Props {
  readonly id: string
  readonly ask: AskCatalog
  readonly onObject: (id: string) => void
  readonly onColumn: (name: string) => void
}

/** One object: columns beside the properties of its class, what hangs on it, its definition. */
export function ObjectView({ id, ask, onObject, onColumn }: Props) {
  const [detail, setDetail] = useState<ObjectDetail | null | 'reading'>('reading')
  useEffect(() => {
    let current = true
    ask({ ask: 'object', id }).then(
      (found) => current && setDetail(found),
      () => current && setDetail(null),
    )
    return () => {
      current = false
    }
  }, [ask, id])
  if (detail === 'reading') return <p className="p-6 text-soft">Reading {id} …</p>
  if (detail === null) return <p className="p-6 font-serif text-lg">There is no {id} in this snapshot.</p>
  return (
    <section aria-label="Object" className="min-h-0 overflow-auto px-6 py-4">
      <div className="flex items-baseline gap-3">
        <h2 className="text-xl">
          {detail.schema === '' ? '' : <span className="text-soft">{detail.schema}.</span>}
          {detail.name}
        </h2>
        <span className="text-soft">{detail.kind}</span>
        <AskChange thing={detail.thing} />
        {detail.entity ? (
          <span className="ml-auto">
            class <b>{detail.entity.name}</b>
          </span>
        ) : null}
      </div>
      {detail.comment === null ? null : <p className="font-serif text-base">{detail.comment}</p>}
      {detail.facts.length === 0 ? null : (
        <dl className="mt-2 flex flex-wrap gap-x-5">
          {detail.facts.map(([what, says]) => (
            <div key={what} className="flex gap-1.5">
              <dt className="text-soft">{what}</dt>
              <dd className="db">{says}</dd>
            </div>
          ))}
        </dl>
      )}
      {detail.columns.length === 0 ? null : <Columns detail={detail} onColumn={onColumn} />}
      {detail.entity && detail.entity.ends.length > 0 ? (
        <>
          <h3 className="mt-4 text-lg">In the model</h3>
          <ul className="font-serif text-base">
            {detail.entity.ends.map((says) => (
              <li key={says}>{says}</li>
            ))}
          </ul>
        </>
      ) : null}
      {detail.parts.length === 0 ? null : <Parts detail={detail} />}
      <Links title="Needs" ids={detail.needs} onObject={onObject} />
      <Links title="Needed by" ids={detail.neededBy} onObject={onObject} />
      {detail.definition === null || detail.definition === '' ? null : (
        <>
          <h3 className="mt-4 mb-1 text-lg">Definition</h3>
          <LazySourceText text={detail.definition} language="sql" label={`Definition of ${detail.name}`} />
        </>
      )}
    </section>
  )
}

function Columns({ detail, onColumn }: { detail: ObjectDetail; onColumn: (name: string) => void }) {
  return (
    <table className="table-sm mt-3 table w-full">
      <thead>
        <tr>
          <th>column</th>
          <th>type</th>
          <th>null</th>
          <th>default</th>
          <th>property</th>
          <th>comment</th>
          {detail.thing ? <td /> : null}
        </tr>
      </thead>
      <tbody>
        {detail.columns.map((c) => (
          <tr key={c.name} className="align-top">
            <td>
              <button
                type="button"
                className="db underline decoration-rule underline-offset-2 hover:decoration-ink"
                title={`Where else is there a column ${c.name}?`}
                onClick={() => onColumn(c.name)}
              >
                {c.name}
              </button>
            </td>
            <td className="db">{c.type}</td>
            <td className={c.nullable ? '' : 'text-soft'}>{c.nullable ? 'null' : 'not null'}</td>
            <td className="db max-w-64 break-words">{c.value ?? ''}</td>
            <td className={c.property === null ? 'text-soft' : ''}>{c.property ?? (detail.entity ? 'left out' : '')}</td>
            <td className="text-soft">{c.comment ?? ''}</td>
            {detail.thing ? (
              <td>
                <AskChange thing={{ ...detail.thing, columns: [c.name] }} quiet label="change …" of={c.name} />
              </td>
            ) : null}
          </tr>
        ))}
      </tbody>
    </table>
  )
}

/** What a plan can drop by its name. */
const droppable: ReadonlySet<string> = new Set(['foreign key', 'unique', 'unique index', 'index'])

function Parts({ detail }: { detail: ObjectDetail }) {
  return (
    <>
      <h3 className="mt-4 text-lg">Keys, indexes, checks and more</h3>
      <ul className="border-t border-rule">
        {detail.parts.map((p) => (
          <li key={`${p.what} ${p.name}`} className="grid grid-cols-[8rem_14rem_1fr_auto] gap-3 border-b border-rule py-1">
            <span className="text-soft">{p.what}</span>
            <span className="db break-words">{p.name}</span>
            <span className="min-w-0">
              <span className="db break-words">{p.says}</span>
              {p.comment === null ? null : <span className="block text-soft">{p.comment}</span>}
            </span>
            {detail.thing && droppable.has(p.what) ? <AskChange thing={{ ...detail.thing, part: p.name }} quiet label="drop …" of={p.name} /> : <span />}
          </li>
        ))}
      </ul>
    </>
  )
}

function Links({ title, ids, onObject }: { title: string; ids: readonly string[]; onObject: (id: string) => void }) {
  if (ids.length === 0) return null
  return (
    <p className="mt-3">
      <span className="text-soft">{title}</span>{' '}
      {ids.map((id, i) => (
        <span key={id}>
          {i > 0 ? ', ' : ''}
          <button type="button" className="db underline decoration-rule underline-offset-2 hover:decoration-ink" onClick={() => onObject(id)}>
            {id}
          </button>
        </span>
      ))}
    </p>
  )
}
