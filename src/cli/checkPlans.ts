// The chain of plans in a folder, looked at without a database: numbers, what each begins with, its own files.
import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { driftItems } from '../core/lineage/index.ts'
import type { AppliedPlan } from '../engines/postgres/index.ts'
import { ExitError } from './exit.ts'
import { editedIn, foldersIn, readPlanFolder } from './plans.ts'

export interface ChainFault {
  readonly folder: string
  readonly code: 'unreadable' | 'number twice' | 'number missing' | 'other base' | 'edited'
  readonly says: string
  readonly remedy: string
}

/** Faults that stop a plan from being applied as it stands; hand edits do not. */
export const isBroken = (f: ChainFault): boolean => f.code !== 'edited'

/** What one plan leads to and the next does not begin with; how a server prints a text does not count. */
function between(a: AppliedPlan, b: AppliedPlan): readonly string[] {
  if (b.plan.from === a.plan.to) return []
  return b.base === null ? ['it begins with nothing'] : driftItems(a.expected, b.base).map((d) => (d.field === '' ? d.object : `${d.object} ${d.field}`))
}

const some = (list: readonly string[]) => `${list.slice(0, 3).join('; ')}${list.length > 3 ? `, and ${list.length - 3} more` : ''}`

/** All there is to say of the plans of a folder, or of one plan, in order. Nothing where the chain holds. */
export function chainFaults(dir: string): readonly ChainFault[] {
  const folders = existsSync(join(dir, 'plan.json')) ? [''] : foldersIn(dir)
  const read = folders.map((folder) => readable(dir, folder))
  const plans = read.flatMap((r) => ('plan' in r ? [r] : []))
  return read.flatMap((r, i): readonly ChainFault[] => {
    if (!('plan' in r)) return [r]
    const { folder, plan } = r
    const faults: ChainFault[] = []
    const before = folders[i - 1]
    if (before !== undefined && before.slice(0, 4) === folder.slice(0, 4))
      faults.push({
        folder,
        code: 'number twice',
        says: `has the number of ${before}: two branches made them`,
        remedy: 'Give the later one the next number, make its plan again from what the other leads to, and rehearse it.',
      })
    const last = plans[plans.indexOf(r) - 1]?.plan
    if (last && plan.number > last.number + 1)
      faults.push({
        folder,
        code: 'number missing',
        says: `follows ${String(last.number).padStart(4, '0')}, and what is between them is not there`,
        remedy: 'Put the missing plan back, or number this one anew and make it again.',
      })
    const apart = last ? between(last, plan) : []
    if (last && apart.length > 0)
      faults.push({
        folder,
        code: 'other base',
        says: `does not begin with what ${String(last.number).padStart(4, '0')}-${last.name} leads to: ${some(apart)}`,
        remedy: `Make it again: pelvok plan --from ${dir} --to SOURCE, with the folders up to ${String(last.number).padStart(4, '0')} there, and rehearse it.`,
      })
    for (const file of editedIn(join(dir, folder)))
      faults.push({
        folder,
        code: 'edited',
        says: `${file} was changed by hand`,
        remedy: 'Rehearse it as it is; a plan that is made again does not have the edit.',
      })
    return faults
  })
}

function readable(dir: string, folder: string): { readonly folder: string; readonly plan: AppliedPlan } | ChainFault {
  try {
    return { folder, plan: readPlanFolder(join(dir, folder)) }
  } catch (error) {
    if (!(error instanceof ExitError)) throw error
    return { folder, code: 'unreadable', says: error.message, remedy: error.wording.hint }
  }
}
