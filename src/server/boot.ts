// Before the first request: migrate the store, and make the demo project where it is missing. Run by scripts/start.sh and the tests.
import { createHash } from 'node:crypto'
import { readFileSync } from 'node:fs'
import pg from 'pg'
import { applyMigrations, describeLocation, type Location, parseUrl } from '../engines/postgres/index.ts'
import {
  closeStore,
  findSource,
  forgetOfOthers,
  insertEnvironment,
  insertProject,
  listAccounts,
  listProjects,
  moveEnvironment,
  updateSource,
} from '../store/index.ts'
import start from '../store/migrations/0001-start.sql'
import rows from '../store/migrations/0002-rows.sql'
import visits from '../store/migrations/0003-visits.sql'
import accounts from '../store/migrations/0004-accounts.sql'
import plans from '../store/migrations/0005-plans.sql'
import code from '../store/migrations/0006-code.sql'
import proofs from '../store/migrations/0007-proofs.sql'
import kept from '../store/migrations/0008-kept.sql'
import { startJob } from './jobs.ts'
import { stopQueue } from './queue.ts'

const migrations = [
  { number: 1, name: 'start', sql: start },
  { number: 2, name: 'rows', sql: rows },
  { number: 3, name: 'visits', sql: visits },
  { number: 4, name: 'accounts', sql: accounts },
  { number: 5, name: 'plans', sql: plans },
  { number: 6, name: 'code', sql: code },
  { number: 7, name: 'proofs', sql: proofs },
  { number: 8, name: 'kept', sql: kept },
]

async function migrate(): Promise<void> {
  const client = new pg.Client({ connectionString: process.env['DATABASE_URL'], application_name: 'pelvok boot' })
  await client.connect()
  try {
    await applyMigrations(client, migrations, { schema: 'pelvok', table: 'migration' })
  } finally {
    await client.end()
  }
}

/** Who made a project: the one made here is told from people's by it. */
const maker = 'Pelvok'

/** The demo project, once: a store that has any project gets none. An earlier one follows its server to another port. */
async function makeDemo(): Promise<void> {
  const parsed = parseUrl(process.env['PELVOK_DEMO_URL'] ?? '')
  if (!parsed.ok) return
  const { password, ...location } = parsed.location
  const label = describeLocation(parsed.location)
  const projects = await listProjects()
  const demo = projects.find((p) => p.createdBy === maker)
  const source = demo ? await findSource(demo.id) : null
  if (source && source.label !== label) await updateSource(source.id, label, location, password)
  const preview = parseUrl(process.env['PELVOK_DEMO_PREVIEW_URL'] ?? '')
  if (demo && preview.ok) await followPreview(demo.id, preview.location)
  if (projects.length > 0) return
  const id = await insertProject({ name: process.env['PELVOK_DEMO_NAME'] ?? 'Demo', by: maker, kind: 'postgresql', label, location, secret: password })
  if (preview.ok) await followPreview(id, preview.location)
  await startJob(id, 'survey', maker)
}

/** The demo's database for trying plans on, as an environment; it follows its server to another port. */
async function followPreview(projectId: string, { password, ...location }: Location): Promise<void> {
  const label = describeLocation({ ...location, password: null })
  const added = await insertEnvironment(projectId, { name: 'preview', kind: 'preview', protected: false, label, location }, password, maker)
  if (!added) await moveEnvironment(projectId, 'preview', maker, { label, location }, password)
}

/** Listening beyond this machine needs somebody who can sign in. */
async function checkSignIn(): Promise<void> {
  if (!process.argv.includes('--elsewhere') || (await listAccounts()).length > 0) return
  process.stderr.write(
    'Pelvok: listening beyond this machine needs sign-in, and there is no account yet.\nStart without PELVOK_LISTEN and PELVOK_URL, open /accounts in a browser on this machine, make the first account, and start again.\n',
  )
  process.exitCode = 2
}

await migrate()
await forgetOfOthers(
  createHash('sha256')
    .update(readFileSync(new URL('thread.js', import.meta.url)))
    .digest('hex'),
)
await makeDemo()
await checkSignIn()
await stopQueue()
await closeStore()
