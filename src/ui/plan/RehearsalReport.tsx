import type { DifferenceLines, RehearsalView } from '../../core/change/index.ts'

const ended = (direction: string) =>
  ({ before: 'the schema it begins with', up: 'equal to the plan', down: 'as before', 'up again': 'equal to the plan' })[direction] ?? 'equal'

const differ = (groups: readonly DifferenceLines[]) => {
  const n = groups.reduce((sum, g) => sum + g.all.length, 0)
  return n === 1 ? 'one difference' : `${n.toLocaleString('en')} differences`
}

/** What a rehearsal proved, or what it found. */
export function RehearsalReport({ r }: { r: RehearsalView }) {
  const locked = r.steps.flatMap((s) => (s.locks ?? []).map((l) => `step ${s.step}: ${l}`))
  const wrong = r.steps.flatMap((s) => s.differences.map((d) => ({ ...d, says: `after step ${s.step}: ${d.says}` })))
  const rewritten = r.steps.flatMap((s) => s.rewritten.map((x) => `step ${s.step}: ${x}`))
  return (
    <section aria-label="Rehearsal" className={`border-l-4 bg-card px-3 py-2 ${r.ok ? 'border-settled' : 'border-needs'}`}>
      <p className={`font-serif text-base font-semibold ${r.ok ? 'text-settled' : 'text-needs'}`}>
        {r.ok ? 'Proven' : 'Not proven'} on {r.server}
        {r.rows === null ? '' : `, with ${r.rows.toLocaleString('en')} rows`}
      </p>
      <ul>
        {r.phases.map((p) => (
          <li key={p.direction}>
            {p.direction}: {p.steps} steps in {p.milliseconds} ms, {p.differences.length === 0 ? ended(p.direction) : differ(p.differences)}
            {p.allowed > 0 ? <span className="text-soft"> but for {p.allowed} texts that the server prints in its own way</span> : null}
            {p.announced > 0 ? <span className="text-soft"> but for {p.announced} that the plan says have no way back</span> : null}
            <Groups list={p.differences} />
          </li>
        ))}
      </ul>
      <Groups list={wrong} />
      {r.stored ? <Stored s={r.stored} /> : null}
      {r.steps.length > 0 ? (
        <details className="mt-1">
          <summary className="cursor-pointer text-soft">
            Seen while it ran: {locked.length === 1 ? 'one lock' : `${locked.length} locks`},{' '}
            {rewritten.length === 1 ? 'one relation' : `${rewritten.length} relations`} written anew; the longest step took{' '}
            {Math.max(...r.steps.map((s) => s.milliseconds))} ms
          </summary>
          <ul className="db ml-4 list-disc">
            {[...locked, ...rewritten.map((x) => `${x} written anew`), ...r.steps.map((s) => `step ${s.step}: ${s.milliseconds} ms`)].map((x) => (
              <li key={x}>{x}</li>
            ))}
          </ul>
        </details>
      ) : null}
      <Lines list={r.skipped.map((s) => `skipped ${s}`)} />
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

/** Rows that were made up for it, through the emitted stores and back. */
function Stored({ s }: { s: NonNullable<RehearsalView['stored']> }) {
  return (
    <div className="mt-1">
      <p>
        made-up rows: {s.stored.toLocaleString('en')} stored, {s.compared.toLocaleString('en')} of {s.classes} classes read back through the emitted stores,{' '}
        {s.wrong.length === 0 ? 'all as they were' : `${s.wrong.length} otherwise`}
        {s.left.length > 0 ? <span className="text-soft"> but for those of {s.left.length === 1 ? 'one table' : `${s.left.length} tables`}</span> : null}
      </p>
      <Lines list={s.wrong} />
      {s.left.length > 0 ? (
        <details>
          <summary className="cursor-pointer text-soft">Tables without rows, and why</summary>
          <ul className="db ml-4 list-disc">
            {s.left.map((l) => (
              <li key={l}>{l}</li>
            ))}
          </ul>
        </details>
      ) : null}
    </div>
  )
}

/** A line for each kind of difference; all of a kind are unfolded from it. */
function Groups({ list }: { list: readonly DifferenceLines[] }) {
  if (list.length === 0) return null
  return (
    <ul className="db ml-4 list-disc text-needs">
      {list.map((g) => (
        <li key={g.says}>
          {g.all.length === 1 ? (
            g.says
          ) : (
            <details>
              <summary className="cursor-pointer">{g.says}</summary>
              <Lines list={g.all} />
            </details>
          )}
        </li>
      ))}
    </ul>
  )
}

function Lines({ list }: { list: readonly string[] }) {
  if (list.length === 0) return null
  return (
    <ul className="db ml-4 list-disc text-needs">
      {list.map((d) => (
        <li key={d}>{d}</li>
      ))}
    </ul>
  )
}
