import type { ScriptReading } from '../../core/catalog/index.ts'

export interface ScriptReportView extends ScriptReading {
  readonly dialect: string
  readonly counts: readonly (readonly [string, number])[]
}

/** How far a script was understood, in a sentence, and what was not, with its place. */
export function Understood({ script }: { script: ScriptReading }) {
  const whole = script.understood === script.structural
  const statements = script.structural.toLocaleString('en')
  return (
    <>
      <p className={whole ? 'text-settled' : 'text-needs'}>
        {whole
          ? `All ${statements} statements about the structure were understood.`
          : `${script.understood.toLocaleString('en')} of ${statements} statements about the structure were understood.`}{' '}
        {script.ignored > 0 ? <span className="text-soft">{script.ignored.toLocaleString('en')} about rows, rights and settings were passed over.</span> : null}
      </p>
      {script.diagnostics.length === 0 ? null : (
        <ul className="db mt-2 max-h-60 overflow-auto border-t border-rule">
          {script.diagnostics.map((line, i) => (
            <li key={i} className="border-b border-rule py-0.5 break-words">
              {line}
            </li>
          ))}
          {script.diagnosticCount > script.diagnostics.length ? (
            <li className="py-0.5">and {(script.diagnosticCount - script.diagnostics.length).toLocaleString('en')} more; the command line prints them all</li>
          ) : null}
        </ul>
      )}
    </>
  )
}

/** What a script holds, before a project is made of it. */
export function ScriptFindings({ file, report }: { file: string; report: ScriptReportView }) {
  return (
    <section aria-label="What was read" className="bg-card px-4 py-3">
      <p className="font-serif text-base">
        <span className="db">{file}</span> was read as <b>{report.dialect}</b>: {report.because}.
      </p>
      <p className="mt-1">
        {report.counts
          .filter(([, n]) => n > 0)
          .map(([what, n]) => `${n.toLocaleString('en')} ${n === 1 ? what.replace(/s$/, '') : what}`)
          .join(' · ')}
      </p>
      <Understood script={report} />
    </section>
  )
}
