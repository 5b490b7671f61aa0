// A finished rehearsal for people: every difference and everything left out, as lines.
import type { RehearsalView } from '../core/change/index.ts'
import type { Rehearsal } from '../engines/postgres/index.ts'

/** What a rehearsal's job keeps: the outcome, and the mark of the plan it ran. */
export interface RehearsalResult {
  readonly rehearsal: Rehearsal
  readonly mark: string
}

/** Read a job's result; `mark`: of the plan that is shown. Null where it was of another plan, or of an earlier version of Pelvok. */
export function rehearsalView(result: string, mark: string): RehearsalView | null {
  const { rehearsal, mark: ran } = JSON.parse(result) as RehearsalResult
  if (ran !== mark) return null
  const f = rehearsal.failure
  return {
    ok: rehearsal.ok,
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
