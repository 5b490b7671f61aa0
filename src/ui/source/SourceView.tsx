'use client'

import { useRouter } from 'next/navigation'
import { useEffect, useState } from 'react'
import { ownOptionsSentence } from '../../core/catalog/ownOptions.ts'
import type { SurveyCard, SurveyLine } from '../../core/lineage/index.ts'
import type { Wording } from '../common/api.ts'
import { Complaint } from '../common/Complaint.tsx'
import { JobStrip } from '../common/JobStrip.tsx'
import type { JobView } from '../common/job.ts'
import { timeText } from '../common/time.ts'
import { useJob } from '../common/useJob.ts'
import { FromScript } from '../newProject/FromScript.tsx'
import { Understood } from '../newProject/ScriptFindings.tsx'
import { DeleteProject } from './DeleteProject.tsx'
import { History } from './History.tsx'

/** The source and what its newest survey read, reported and could not see. */
interface Props {
  readonly projectId: string
  /** Of the project. */
  readonly name: string
  readonly kind: string
  readonly label: string
  readonly survey: SurveyCard | null
  /** Why the newest survey cannot be shown; null where it can. */
  readonly problem: Wording | null
  readonly history: readonly SurveyLine[]
  readonly job: JobView | null
}

export function SourceView({ projectId, name, kind, label, survey, problem, history, job }: Props) {
  const handle = useJob(projectId, 'survey', job)
  const router = useRouter()
  // Whoever waited here for the first survey goes on to what it was made for.
  const [waited] = useState(history.length < 2 && (job?.state === 'waiting' || job?.state === 'running'))
  const there = survey !== null && handle.job?.state === 'done'
  useEffect(() => {
    if (waited && there) router.push(`/p/${projectId}/review`)
  }, [waited, there, router, projectId])
  const [choosing, setChoosing] = useState(false)
  return (
    <main className="mx-auto h-full max-w-5xl overflow-auto px-6 py-6">
      <div className="flex items-baseline gap-4">
        <h1 className="text-2xl">Source</h1>
        <span className="db text-soft">{label}</span>
        {kind === 'script' ? (
          <button type="button" className="btn btn-sm ml-auto" onClick={() => setChoosing(!choosing)} aria-expanded={choosing}>
            {choosing ? 'Keep this one' : 'Read a newer version'}
          </button>
        ) : (
          <button type="button" className="btn btn-sm ml-auto" onClick={handle.start} disabled={handle.busy}>
            {survey ? 'Survey again' : 'Survey'}
          </button>
        )}
      </div>
      <div className="mt-3">
        <JobStrip handle={handle} unit="objects" />
      </div>
      {choosing ? <FromScript name={label} project={projectId} onKept={() => setChoosing(false)} /> : null}
      {problem ? (
        <div className="mt-4 max-w-3xl">
          <Complaint wording={problem} />
        </div>
      ) : null}
      {survey ? (
        <SurveyReport survey={survey} />
      ) : handle.busy || problem ? null : (
        <p className="mt-6 font-serif text-lg">{handle.job?.state === 'done' ? 'Opening what was read …' : 'Not surveyed yet.'}</p>
      )}
      {history.length > 0 ? <History key={`surveys ${history[0]?.hash}`} lines={history} /> : null}
      <DeleteProject projectId={projectId} name={name} />
    </main>
  )
}

function SurveyReport({ survey }: { survey: SurveyCard }) {
  const counted = survey.census.reduce((n, l) => n + l.counted, 0)
  const read = survey.census.reduce((n, l) => n + l.read, 0)
  const reported = survey.census.reduce((n, l) => n + l.reported, 0)
  return (
    <>
      <p className="mt-4 font-serif text-base">
        Read {timeText(survey.at)} from {survey.server} {survey.script ? 'by' : 'as'} <b>{survey.user}</b>. Snapshot{' '}
        <span className="db">{survey.hash.slice(0, 12)}</span>.
      </p>
      <dl className="mt-4 grid grid-cols-5 border-t border-l border-rule">
        {survey.counts.map(([what, n]) => (
          <div key={what} className="border-r border-b border-rule bg-card px-3 py-2">
            <dd className="font-serif text-xl">{n.toLocaleString('en')}</dd>
            <dt className="text-soft">{what}</dt>
          </div>
        ))}
      </dl>
      {survey.script ? (
        <div className="mt-6">
          <Understood script={survey.script} />
        </div>
      ) : (
        <h2 className="mt-6 text-lg">
          {counted.toLocaleString('en')} objects counted = {read.toLocaleString('en')} read + {reported.toLocaleString('en')} reported
        </h2>
      )}
      {survey.unmodelled.length === 0 ? (
        <p className="mt-1">
          {survey.script && survey.script.diagnosticCount > 0 ? 'Everything that was understood is modelled.' : 'Nothing of this schema is left out.'}
        </p>
      ) : (
        <>
          <p className="mt-1 text-needs">Not modelled yet, and so neither in the code nor in the baseline:</p>
          <ul className="db mt-1 columns-2">
            {survey.unmodelled.map((u) => (
              <li key={`${u.kind} ${u.identity}`}>
                {u.kind} {u.identity}
              </li>
            ))}
          </ul>
        </>
      )}
      {survey.notReadable.length > 0 ? (
        <p className="mt-2">
          Rows of {survey.notReadable.length} relations may not be read by this user: {survey.notReadable.slice(0, 12).join(', ')}
          {survey.notReadable.length > 12 ? ' …' : ''}.
        </p>
      ) : null}
      {survey.withGrants > 0 ? (
        <p className="mt-2 text-soft">
          {survey.withGrants === 1 ? '1 object has' : `${survey.withGrants} objects have`} privileges of {survey.withGrants === 1 ? 'its' : 'their'} own. Owners
          and privileges are not modelled.
        </p>
      ) : null}
      {survey.ownOptions.length > 0 ? (
        <p className="mt-2 text-soft">
          {ownOptionsSentence(survey.ownOptions)} Nobody sets {survey.ownOptions.length === 1 ? 'it' : 'them'}, and no dump has{' '}
          {survey.ownOptions.length === 1 ? 'it' : 'them'}: no part of the schema.
        </p>
      ) : null}
      <details className="mt-4" hidden={survey.census.length === 0}>
        <summary className="cursor-pointer">The count by class of the server’s catalog</summary>
        <table className="table-sm mt-2 table w-auto">
          <thead>
            <tr>
              <th>class</th>
              <th className="text-right">counted</th>
              <th className="text-right">read</th>
              <th className="text-right">reported</th>
            </tr>
          </thead>
          <tbody>
            {survey.census
              .toSorted((a, b) => (a.class < b.class ? -1 : 1))
              .map((l) => (
                <tr key={l.class}>
                  <td className="db">{l.class}</td>
                  <td className="text-right">{l.counted}</td>
                  <td className="text-right">{l.read}</td>
                  <td className="text-right">{l.reported}</td>
                </tr>
              ))}
          </tbody>
        </table>
      </details>
    </>
  )
}
