// What people see where something is lost: the store's server goes away and comes back, a snapshot cannot be opened, a project is deleted.
import { gzipSync, strToU8 } from 'fflate'
import type { Browser, Page } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { fromScript, visit } from '../support/browser.ts'
import { type Forwarder, forwarder } from '../support/forwarder.ts'
import { type OwnApp, ownApp } from '../support/ownApp.ts'
import { admin, adminLocation, rowsOf } from '../support/server.ts'
import { eventually } from '../support/wait.ts'

let door: Forwarder
let app: OwnApp
let browser: Browser
let page: Page
let complaints: readonly string[]
let project = ''
const server = adminLocation()
const schema =
  'create table bay (id int primary key); create table crate (id int primary key, bay_id int references bay, lid_id int); create table lid (id int primary key);'

beforeAll(async () => {
  door = await forwarder(server.host, server.port)
  app = await ownApp({ through: (url) => url.replace(`${server.host}:${server.port}`, `127.0.0.1:${door.port}`) })
  ;({ browser, page, complaints } = await visit('Mara', app.url))
  project = await fromScript(page, 'Depots', schema, app.url)
})
afterAll(async () => {
  await browser.close()
  await app.end()
  await door.end()
})

const banner = (p: Page) => p.getByText(/Pelvok does not answer, or its own database does not/)
const post = (path: string, body: unknown) =>
  fetch(`${app.url}${path}`, { method: 'POST', headers: { 'content-type': 'application/json', cookie: 'pelvok-name=Jon' }, body: JSON.stringify(body) })
const id = () => project.split('/').at(-1) as string
const rename = (value: string) => ({ entries: [{ kind: 'edit', edit: { facet: 'entity.name', subject: 'public.bay', value }, note: null }], seen: 99 })

describe('a ruling', () => {
  it('asks the store at most six times, who it is and what others see included', async () => {
    await page.goto(`${project}/review`)
    await page.getByRole('region', { name: 'Docket' }).getByText('shown').waitFor()
    const rule = async (name: string, entries: number) => {
      expect((await post(`/api/projects/${id()}/ledger`, rename(name))).status).toBe(200)
      await page.getByRole('link', { name: `Ledger ${entries}` }).waitFor()
    }
    // The page hears of it: its stream is open, and what opening asks for is behind it.
    await rule('Tray', 1)
    const before = door.statements.length
    await rule('Rack', 2)
    // Where the reader is is kept a moment after they came: that is no part of it.
    const asked = door.statements.slice(before).filter((s) => !s.includes('pelvok.visit'))
    expect(asked.length, asked.join('\n')).toBeLessThanOrEqual(6)
  })
})

describe('a store that goes away', () => {
  it('is told on the page that is open, in answers, and to whoever comes', async () => {
    await page.goto(`${project}/review`)
    await page.getByRole('region', { name: 'Docket' }).getByText('shown').waitFor()
    await door.shut()
    await banner(page).waitFor()
    const refused = await post(`/api/projects/${id()}/ledger`, rename('Bin'))
    expect([refused.status, await refused.json()]).toEqual([503, expect.objectContaining({ message: 'Pelvok’s own database does not answer' })])
    const other = await browser.newPage()
    const answer = await other.goto(`${project}/plan`)
    expect([answer?.status(), await other.locator('h1').textContent()]).toEqual([503, 'Pelvok’s own database does not answer'])
    for (const { headers } of [refused, await fetch(`${project}/code`)])
      expect([headers.get('x-content-type-options'), headers.get('referrer-policy'), headers.get('content-security-policy')]).toEqual([
        'nosniff',
        'same-origin',
        expect.stringContaining("frame-ancestors 'none'"),
      ])
    // Both go on by themselves.
    await door.open()
    await other.getByRole('link', { name: 'Plan' }).waitFor()
    await other.close()
    await banner(page).waitFor({ state: 'detached' })
  })

  it('hides nothing that came meanwhile: the page has what others ruled', async () => {
    await door.shut()
    await banner(page).waitFor()
    await door.open()
    expect(await eventually('the store', async () => ((await post(`/api/projects/${id()}/ledger`, rename('Bin'))).ok ? 'ok' : null))).toBe('ok')
    await page.getByRole('link', { name: 'Ledger 3' }).waitFor()
    await banner(page).waitFor({ state: 'detached' })
    expect(complaints.filter((c) => !/Failed to load resource|503|EventSource|net::ERR/.test(c))).toEqual([])
  })
})

describe('a snapshot that cannot be opened', () => {
  it('is told in the stage, beside the bar and the other stages', async () => {
    const hash = 'f'.repeat(64)
    await rowsOf(app.database, 'insert into pelvok.snapshot (hash, bytes) values ($1, $2)', [
      hash,
      Buffer.from(gzipSync(strToU8('{"format":"pelvok.catalog/9"}'))),
    ])
    const same = 'project_id, source_id, relations, unmodelled, statistics, reading'
    await rowsOf(app.database, `insert into pelvok.survey (hash, ${same}) select $1, ${same} from pelvok.survey`, [hash])
    const stage = await browser.newPage()
    const told = stage.getByRole('alert').filter({ hasText: 'Survey the source again' })
    for (const name of ['source', 'code']) {
      await stage.goto(`${project}/${name}`)
      await told.waitFor()
      await stage.getByRole('link', { name: 'Source' }).waitFor()
    }
    await stage.goto(`${project}/source`)
    await told.waitFor()
    await stage.getByText('Delete this project').waitFor()
    await stage.goto(`${project}/code`)
    await told.waitFor()
    const asked = await fetch(`${app.url}/api/projects/${id()}/gate`)
    expect([asked.status, await asked.json()]).toEqual([409, expect.objectContaining({ hint: expect.stringContaining('Survey the source again') })])
    await rowsOf(app.database, 'delete from pelvok.survey where hash = $1', [hash])
    await stage.getByRole('button', { name: 'Try again' }).click()
    await told.waitFor({ state: 'detached' })
    await stage.close()
  })
})

describe('a store whose database is dropped', () => {
  it('is told as gone', async () => {
    await admin('postgres', `drop database ${app.database} with (force)`)
    await eventually('it is told', async () => ((await (await fetch(app.url)).text()).includes('Pelvok’s own database is gone') ? true : null))
  })
})
