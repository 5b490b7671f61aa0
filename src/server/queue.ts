// The queue between Next and the worker: it carries job ids and nothing else.
import PgBoss from 'pg-boss'
import { log } from './log.ts'

export const queueName = 'pelvok-job'
export const queueSchema = 'pelvok_queue'

let shared: Promise<PgBoss> | null = null

/** The process-wide queue, started at first use. Its own maintenance runs in the worker only. */
export function queue(role: 'send' | 'work'): Promise<PgBoss> {
  shared ??= (async () => {
    const boss = new PgBoss({
      connectionString: process.env['DATABASE_URL'] ?? '',
      schema: queueSchema,
      max: 2,
      supervise: role === 'work',
      schedule: false,
      migrate: true,
      application_name: 'pelvok queue',
    })
    boss.on('error', (error) => log.error({ message: error.message }, 'queue'))
    await boss.start()
    await boss.createQueue(queueName, { name: queueName, retryLimit: 0, expireInSeconds: 6 * 3600 } as PgBoss.Queue)
    return boss
  })()
  shared.catch(() => {
    shared = null
  })
  return shared
}

export async function stopQueue(): Promise<void> {
  const boss = await shared?.catch(() => null)
  shared = null
  await boss?.stop({ graceful: false, wait: true })
}
