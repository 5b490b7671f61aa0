// A finished rehearsal for people: every difference and everything left out, as lines.
import type { RehearsalView } from '../core/change/index.ts'
import type { Rehearsal } from '../engines/postgres/index.ts'

/** What a rehearsal's job keeps: the outcome, and which snapshot's baseline it ran. */
export interface RehearsalResult {
  readonly rehearsal: Rehearsal
  readonly hash: string
}

/** Read a job's result. `current` is false where the project was surveyed anew since and is another schema now. */
export function rehearsalView(result: string, currentHash: string): RehearsalView {
  const { rehearsal, hash } = JSON.parse(result) as RehearsalResult
  const f = rehearsal.failure
  return {
    ok: rehearsal.ok,
    current: hash === currentHash,
    server: rehearsal.server,
    phases: rehearsal.phases.map((p) => ({
      ...p,
      differences: p.differences.map((d) => `${d.object} ${d.field}: ${d.was ?? 'absent'} planned, ${d.is ?? 'absent'} found`),
    })),
    skipped: rehearsal.skipped.map((s) => `${s.step}. ${s.object}: ${s.reason} (${s.said})`),
    notSupported: rehearsal.notSupported.map((u) => `${u.kind} ${u.identity}`),
    failure: f
      ? { where: `${f.direction}, step ${f.step}, ${f.object}`, said: `${f.failure.message} (SQLSTATE ${f.failure.sqlState})`, statement: f.statement }
      : null,
  }
}
