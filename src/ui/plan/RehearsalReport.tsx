import type { RehearsalView } from '../../core/change/index.ts'

/** What a rehearsal proved, or what it found. */
export function RehearsalReport({ r }: { r: RehearsalView }) {
  return (
    <section aria-label="Rehearsal" className={`border-l-4 bg-card px-3 py-2 ${r.ok ? 'border-settled' : 'border-needs'}`}>
      <p className={`font-serif text-base font-semibold ${r.ok ? 'text-settled' : 'text-needs'}`}>
        {r.ok ? 'Proven' : 'Not proven'} on {r.server}
        {r.current ? '' : ': of an earlier snapshot'}
      </p>
      <ul>
        {r.phases.map((p) => (
          <li key={p.direction}>
            {p.direction}: {p.steps} steps in {p.milliseconds} ms,{' '}
            {p.differences.length === 0 ? (p.direction === 'down' ? 'nothing left' : 'equal to the snapshot') : `${p.differences.length} differences`}
            {p.allowed > 0 ? <span className="text-soft"> but for {p.allowed} texts that the server prints in its own way</span> : null}
            <ul className="db ml-4 list-disc text-needs">
              {p.differences.map((d) => (
                <li key={d}>{d}</li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
      {r.skipped.length > 0 ? (
        <ul className="db ml-4 list-disc text-needs">
          {r.skipped.map((s) => (
            <li key={s}>skipped {s}</li>
          ))}
        </ul>
      ) : null}
      {r.failure ? (
        <div className="mt-1 text-needs">
          <p>
            Failed at {r.failure.where}: {r.failure.said}
          </p>
          <pre className="db overflow-auto">{r.failure.statement}</pre>
        </div>
      ) : null}
    </section>
  )
}
