// The worker process that `npm start` runs beside Next: takes jobs from the queue, one at a time.
import pg from 'pg'
import { connect, dropOrphans, parseUrl } from '../engines/postgres/index.ts'
import { closeStore, failLostJobs, findJob, waitingUnsent } from '../store/index.ts'
import { log } from './log.ts'
import { queue, queueName, queueSchema, stopQueue } from './queue.ts'
import { doJob } from './work.ts'

const lost = JSON.stringify({ message: 'this was interrupted', detail: 'The process that did it ended, or the machine did.', hint: 'Start it again.' })
const running = new Map<number, () => void>()

const pause = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds))

let stopping = false
let listener: pg.Client | null = null

/** Cancelling is heard at once by NOTIFY; the heartbeat of the job finds it too. A store that goes away for a while is waited for. */
async function listen(): Promise<void> {
  for (let wait = 500; !stopping; wait = Math.min(wait * 2, 5000)) {
    const client = new pg.Client({ connectionString: process.env['DATABASE_URL'], application_name: 'pelvok worker', connectionTimeoutMillis: 10_000 })
    client.on('error', (error) => log.warn({ message: error.message }, 'listener'))
    client.on('notification', (n) => running.get(Number(n.payload))?.())
    try {
      await client.connect()
      await client.query('listen pelvok_cancel')
      client.once('end', () => {
        if (!stopping) void listen()
      })
      listener = client
      return
    } catch (error) {
      log.warn({ message: error instanceof Error ? error.message : String(error) }, 'the store does not answer; tried again')
      await client.end().catch(() => {})
      await pause(wait)
    }
  }
}

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

/** A row that waits without a message, since whoever made it ended before it was sent. */
async function sendAgain(boss: Awaited<ReturnType<typeof queue>>): Promise<void> {
  for (const id of await waitingUnsent(queueSchema, queueName, 5)) await boss.send(queueName, { jobId: id }, { retryLimit: 0 })
}

async function main(): Promise<void> {
  await listen()
  await dropOldScratch().catch((error: unknown) => log.warn({ message: error instanceof Error ? error.message : String(error) }, 'scratch server'))
  const boss = await queue('work')
  const sweep = setInterval(() => {
    void failLostJobs(lost, [...running.keys()]).catch(() => {})
    void sendAgain(boss).catch(() => {})
  }, 5000)
  await failLostJobs(lost, [])
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
    stopping = true
    // What does not let go is left: its lease runs out, and the next worker says so.
    setTimeout(() => process.exit(1), 9000).unref()
    clearInterval(sweep)
    for (const abort of running.values()) abort()
    const until = Date.now() + 4000
    while (running.size > 0 && Date.now() < until) await new Promise((resolve) => setTimeout(resolve, 50))
    await stopQueue().catch(() => {})
    await listener?.end().catch(() => {})
    await closeStore()
    process.exit(0)
  }
  process.once('SIGTERM', () => void stop())
  process.once('SIGINT', () => void stop())
}

await main()
