// Two web servers and two workers on one store: rulings, jobs and sign-in reach everybody, whichever server they are on, and what dies loses nothing.
import { readFileSync } from 'node:fs'
import type { Browser, Page } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { fromScript, visit } from '../support/browser.ts'
import { type Follower, follower } from '../support/follower.ts'
import { type OwnApp, ownApp } from '../support/ownApp.ts'
import { makeDatabase, rowsOf } from '../support/server.ts'
import { eventually } from '../support/wait.ts'

let app: OwnApp
let other: Awaited<ReturnType<OwnApp['anotherWeb']>>
let browser: Browser
let page: Page
let project = ''
const id = () => project.split('/').at(-1) as string
const schema = 'create table bay (id int primary key); create table crate (id int primary key, bay_id int references bay);'
const sources: Awaited<ReturnType<typeof makeDatabase>>[] = []

const ask = async <T>(
  url: string,
  path: string,
  body?: unknown,
  cookie = 'pelvok-name=Jon',
): Promise<{ readonly status: number; readonly body: T; readonly cookies: string }> => {
  const answer = await fetch(`${url}${path}`, {
    redirect: 'manual',
    headers: { 'content-type': 'application/json', cookie },
    ...(body === undefined ? {} : { method: 'POST', body: JSON.stringify(body) }),
  })
  const text = await answer.text()
  const cookies = answer.headers
    .getSetCookie()
    .map((c) => c.split(';')[0])
    .join('; ')
  return { status: answer.status, body: (text.startsWith('{') ? JSON.parse(text) : text) as T, cookies }
}
const rename = (value: string) => ({ entries: [{ kind: 'edit', edit: { facet: 'entity.name', subject: 'public.bay', value }, note: null }], seen: 9999 })

beforeAll(async () => {
  app = await ownApp({ whole: true, log: 'machines-first' })
  other = await app.anotherWeb()
  ;({ browser, page } = await visit('Mara', app.url))
  project = await fromScript(page, 'Depots', schema, app.url)
})
afterAll(async () => {
  await browser?.close()
  await app?.end()
  await Promise.all(sources.map((s) => s.drop()))
})

describe('two web servers', () => {
  it('a ruling given on one is seen on the other', async () => {
    await page.goto(`${other.url}/p/${id()}/review?at=${encodeURIComponent('entity:public.bay')}`)
    await page.getByRole('region', { name: 'Evidence' }).getByText('becomes the class').waitFor()
    expect((await ask(app.url, `/api/projects/${id()}/ledger`, rename('Berth'))).status).toBe(200)
    await page.getByRole('region', { name: 'Evidence' }).getByText('Berth').first().waitFor()
    // And the other way.
    const heard = follower(id(), app.url)
    expect((await ask(other.url, `/api/projects/${id()}/ledger`, rename('Slip'))).status).toBe(200)
    await eventually('both entries', async () => heard.ledger.size === 2)
    heard.end()
  })

  it('rulings given at once on both are put in a row, without gaps', async () => {
    const followers: Follower[] = [follower(id(), app.url), follower(id(), other.url)]
    const answers = await Promise.all(
      Array.from({ length: 20 }, (_, i) => ask(i % 2 === 0 ? app.url : other.url, `/api/projects/${id()}/ledger`, rename(`Bay${i}`))),
    )
    expect(answers.map((a) => a.status)).toEqual(answers.map(() => 200))
    for (const f of followers) await eventually('all entries', async () => f.ledger.size === 22)
    expect([...(followers[0] as Follower).ledger.keys()].sort((a, b) => a - b)).toEqual(Array.from({ length: 22 }, (_, i) => i + 1))
    expect(new Map([...(followers[0] as Follower).ledger].sort())).toEqual(new Map([...(followers[1] as Follower).ledger].sort()))
    for (const f of followers) f.end()
  })
})

describe('a ledger file', () => {
  it('goes out on one server and into another project on the other, as a person does it', async () => {
    await page.goto(`${app.url}/p/${id()}/ledger`)
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: 'Download' }).click()])
    expect(download.suggestedFilename()).toBe(`${id()}.ledger.jsonl`)
    const text = readFileSync(await download.path(), 'utf8')
    expect(text.trim().split('\n')).toHaveLength(23)
    const copy = await fromScript(page, 'Depots again', schema, other.url)
    await page.goto(`${copy}/ledger`)
    const take = (content: string) =>
      page.getByLabel('Take in').setInputFiles({ name: 'a.ledger.jsonl', mimeType: 'application/x-ndjson', buffer: Buffer.from(content) })
    await take(text)
    await page.getByText('22 entries were taken in.').waitFor()
    await page.getByRole('link', { name: 'Ledger 22' }).waitFor()
    expect((await ask<{ entries: unknown }>(other.url, `${new URL(copy).pathname.replace('/p/', '/api/projects/')}/ledger`)).body.entries).toEqual(
      (await ask<{ entries: unknown }>(app.url, `/api/projects/${id()}/ledger`)).body.entries,
    )
    await take(text)
    await page.getByText('All of that file stands here already.').waitFor()
    await take(text.replace('Berth', 'Quay'))
    await page.getByText('entry 1 of this ledger is another one than in the file').waitFor()
    await take(`${text}{"seq":99}\n`)
    await page.getByText('line 24 of the file is not a ledger entry').waitFor()
  })
})

describe('two workers', () => {
  it('do each job once, and one that is killed leaves the rest to the other', async () => {
    const second = app.anotherWorker()
    const made = await Promise.all(
      Array.from({ length: 6 }, async (_, i) => {
        const db = await makeDatabase('create table bay (id int primary key)')
        sources.push(db)
        const answer = await ask<{ id: string }>(i % 2 === 0 ? app.url : other.url, '/api/projects', { name: `Depot ${i}`, source: { by: 'url', url: db.url } })
        expect(answer.status, JSON.stringify(answer.body)).toBe(200)
        return answer.body.id
      }),
    )
    const states = async () =>
      (await rowsOf<{ state: string }>(app.database, 'select state from pelvok.job where project_id = any ($1)', [made])).map((r) => r.state)
    await eventually('one that is done', async () => (await states()).includes('done'))
    second.kill('SIGKILL')
    await eventually('the end of all', async () => (await states()).every((s) => s === 'done' || s === 'failed'))
    const jobs = await rowsOf<{ project_id: string; state: string; error: string | null }>(
      app.database,
      'select project_id, state, error from pelvok.job where project_id = any ($1)',
      [made],
    )
    expect(jobs).toHaveLength(6)
    // One was perhaps under way when its worker died: it is told, and can be started again.
    const interrupted = jobs.filter((j) => j.state === 'failed')
    expect(interrupted.length).toBeLessThanOrEqual(1)
    for (const j of interrupted) {
      expect(j.error).toContain('interrupted')
      expect((await ask(other.url, `/api/projects/${j.project_id}/jobs`, { kind: 'survey' })).status).toBe(200)
    }
    await eventually(
      'a survey of each',
      async () => (await rowsOf(app.database, 'select distinct project_id from pelvok.survey where project_id = any ($1)', [made])).length === 6,
    )
    const surveys = await rowsOf<{ n: number }>(app.database, 'select count(*)::int as n from pelvok.survey where project_id = any ($1) group by project_id', [
      made,
    ])
    expect(surveys.map((s) => s.n)).toEqual([1, 1, 1, 1, 1, 1])
  })
})

describe('sign-in', () => {
  it('holds on every server, and ends on every one', async () => {
    const owner = { name: 'Mara', role: 'owner', password: 'a long enough password' }
    expect((await ask(app.url, '/api/accounts', owner)).status).toBe(200)
    expect((await ask(other.url, `/p/${id()}/ledger`)).status).toBe(307)
    const { status, cookies } = await ask(app.url, '/api/sign-in', { name: owner.name, password: owner.password }, '')
    expect(status).toBe(200)
    expect((await ask(other.url, `/api/projects/${id()}/ledger`, undefined, cookies)).status).toBe(200)
    expect((await ask(other.url, '/api/sign-out', {}, cookies)).status).toBe(200)
    expect((await ask(app.url, `/api/projects/${id()}/ledger`, undefined, cookies)).status).toBe(401)
  })
})

describe('a web server that is killed', () => {
  it('takes nothing with it: the other has all, and goes on', async () => {
    const cookies = (await ask(other.url, '/api/sign-in', { name: 'Mara', password: 'a long enough password' }, '')).cookies
    app.web.kill('SIGKILL')
    await eventually('its end', async () => (await fetch(app.url).catch(() => null)) === null)
    expect((await ask(other.url, `/api/projects/${id()}/ledger`, rename('Quay'), cookies)).status).toBe(200)
    const { body } = await ask<{ entries: readonly unknown[] }>(other.url, `/api/projects/${id()}/ledger`, undefined, cookies)
    expect(body.entries).toHaveLength(23)
  })
})
