// A finished rehearsal for people: every difference and everything left out, as lines.
import type { Difference } from '../core/catalog/index.ts'
import { type DifferenceLines, differenceGroups, groupLine, type Proof, plannedAndFound, type RehearsalView } from '../core/change/index.ts'
import { type Rehearsal, shortfall } from '../engines/postgres/index.ts'
import type { FixtureReport } from './fixtures.ts'

/** What a rehearsal's job keeps: the outcome, and the mark of the plan it ran. */
export interface RehearsalResult {
  readonly rehearsal: Rehearsal
  /** What became of rows that were made up for it; absent or null where there were none. */
  readonly fixtures?: FixtureReport | null
  readonly mark: string
}

const linesOf = (differences: readonly Difference[]): readonly DifferenceLines[] =>
  differenceGroups(differences).map((g) => ({ says: groupLine(g), all: g.all.map(plannedAndFound) }))

/** What is kept of a rehearsal for as long as the plan is what it is. */
export function proofOf({ rehearsal, fixtures }: RehearsalResult, at: string): Proof {
  const rows = fixtures && !fixtures.ok ? 'made-up rows did not come back as they were' : ''
  const says = shortfall(rehearsal) ?? rows
  return { ok: says === '', server: rehearsal.server, at, says }
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
      differences: linesOf(p.differences),
    })),
    steps: rehearsal.steps.map((s) => ({
      step: s.step,
      milliseconds: s.milliseconds,
      locks: s.locks === null ? null : s.locks.map((l) => `${l.relation} ${l.mode}`),
      rewritten: s.rewritten,
      differences: linesOf(s.differences),
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
