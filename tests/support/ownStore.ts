// A store of one test file's own, in the test's own process: migrated as it is at a start.
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { closeStore } from '../../src/store/index.ts'
import { makeDatabase } from './server.ts'

export interface OwnStore {
  readonly name: string
  readonly end: () => Promise<void>
}

/** `through`: the address by which it is reached, given its own. */
export async function ownStore(through: (url: string) => string = (url) => url): Promise<OwnStore> {
  const db = await makeDatabase()
  const dir = mkdtempSync(join(tmpdir(), 'pelvok-store-'))
  Object.assign(process.env, { DATABASE_URL: through(db.url), PELVOK_KEY_FILE: join(dir, 'key'), PELVOK_DEMO_URL: '', PELVOK_DEMO_PREVIEW_URL: '' })
  // Not waited for in this process's own turn: a door before the store may be in it.
  const status = await new Promise((resolve) => spawn(process.execPath, ['dist/boot.js'], { stdio: 'ignore' }).once('exit', resolve))
  if (status !== 0) throw new Error(`the store could not be made (exit status ${status})`)
  return {
    name: db.name,
    end: async () => {
      await closeStore()
      await db.drop()
      rmSync(dir, { recursive: true, force: true })
    },
  }
}
