'use client'

import Link from 'next/link'
import { useEffect, useRef, useState } from 'react'
import type { Remark } from '../../core/emit/typescript/index.ts'
import type { TypescriptSettings } from '../../core/model/index.ts'
import type { GateView } from '../../core/review/index.ts'
import { Pane } from '../common/Pane.tsx'
import { SourceText } from '../common/SourceText.tsx'
import { Gate } from '../gate/Gate.tsx'
import { Settings } from './Settings.tsx'

/** The classes, file by file. */
export function CodeDesk({
  projectId,
  gate,
  remarks,
  revision,
  settings,
  files,
  file,
}: {
  projectId: string
  gate: GateView
  remarks: readonly Remark[]
  revision: string
  settings: TypescriptSettings
  /** Those that are written once are people's own. */
  files: readonly { readonly path: string; readonly isOwn: boolean }[]
  file: { readonly path: string; readonly text: string }
}) {
  const [filter, setFilter] = useState('')
  // A link may lead to a file far down the list.
  const nav = useRef<HTMLElement>(null)
  useEffect(() => {
    if (file.path !== '') nav.current?.querySelector('[aria-current=page]')?.scrollIntoView({ block: 'nearest' })
  }, [file.path])
  const shown = files.filter((f) => f.path.toLowerCase().includes(filter.toLowerCase()))
  return (
    <main className="grid h-full grid-cols-[250px_1fr]">
      <nav ref={nav} aria-label="Files" className="flex min-h-0 flex-col border-r border-rule">
        <div className="border-b border-rule px-3 py-2">
          <h1 className="text-lg">
            TypeScript <span className="font-sans text-sm font-normal text-soft">{files.length} files</span>
          </h1>
          <input
            className="input input-sm mt-1 w-full"
            placeholder="Find a file"
            value={filter}
            onChange={(e) => setFilter(e.target.value)}
            aria-label="Find a file"
          />
        </div>
        <div className="min-h-0 flex-1 overflow-auto py-1">
          <FileList title="Written anew each time" files={shown.filter((f) => !f.isOwn)} current={file.path} />
          <FileList title="Yours, written once" files={shown.filter((f) => f.isOwn)} current={file.path} />
        </div>
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
            <Link className="btn btn-sm ml-2" href={`/p/${projectId}/code/folder`}>
              Write into a folder …
            </Link>
          </Gate>
          <p className="mt-1 text-soft">
            Prefer typing? The same model stands{' '}
            <Link className="link" href={`/p/${projectId}/code/notation`}>
              as notation
            </Link>
            , which can be edited.
          </p>
          {remarks.length > 0 ? <Remarks remarks={remarks} /> : null}
          <Pane key={JSON.stringify(settings)}>
            <Settings projectId={projectId} settings={settings} head={gate.head} />
          </Pane>
        </div>
        <div className="min-h-0 flex-1">
          <Pane>
            <SourceText text={file.text} language="typescript" label={`${file.path}, read-only`} />
          </Pane>
        </div>
      </section>
    </main>
  )
}

function FileList({ title, files, current }: { title: string; files: readonly { readonly path: string }[]; current: string }) {
  if (files.length === 0) return null
  return (
    <section aria-label={title}>
      <h2 className="px-3 pt-2 pb-0.5 font-sans text-sm font-semibold">{title}</h2>
      <ul>
        {files.map(({ path }) => (
          <li key={path}>
            <Link
              href={`?file=${encodeURIComponent(path)}`}
              aria-current={path === current ? 'page' : undefined}
              className={`db block px-3 py-0.5 break-words ${path === current ? 'border-l-4 border-ink bg-card font-semibold' : 'border-l-4 border-transparent hover:bg-card'}`}
            >
              {path}
            </Link>
          </li>
        ))}
      </ul>
    </section>
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
