// Why nothing, or no more, was applied: in words.
import { diffLines } from 'diff'
import type { ApplyRefusal } from './applyReport.ts'
import type { Wording } from './failure.ts'

const folder = (r: { readonly number: number; readonly name: string }) => `${String(r.number).padStart(4, '0')}-${r.name}`

/** Lines that are not in both, each with what it is: at most forty. */
export function changedLines(was: string, is: string): readonly string[] {
  const lines = diffLines(was, is).flatMap((part) =>
    part.added || part.removed
      ? part.value
          .replace(/\n$/, '')
          .split('\n')
          .map((l) => `${part.added ? '+' : '-'} ${l}`)
      : [],
  )
  return lines.length > 40 ? [...lines.slice(0, 40), `and ${lines.length - 40} more lines`] : lines
}

const some = <T>(list: readonly T[], of: (x: T) => string) =>
  `${list.slice(0, 10).map(of).join('; ')}${list.length > 10 ? `; and ${list.length - 10} more` : ''}.`

/** `now`: the scripts as they are in the folder, where a changed one is to be shown with what changed. */
export function describeApplyRefusal(r: ApplyRefusal, now?: { readonly up: string; readonly down: string }): Wording {
  switch (r.code) {
    case 'changed':
      return {
        message: `${folder(r)} was changed after it was applied`,
        detail: now ? [...changedLines(r.was.up, now.up), ...changedLines(r.was.down, now.down)].join('\n') : '',
        hint: 'Restore its files as they were, and put the change into a plan of its own.',
      }
    case 'other plan':
      return {
        message: `number ${r.number} was applied as "${r.applied}", and here it is "${r.name}"`,
        detail: 'Two branches gave one number to different plans.',
        hint: 'Give the one that is not applied the next number, make it again from what the other leads to, and rehearse it.',
      }
    case 'unknown plan':
      return {
        message: `the database has ${folder(r)}, which this folder does not know`,
        detail: '',
        hint: 'Take the folder of the branch that made it, or take that plan back with it first.',
      }
    case 'differs':
      return {
        message: `the database is not what ${folder(r)} expects`,
        detail: some(r.differences, (d) => `${d.object}${d.field === '' ? '' : ` ${d.field}`}: ${d.was ?? 'absent'} expected, ${d.is ?? 'absent'} found`),
        hint: 'Where the schema is there already, adopt the baseline; else see "pelvok drift", and take the difference into the model or plan it away first.',
      }
    case 'unproven':
      return {
        message: `${folder(r)} is not proven: it ${r.because}`,
        detail: '',
        hint: 'Rehearse it. Where you mean it as it is, agree to that: --unproven on the command line, the box beside the button in the app.',
      }
    case 'busy':
      return { message: 'another process is applying plans to this database', detail: 'It has been waited for.', hint: 'Try again when it has finished.' }
    case 'no journal':
      return {
        message: `"${r.user}" may not change "${r.database}"`,
        detail: 'What is applied is written down there, in a schema of its own, and this role may make none.',
        hint: 'Give the environment a role that owns the schema, or GRANT CREATE ON DATABASE to this one.',
      }
    case 'no way back':
      return {
        message: `plan ${r.number} has steps without a way back`,
        detail: some(r.steps, (s) => `step ${s.number}, ${s.object}: ${s.because}`),
        hint: 'Where that is meant, say --accept-loss, or tick the box beside the button.',
      }
    case 'rows lost':
      return {
        message: `taking back plan ${r.number} would drop rows`,
        detail: some(r.losses, (l) => `step ${l.step}, ${l.object}: ${l.rows} ${l.rows === 1 ? 'row' : 'rows'}`),
        hint: 'Put aside what is to be kept. Where the rest may go, say --accept-loss, or tick the box beside the button.',
      }
    case 'failed':
      return {
        message: `plan ${r.number}, step ${r.step}, ${r.object}: ${r.failure.message}`,
        detail: `SQLSTATE ${r.failure.sqlState}.${r.failure.detail ? ` ${r.failure.detail}` : ''} The statement was: ${r.statement}`,
        hint: 'Its transaction was taken back; what stands before it is done. Mend what stopped it and apply again: it goes on from there.',
      }
    case 'pre-check':
      return {
        message: `rows are in the way of plan ${r.number}`,
        detail: some(r.failing, (c) => `step ${c.step}: ${c.asks} ${c.count === null ? c.said : `No, ${c.count} in the way`}`),
        hint: 'Clean them by a step of the plan, or by hand, and apply again.',
      }
    default:
      return unreachable(r)
  }
}

function unreachable(r: never): never {
  throw new Error(`a refusal of no known code: ${JSON.stringify(r)}`)
}
