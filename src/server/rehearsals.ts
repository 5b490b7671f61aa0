// A finished rehearsal for people: every difference and everything left out, as lines.
import type { RehearsalView } from '../core/change/index.ts'
import type { Rehearsal } from '../engines/postgres/index.ts'
import type { FixtureReport } from './fixtures.ts'

/** What a rehearsal's job keeps: the outcome, and the mark of the plan it ran. */
export interface RehearsalResult {
  readonly rehearsal: Rehearsal
  /** What became of rows that were made up for it; absent or null where there were none. */
  readonly fixtures?: FixtureReport | null
  readonly mark: string
}

/** Read a job's result; `mark`: of the plan that is shown. Null where it was of another plan, or of an earlier version of Pelvok. */
export function rehearsalView(result: string, mark: string): RehearsalView | null {
  const { rehearsal, fixtures, mark: ran } = JSON.parse(result) as RehearsalResult
  if (ran !== mark) return null
  const f = rehearsal.failure
  return {
    ok: rehearsal.ok && fixtures?.ok !== false,
    stored: fixtures ? storedView(fixtures) : null,
    server: rehearsal.server,
    rows: rehearsal.rows,
    phases: rehearsal.phases.map((p) => ({
      ...p,
      differences: p.differences.map((d) => `${d.object} ${d.field}: ${d.was ?? 'absent'} planned, ${d.is ?? 'absent'} found`),
    })),
    steps: rehearsal.steps.map((s) => ({
      step: s.step,
      milliseconds: s.milliseconds,
      locks: s.locks === null ? null : s.locks.map((l) => `${l.relation} ${l.mode}`),
      rewritten: s.rewritten,
      differences: s.differences.map((d) => `${d.object} ${d.field}: ${d.was ?? 'absent'} planned, ${d.is ?? 'absent'} found`),
    })),
    skipped: rehearsal.skipped.map((s) => `${s.step > 0 ? `${s.step}. ` : 'before: '}${s.object}: ${s.reason} (${s.said})`),
    notSupported: rehearsal.notSupported.map((u) => `${u.kind} ${u.identity}`),
    failure: f
      ? { where: `${f.direction}, step ${f.step}, ${f.object}`, said: `${f.failure.message} (SQLSTATE ${f.failure.sqlState})`, statement: f.statement }
      : null,
  }
}

function storedView(r: FixtureReport): NonNullable<RehearsalView['stored']> {
  const wrong = r.failure ? [`${r.failure.said}: ${r.failure.statement}`] : r.differences.map((d) => `${d.of} (${d.row}): ${d.says}`)
  return { stored: r.stored, compared: r.compared, classes: r.classes, wrong, left: r.left.map((l) => `${l.relation}: ${l.why}`) }
}
