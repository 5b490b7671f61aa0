// Before the first request: migrate the store, and make the demo project where it is missing. Run by scripts/start.sh and the tests.
import pg from 'pg'
import { applyMigrations, describeLocation, parseUrl } from '../engines/postgres/index.ts'
import { closeStore, insertProject, listProjects } from '../store/index.ts'
import start from '../store/migrations/0001-start.sql'
import { startJob } from './jobs.ts'
import { stopQueue } from './queue.ts'

const migrations = [{ number: 1, name: 'start', sql: start }]

async function migrate(): Promise<void> {
  const client = new pg.Client({ connectionString: process.env['DATABASE_URL'], application_name: 'pelvok boot' })
  await client.connect()
  try {
    await applyMigrations(client, migrations, { schema: 'pelvok', table: 'migration' })
  } finally {
    await client.end()
  }
}

/** The demo project, once: a store that has any project is left alone. */
async function makeDemo(): Promise<void> {
  const parsed = parseUrl(process.env['PELVOK_DEMO_URL'] ?? '')
  if (!parsed.ok || (await listProjects()).length > 0) return
  const { password, ...location } = parsed.location
  const id = await insertProject({
    name: process.env['PELVOK_DEMO_NAME'] ?? 'Demo',
    by: 'Pelvok',
    kind: 'postgresql',
    label: describeLocation(parsed.location),
    location,
    secret: password,
  })
  await startJob(id, 'survey', 'Pelvok')
}

await migrate()
await makeDemo()
await stopQueue()
await closeStore()
