// What happens in projects, told to whoever follows: one connection to the store for all of them (PostgreSQL manual, LISTEN: it belongs to a session).
import pg from 'pg'
import { encodeEntry } from '../core/model/index.ts'
import { findJob, findLastJobs, findLedgerHead, readLedger } from '../store/index.ts'
import { type JobView, jobView } from './jobs.ts'

export type ProjectEvent =
  | { readonly type: 'job'; readonly job: JobView }
  /** Entries as the ledger encodes them, and the seq of its last; without entries where somebody has just come. */
  | { readonly type: 'ledger'; readonly entries: readonly unknown[]; readonly head: number }

interface Follower {
  readonly tell: (e: ProjectEvent) => void
  /** The feed is gone: come again. */
  readonly end: () => void
}

interface Followed {
  readonly followers: Set<Follower>
  /** Seq of the last entry that was told. */
  head: number
  /** One reading of the ledger after the other: nothing is told twice or out of order. */
  turn: Promise<void>
}

interface Feed {
  readonly projects: Map<string, Followed>
  readonly ready: Promise<void>
}

let feed: Feed | null = null

function theFeed(): Feed {
  if (feed) return feed
  const client = new pg.Client({ connectionString: process.env['DATABASE_URL'], application_name: 'pelvok events' })
  const projects = new Map<string, Followed>()
  const made: Feed = {
    projects,
    ready: client.connect().then(async () => {
      await client.query('listen pelvok_job')
      await client.query('listen pelvok_ledger')
    }),
  }
  feed = made
  // A store that goes away ends all streams: browsers come back, to a connection of then.
  const over = () => {
    if (feed === made) feed = null
    for (const p of projects.values()) for (const f of p.followers) f.end()
    projects.clear()
    client.end().catch(() => {})
  }
  client.on('error', over)
  client.on('end', over)
  made.ready.catch(over)
  client.on('notification', ({ channel, payload = '' }) => {
    if (channel === 'pelvok_ledger') tellLedger(payload, projects.get(payload))
    if (channel === 'pelvok_job') void tellJob(Number(payload), projects).catch(over)
  })
  return made
}

function tellLedger(projectId: string, of: Followed | undefined): void {
  if (!of) return
  of.turn = of.turn
    .then(async () => {
      const fresh = await readLedger(projectId, of.head)
      const last = fresh.at(-1)
      if (!last) return
      of.head = last.seq
      const event: ProjectEvent = { type: 'ledger', entries: fresh.map(encodeEntry), head: last.seq }
      for (const f of of.followers) f.tell(event)
    })
    // Whoever missed it sees the gap with the next entry, and asks.
    .catch(() => {})
}

async function tellJob(id: number, projects: Feed['projects']): Promise<void> {
  const job = await findJob(id)
  if (job) for (const f of projects.get(job.projectId)?.followers ?? []) f.tell({ type: 'job', job: jobView(job) })
}

/** Follow a project: every change of its jobs and its ledger until the signal aborts or the store goes away. How they stand is told at once. */
export async function followProject(projectId: string, signal: AbortSignal, tell: (e: ProjectEvent) => void): Promise<void> {
  const { projects, ready } = theFeed()
  await ready
  const followed = projects.get(projectId) ?? { followers: new Set<Follower>(), head: await findLedgerHead(projectId), turn: Promise.resolve() }
  // Somebody else may have come while the head was read.
  const own = projects.get(projectId) ?? followed
  projects.set(projectId, own)
  let end = () => {}
  const ended = new Promise<void>((resolve) => {
    end = resolve
    if (signal.aborted) resolve()
    signal.addEventListener('abort', () => resolve(), { once: true })
  })
  const follower: Follower = { tell: (e) => signal.aborted || tell(e), end }
  own.followers.add(follower)
  try {
    follower.tell({ type: 'ledger', entries: [], head: await findLedgerHead(projectId) })
    // How the newest ones stand, for someone who reloaded meanwhile: one may have ended between the page's reading and this.
    for (const job of await findLastJobs(projectId)) follower.tell({ type: 'job', job: jobView(job) })
    await ended
  } finally {
    own.followers.delete(follower)
    if (own.followers.size === 0 && projects.get(projectId) === own) projects.delete(projectId)
  }
}
