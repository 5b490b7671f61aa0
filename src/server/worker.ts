// The worker process that `npm start` runs beside Next: takes jobs from the queue, one at a time.
import pg from 'pg'
import { connect, dropOrphans, parseUrl } from '../engines/postgres/index.ts'
import { closeStore, failLostJobs, findJob } from '../store/index.ts'
import { log } from './log.ts'
import { queue, queueName, stopQueue } from './queue.ts'
import { doJob } from './work.ts'

const lost = JSON.stringify({ message: 'this was interrupted', detail: 'The process that did it ended, or the machine did.', hint: 'Start it again.' })
const running = new Map<number, () => void>()

/** Cancelling is heard at once by NOTIFY; the heartbeat of the job finds it too. */
const listener = new pg.Client({ connectionString: process.env['DATABASE_URL'], application_name: 'pelvok worker' })
listener.on('error', (error) => log.error({ message: error.message }, 'listener'))
listener.on('notification', (n) => running.get(Number(n.payload))?.())

async function dropOldScratch(): Promise<void> {
  const parsed = parseUrl(process.env['PELVOK_SCRATCH_URL'] ?? '')
  if (!parsed.ok) return
  const client = await connect(parsed.location)
  try {
    const dropped = await dropOrphans(client)
    if (dropped.length > 0) log.info({ dropped: dropped.length }, 'scratch databases of an earlier run dropped')
  } finally {
    await client.end()
  }
}

async function main(): Promise<void> {
  await listener.connect()
  await listener.query('listen pelvok_cancel')
  await dropOldScratch().catch((error: unknown) => log.warn({ message: error instanceof Error ? error.message : String(error) }, 'scratch server'))
  const boss = await queue('work')
  const sweep = setInterval(() => void failLostJobs(lost).catch(() => {}), 5000)
  await failLostJobs(lost)
  await boss.work<{ jobId: number }>(queueName, { batchSize: 1, pollingIntervalSeconds: 0.5 }, async ([message]) => {
    const id = message?.data.jobId
    if (id === undefined || !(await findJob(id))) return
    await doJob(id, (job, abort) => {
      running.set(job, abort)
      return () => running.delete(job)
    })
  })
  log.info('worker ready')
  const stop = async () => {
    clearInterval(sweep)
    for (const abort of running.values()) abort()
    const until = Date.now() + 4000
    while (running.size > 0 && Date.now() < until) await new Promise((resolve) => setTimeout(resolve, 50))
    await stopQueue().catch(() => {})
    await listener.end().catch(() => {})
    await closeStore()
    process.exit(0)
  }
  process.once('SIGTERM', () => void stop())
  process.once('SIGINT', () => void stop())
}

await main()
