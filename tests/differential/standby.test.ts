// A standby: it follows another server, and can only be read. Made of the test cluster by the server's own programs.
import { execFileSync } from 'node:child_process'
import { chmodSync, chownSync, mkdirSync, mkdtempSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { type Location, walkConnection } from '../../src/engines/postgres/index.ts'
import { adminLocation, cli, makeDatabase, surveyOf, urlOf, versionOf } from '../support/server.ts'

const isRoot = process.getuid?.() === 0
const dir = mkdtempSync(join(tmpdir(), 'pelvok-standby-'))
const data = join(dir, 'data')
let programs = ''
let db: Awaited<ReturnType<typeof makeDatabase>>
let at: Location

/** PostgreSQL refuses to run as root. */
const asPostgres = (program: string, args: readonly string[]) => {
  const command = [join(programs, program), ...args]
  const [file, ...rest] = isRoot ? ['runuser', '-u', 'postgres', '--', ...command] : command
  execFileSync(file as string, rest, { stdio: 'ignore', env: { ...process.env, PGPASSWORD: adminLocation().password ?? '' } })
}

const freePort = () =>
  new Promise<number>((resolve) => {
    const s = createServer().listen(0, '127.0.0.1', () => {
      const { port } = s.address() as { port: number }
      s.close(() => resolve(port))
    })
  })

beforeAll(async () => {
  programs = `/usr/lib/postgresql/${await versionOf()}/bin`
  db = await makeDatabase('create table bay (id int primary key)')
  const from = adminLocation()
  chmodSync(dir, 0o755)
  mkdirSync(data, { mode: 0o700 })
  if (isRoot) {
    const [user, group] = ['-u', '-g'].map((f) => Number(execFileSync('id', [f, 'postgres'], { encoding: 'utf8' }))) as [number, number]
    chownSync(data, user, group)
  }
  asPostgres('pg_basebackup', ['-D', data, '-h', from.host, '-p', String(from.port), '-U', from.user, '-R', '-c', 'fast', '-X', 'stream'])
  const port = await freePort()
  asPostgres('pg_ctl', ['-D', data, '-w', '-l', join(data, 'log'), '-o', `-p ${port} -c unix_socket_directories='' -c listen_addresses=127.0.0.1`, 'start'])
  at = { ...db.location, port }
})
afterAll(async () => {
  asPostgres('pg_ctl', ['-D', data, '-m', 'immediate', 'stop'])
  await db.drop()
  rmSync(dir, { recursive: true, force: true })
})

describe('a standby', () => {
  it('is told of when a connection is tried', async () => {
    const steps = await walkConnection(at)
    expect(steps.find((s) => s.step === 'database')).toMatchObject({ state: 'attention', says: expect.stringContaining('a standby in recovery') })
    expect(steps.every((s) => s.state !== 'failed')).toBe(true)
    expect((await walkConnection(db.location)).find((s) => s.step === 'database')?.state).toBe('passed')
  })

  it('is surveyed as its primary is', async () => {
    expect((await surveyOf(at)).structure).toEqual((await surveyOf(db.location)).structure)
  })

  it('takes no plan, and says where it goes', () => {
    const plans = join(dir, 'plans')
    expect(cli(['plan', '--from', 'empty', '--to', urlOf(db.location), '--out', plans]).status).toBe(0)
    for (const args of [
      ['apply', plans, '--to', urlOf(at)],
      ['adopt', plans, '--on', urlOf(at)],
    ]) {
      const { status, err } = cli(args)
      expect([status, err]).toEqual([3, expect.stringContaining('can only be read')])
      expect(err).toContain('Name the primary')
    }
  })
})
