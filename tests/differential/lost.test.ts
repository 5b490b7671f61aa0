// Processes that are lost: the store's server goes away and comes back, the worker is killed, a sender ends halfway. With a store of
// their own, a real worker, and doors in front of the servers.
import { type ChildProcess, spawn } from 'node:child_process'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { isTold } from '../../src/core/text/told.ts'
import { findJob, insertJob, insertProject, inTransaction, type JobRow, listProjects, store } from '../../src/store/index.ts'
import { eventually } from '../support/app.ts'
import { type Forwarder, forwarder } from '../support/forwarder.ts'
import { type OwnStore, ownStore } from '../support/ownStore.ts'
import { admin, adminLocation, makeDatabase } from '../support/server.ts'

let own: OwnStore
let source: Awaited<ReturnType<typeof makeDatabase>>
let storeDoor: Forwarder
let sourceDoor: Forwarder
let project = ''
const workers: ChildProcess[] = []
const server = adminLocation()

const startWorker = (): ChildProcess => {
  const worker = spawn(process.execPath, ['dist/worker.js'], { stdio: 'ignore' })
  workers.push(worker)
  return worker
}
const ended = (child: ChildProcess) => new Promise((resolve) => child.once('exit', resolve))
const kill = (worker: ChildProcess, signal: NodeJS.Signals) => {
  const gone = ended(worker)
  worker.kill(signal)
  return gone
}
const surveyJob = () => insertJob(project, 'survey', 'Mara', '{}')
const inState = (id: number, ...states: readonly JobRow['state'][]) =>
  eventually(
    `job ${id} ${states.join(' or ')}`,
    async () => {
      const job = await findJob(id).catch(() => null)
      return job && states.includes(job.state) ? job : null
    },
    240,
  )
/** Ways in which a store that is away is told. */
const away = (work: Promise<unknown>) =>
  work.then(
    () => 'no error',
    (e: unknown) => (isTold(e) ? e.words.message : String(e)),
  )

beforeAll(async () => {
  source = await makeDatabase('create table bay (id int primary key)', 'create table crate (id int primary key, bay_id int references bay)')
  storeDoor = await forwarder(server.host, server.port)
  sourceDoor = await forwarder(server.host, server.port)
  process.env['PELVOK_SCRATCH_URL'] = ''
  own = await ownStore((url) => url.replace(`${server.host}:${server.port}`, `127.0.0.1:${storeDoor.port}`))
  const { password, ...location } = { ...source.location, host: '127.0.0.1', port: sourceDoor.port }
  project = await insertProject({ name: 'Depots', by: 'Mara', kind: 'postgresql', label: 'depots', location, secret: password })
})
afterAll(async () => {
  for (const w of workers) if (w.exitCode === null && w.signalCode === null) await kill(w, 'SIGKILL')
  await own.end()
  for (const door of [storeDoor, sourceDoor]) await door.end()
  await source.drop()
})

describe('a job', () => {
  it('that waits without a message is sent again', async () => {
    const id = await surveyJob()
    startWorker()
    await inState(id, 'done')
  })

  it('ends as it would have, though the store goes away in the middle of it', async () => {
    sourceDoor.hold()
    const id = await surveyJob()
    await inState(id, 'running')
    await eventually('a statement', async () => sourceDoor.held() > 0, 120)
    await storeDoor.shut()
    sourceDoor.release()
    expect(await away(listProjects())).toBe('Pelvok’s own database does not answer')
    await storeDoor.open()
    await inState(id, 'done')
    // And the worker takes the next one.
    await inState(await surveyJob(), 'done')
  })

  it('is told as interrupted where its worker was killed; the next worker goes on', async () => {
    sourceDoor.hold()
    const id = await surveyJob()
    await inState(id, 'running')
    for (const w of workers.splice(0)) await kill(w, 'SIGKILL')
    sourceDoor.release()
    const next = await surveyJob()
    startWorker()
    expect(JSON.parse((await inState(id, 'failed', 'done')).error ?? '{}')).toMatchObject({ message: 'this was interrupted', hint: 'Start it again.' })
    await inState(next, 'done')
  })
})

describe('the store', () => {
  it('tells where it is away, in the middle of a transaction too, and works again once it is back', async () => {
    let answer = ''
    await inTransaction(async (client) => {
      await client.query('select 1')
      await storeDoor.shut()
      answer = await away(client.query('select 1'))
    }).catch(() => {})
    expect(answer).toBe('Pelvok’s own database does not answer')
    expect(await away(inTransaction(async () => {}))).toBe('Pelvok’s own database does not answer')
    await storeDoor.open()
    expect(await away(store().query('select 1'))).toBe('no error')
  })

  it('tells where its database is gone', async () => {
    for (const w of workers.splice(0)) await kill(w, 'SIGKILL')
    await admin('postgres', `drop database ${own.name} with (force)`)
    expect(await eventually('it is told', async () => ((await away(listProjects())).includes('gone') ? 'gone' : null))).toBe('gone')
  })
})
