// A connection tried step by step: what fails is told at its step, what comes after is not reached.
import { createServer, type Server } from 'node:net'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { walkConnection } from '../../src/engines/postgres/index.ts'
import { admin, adminLocation, makeDatabase } from '../support/server.ts'

let db: Awaited<ReturnType<typeof makeDatabase>>
let stranger: Server
let strangerPort = 0
beforeAll(async () => {
  db = await makeDatabase('create schema closed', 'create table closed.secret (id int)', 'create table open (id int)', 'grant select on open to public')
  await admin('postgres', `create role ${db.name}_reader login password 'weak'`)
  stranger = createServer((socket) => socket.once('data', () => socket.end('HTTP/1.1 400 Bad Request\r\n\r\n')))
  await new Promise<void>((done) => stranger.listen(0, '127.0.0.1', done))
  strangerPort = (stranger.address() as { port: number }).port
})
afterAll(async () => {
  stranger.close()
  await db.drop()
  await admin('postgres', `drop role ${db.name}_reader`)
})

const states = async (change: Partial<ReturnType<typeof adminLocation>>) =>
  Object.fromEntries((await walkConnection({ ...adminLocation(db.name), ...change })).map((s) => [s.step, s.state]))
const said = async (change: Partial<ReturnType<typeof adminLocation>>) =>
  (await walkConnection({ ...adminLocation(db.name), ...change })).map((s) => `${s.step}: ${s.says}`).join('\n')

const passed = { host: 'passed', port: 'passed', TLS: 'passed', login: 'passed', database: 'passed', privileges: 'passed' }
const after = (last: string, state: string): Readonly<Record<string, string>> => {
  const names = Object.keys(passed)
  const at = names.indexOf(last)
  return Object.fromEntries(names.map((n, i) => [n, i < at ? 'passed' : i === at ? state : 'not reached']))
}

describe('a connection, step by step', () => {
  it('passes all of them', async () => {
    expect(await states({ tls: 'disable' })).toEqual(passed)
    expect(await said({ tls: 'disable' })).toMatch(/database: "t_.*" on PostgreSQL \d+/)
  })
  it.each([
    ['an unknown host', { host: 'no-such-host.invalid' }, 'host'],
    ['a closed port', { port: 1 }, 'port'],
    ['a wrong password', { password: 'wrong' }, 'login'],
    ['an unknown user', { user: 'nobody_here', password: 'x' }, 'login'],
  ] as const)('with %s stops at the %s', async (_, change, step) => {
    const steps = await walkConnection({ ...adminLocation(db.name), ...change })
    expect(Object.fromEntries(steps.map((s) => [s.step, s.state]))).toEqual(after(step, 'failed'))
    expect(steps.find((s) => s.step === step)?.wording?.hint).not.toBe('')
  })
  it('with an unknown database passes the login, and offers names like it', async () => {
    const steps = await walkConnection({ ...adminLocation(`${db.name}x`) })
    expect(Object.fromEntries(steps.map((s) => [s.step, s.state]))).toEqual(after('database', 'failed'))
    expect(steps.find((s) => s.step === 'database')?.wording?.hint).toContain(`did you mean "${db.name}"`)
  })
  it('with something else at the port says what that said', async () => {
    expect(await states({ port: strangerPort })).toEqual(after('TLS', 'failed'))
    expect(await said({ port: strangerPort })).toContain('does not speak the PostgreSQL protocol')
  })
  it('of a role with few rights names what it may not read and what to grant', async () => {
    const change = { user: `${db.name}_reader`, password: 'weak' }
    expect(await states(change)).toEqual({ ...passed, privileges: 'attention' })
    expect(await said(change)).toMatch(/2 relations; .*_reader may not read the rows of 1 of them.*Schemas it may not use: closed/)
  })
  it('to an empty database asks whether it is the right one', async () => {
    const empty = await makeDatabase()
    expect((await walkConnection(empty.location)).at(-1)).toMatchObject({ state: 'attention', says: expect.stringContaining('is it the right one') })
    await empty.drop()
  })
})
