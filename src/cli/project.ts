// Rulings of a project in the store that DATABASE_URL names.
import type { LedgerEntry } from '../core/model/index.ts'

import { findProject } from '../server/projects.ts'
import { closeStore, importEntries, readLedger } from '../server/review.ts'
import { badInput } from './exit.ts'

async function withProject<T>(id: string, work: () => Promise<T>): Promise<T> {
  if (!process.env['DATABASE_URL'])
    throw badInput('DATABASE_URL is not set', 'Set it to the database of Pelvok’s own data; "npm start" prints where it is kept.')
  try {
    if (!(await findProject(id))) throw badInput(`there is no project "${id}"`, 'The project’s id is the part of its address after /p/.')
    return await work()
  } finally {
    await closeStore()
  }
}

export const exportLedger = (project: string): Promise<readonly LedgerEntry[]> => withProject(project, () => readLedger(project))

export const importLedger = (project: string, entries: readonly LedgerEntry[]): Promise<number> =>
  withProject(project, async () => {
    const answer = await importEntries(project, entries)
    if ('differsAt' in answer)
      throw badInput(
        `entry ${answer.differsAt} of the project is another one than in the file`,
        'A file can be imported where the project’s ledger is its beginning; export the project’s ledger and compare.',
      )
    return answer.added
  })
