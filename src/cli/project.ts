// Rulings of a project in the store that DATABASE_URL names, or that "npm start" made in this checkout.
import { existsSync, readFileSync } from 'node:fs'
import type { LedgerEntry } from '../core/model/index.ts'
import { findProject } from '../server/projects.ts'
import { closeStore, importEntries, readLedger } from '../server/review.ts'
import { badInput } from './exit.ts'

/** Written by scripts/start.sh, for its owner only. */
const ownStore = new URL('../.pelvok/store.url', import.meta.url)

async function withProject<T>(id: string, work: () => Promise<T>): Promise<T> {
  if (!process.env['DATABASE_URL']) {
    if (!existsSync(ownStore))
      throw badInput('there is no store', 'Set DATABASE_URL to the database of Pelvok’s own data, or run "npm start" here once: its store is found by itself.')
    process.env['DATABASE_URL'] = readFileSync(ownStore, 'utf8').trim()
  }
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
