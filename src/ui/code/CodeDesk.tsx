'use client'

import Link from 'next/link'
import { useState } from 'react'
import type { Remark } from '../../core/emit/typescript/index.ts'
import type { GateView } from '../../core/review/index.ts'
import { SourceText } from '../common/SourceText.tsx'
import { Gate } from '../gate/Gate.tsx'

/** The classes, file by file. */
export function CodeDesk({
  projectId,
  gate,
  remarks,
  revision,
  paths,
  file,
}: {
  projectId: string
  gate: GateView
  remarks: readonly Remark[]
  revision: string
  paths: readonly string[]
  file: { readonly path: string; readonly text: string }
}) {
  const [filter, setFilter] = useState('')
  const shown = paths.filter((p) => p.toLowerCase().includes(filter.toLowerCase()))
  return (
    <main className="grid h-full grid-cols-[250px_1fr]">
      <nav aria-label="Files" className="flex min-h-0 flex-col border-r border-rule">
        <div className="border-b border-rule px-3 py-2">
          <h1 className="text-lg">
            TypeScript <span className="font-sans text-sm font-normal text-soft">{paths.length} files</span>
          </h1>
          <input
            className="input input-sm mt-1 w-full"
            placeholder="Find a file"
            value={filter}
            onChange={(e) => setFilter(e.target.value)}
            aria-label="Find a file"
          />
        </div>
        <ul className="min-h-0 flex-1 overflow-auto py-1">
          {shown.map((p) => (
            <li key={p}>
              <Link
                href={`?file=${encodeURIComponent(p)}`}
                aria-current={p === file.path ? 'page' : undefined}
                className={`db block px-3 py-0.5 ${p === file.path ? 'border-l-4 border-ink bg-card font-semibold' : 'border-l-4 border-transparent hover:bg-card'}`}
              >
                {p}
              </Link>
            </li>
          ))}
        </ul>
      </nav>
      <section className="flex min-h-0 min-w-0 flex-col" aria-label="File">
        <div className="flex items-center gap-4 border-b border-rule px-4 py-2">
          <h2 className="db text-base">{file.path}</h2>
          <span className="text-soft">{revision}</span>
        </div>
        <div className="border-b border-rule px-4 py-2">
          <Gate projectId={projectId} gate={gate} of="classes">
            <a className="btn btn-sm btn-primary" href={`/api/projects/${projectId}/code.zip`} download>
              Download all as a zip
            </a>
          </Gate>
          {remarks.length > 0 ? <Remarks remarks={remarks} /> : null}
        </div>
        <div className="min-h-0 flex-1">
          <SourceText text={file.text} language="typescript" label={`${file.path}, read-only`} />
        </div>
      </section>
    </main>
  )
}

/** What the code takes for granted and the columns lack. */
function Remarks({ remarks }: { remarks: readonly Remark[] }) {
  return (
    <details className="mt-1">
      <summary className="cursor-pointer text-soft">
        What the columns lack for this code: {remarks.length === 1 ? 'one remark' : `${remarks.length} remarks`}
      </summary>
      <ul className="max-h-48 overflow-auto">
        {remarks.map((r) => (
          <li key={r.says} className="mt-1">
            {r.says} <span className="text-soft">{r.about.join(', ')}</span>
          </li>
        ))}
      </ul>
    </details>
  )
}
