// Accounts: the first one, what each role may do, and what somebody who did not sign in gets to see. On a store of its own.
import { readFileSync } from 'node:fs'
import { get } from 'node:http'
import axe from 'axe-core'
import type { Browser, Page } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { fromScript, visit } from '../support/browser.ts'
import { type OwnApp, ownApp } from '../support/ownApp.ts'
import { rowsOf } from '../support/server.ts'

let app: OwnApp
const people: { readonly browser: Browser; readonly page: Page }[] = []
const person = async (): Promise<Page> => {
  const one = await visit(null, app.url)
  people.push(one)
  return one.page
}
const words = { Mara: 'nine brass lanterns', Jon: 'a quiet orchard lane', Rae: 'seven copper kettles' }

async function signIn(page: Page, name: string, password: string): Promise<void> {
  await page.getByLabel('Name', { exact: true }).fill(name)
  await page.getByLabel('Password', { exact: true }).fill(password)
  await page.getByRole('button', { name: 'Sign in' }).click()
}
const call = (path: string, body?: unknown, headers: Readonly<Record<string, string>> = {}) =>
  fetch(`${app.url}${path}`, {
    redirect: 'manual',
    ...(body === undefined ? { headers } : { method: 'POST', headers: { 'content-type': 'application/json', ...headers }, body: JSON.stringify(body) }),
  })
/** Browsers send the name they were led here by. */
const statusAs = (host: string) =>
  new Promise<number>((resolve, reject) => {
    get(`${app.url}/sign-in`, { headers: { host } }, (answer) => resolve(answer.resume().statusCode ?? 0)).on('error', reject)
  })
const lit = (page: Page) => page.getByRole('region', { name: 'Docket' }).locator('[aria-current="true"]')
const asPerson = (page: Page, path: string, body: unknown) =>
  page.evaluate(
    async ([to, text]) => (await fetch(to as string, { method: 'POST', headers: { 'content-type': 'application/json' }, body: text as string })).status,
    [path, JSON.stringify(body)],
  )

/** Nobody gets in, and nobody makes an account. */
async function isShut(env: Readonly<Record<string, string>>): Promise<void> {
  const open = await ownApp({ env })
  try {
    for (const path of ['/', '/accounts', '/api/projects']) expect([path, (await fetch(`${open.url}${path}`)).status]).toEqual([path, 403])
    const made = await fetch(`${open.url}/api/accounts`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ name: 'Eve', role: 'owner', password: words.Mara }),
    })
    expect([made.status, await rowsOf(open.database, 'select from pelvok.account')]).toEqual([403, []])
  } finally {
    await open.end()
  }
}

let mara: Page
let project = ''

beforeAll(async () => {
  app = await ownApp()
  mara = await person()
})
afterAll(async () => {
  for (const p of people) await p.browser.close()
  await app?.end()
})

describe('sign-in', () => {
  it('is refused beyond this machine while there is no account', () => {
    expect(app.boot('--elsewhere')).toMatchObject({ status: 2, said: expect.stringMatching(/no account yet.*\/accounts/s) })
    expect(app.boot()).toEqual({ status: 0, said: '' })
  })

  it('lets nobody in where it listens beyond this machine and its accounts are gone, whatever address a request names', async () => {
    for (const env of [{ PELVOK_LISTEN: '0.0.0.0', PELVOK_URL: 'http://office.example:PORT' }, { PELVOK_URL: 'https://office.example' }]) await isShut(env)
  })

  it('begins with the first account, which is an owner’s', async () => {
    await mara.goto(`${app.url}/accounts`)
    await mara.getByText('Nobody signs in').waitFor()
    await mara.getByLabel('Name', { exact: true }).fill('Mara')
    await mara.getByLabel('Password', { exact: true }).fill('short')
    await mara.getByRole('button', { name: 'Make the account' }).click()
    expect(await mara.getByLabel('Password', { exact: true }).evaluate((x: HTMLInputElement) => x.validity.tooShort)).toBe(true)
    await mara.getByLabel('Password', { exact: true }).fill(words.Mara)
    await mara.getByRole('button', { name: 'Make the account' }).click()
    await mara.getByRole('cell', { name: 'Mara (you)' }).waitFor()
    expect(app.boot('--elsewhere')).toEqual({ status: 0, said: '' })
    const [kept] = await rowsOf<{ text: string }>(app.database, 'select a::text || s::text as text from pelvok.account a, pelvok.session s')
    const [cookie] = await mara.context().cookies()
    expect(cookie).toMatchObject({ name: 'pelvok-session', httpOnly: true, sameSite: 'Strict' })
    expect(kept?.text).not.toContain(words.Mara)
    expect(kept?.text).not.toContain(cookie?.value ?? '?')
    project = new URL(await fromScript(mara, 'Office', readFileSync('demo/schema.sql', 'utf8'), app.url)).pathname
  })

  it('shows nothing to who did not sign in, and changes nothing for them', async () => {
    for (const path of ['/', project, `${project}/ledger`, '/accounts', '/projects/new'])
      expect([path, (await call(path)).status, (await call(path)).headers.get('location')]).toEqual([path, 307, expect.stringContaining('/sign-in')])
    const hash = await rowsOf<{ hash: string }>(app.database, 'select hash from pelvok.snapshot')
    for (const path of [
      `/api/snapshots/${hash[0]?.hash}`,
      `/api${project.replace('/p/', '/projects/')}/events`,
      `/api${project.replace('/p/', '/projects/')}/report.md`,
      `/api${project.replace('/p/', '/projects/')}/plan-map?which=draft`,
      `/api${project.replace('/p/', '/projects/')}/plans/steps?number=1`,
    ])
      expect([path, (await call(path)).status]).toEqual([path, 401])
    for (const path of ['/api/accounts', '/api/projects', '/api/scripts?file=a.sql', '/api/name', `/api${project.replace('/p/', '/projects/')}/ledger`])
      expect([path, (await call(path, {})).status]).toEqual([path, 401])
    expect((await call('/api/accounts', {}, { cookie: `pelvok-session=${'x'.repeat(43)}` })).status).toBe(401)
    // A name made to lead here, and a page of another site.
    expect(await statusAs('attacker.example')).toBe(403)
    expect(await statusAs(new URL(app.url).host)).toBe(200)
    expect((await call('/api/sign-in', { name: 'Mara', password: words.Mara }, { origin: 'https://attacker.example' })).status).toBe(403)
  })

  it('gives each role what it is for: a reader reads, a reviewer rules', async () => {
    await mara.goto(`${app.url}/accounts`)
    for (const [name, role] of [
      ['Jon', 'reviewer'],
      ['Rae', 'reader'],
    ] as const) {
      const form = mara.getByRole('form', { name: 'New account' })
      await form.getByLabel('Name', { exact: true }).fill(name)
      await form.getByLabel('Password', { exact: true }).fill(words[name])
      await form.getByLabel('Role').selectOption(role)
      await form.getByRole('button').click()
      await mara.getByText(`${name} can sign in.`).waitFor()
    }
    const [jon, rae] = [await person(), await person()]
    for (const [page, name] of [
      [jon, 'Jon'],
      [rae, 'Rae'],
    ] as const) {
      await page.goto(`${app.url}${project}/review`)
      await page.waitForURL(/sign-in\?to=/)
      await signIn(page, name.toLowerCase(), words[name])
      await page.locator('.strata .plate').first().waitFor()
      expect(new URL(page.url()).pathname).toBe(`${project}/review`)
    }
    // One after the other: what one of them rules on leaves the other's list.
    for (const page of [jon, rae]) {
      await page.getByRole('button', { name: /^waiting/ }).click()
      await page.keyboard.press('j')
      await lit(page).waitFor()
      await page.keyboard.press('a')
      for (const each of [jon, rae]) await each.getByRole('link', { name: 'Ledger 1' }).waitFor()
    }
    await rae.getByText(/for the role reviewer, and you are a reader/i).waitFor()
    const [entry] = await rowsOf<{ by: string; n: number }>(app.database, 'select min(by) as by, count(*)::int as n from pelvok.ledger')
    expect(entry).toEqual({ by: 'Jon', n: 1 })
    const api = `/api${project.replace('/p/', '/projects/')}`
    expect(await asPerson(rae, `${api}/look`, {})).toBe(403)
    for (const page of [jon, rae]) expect(await asPerson(page, '/api/accounts', { name: 'Eve', role: 'owner', password: words.Mara })).toBe(403)
    await rae.goto(app.url)
    await rae.getByRole('link', { name: /Office/ }).waitFor()
    expect(await rae.getByRole('link', { name: 'New project' }).count()).toBe(0)
  })

  it('a new role counts at once; who is removed is out; the only owner stays', async () => {
    const [, jon, rae] = people.map((p) => p.page) as [Page, Page, Page]
    await mara.getByLabel('Role of Rae').selectOption('reviewer')
    await mara.getByText('Rae is reviewer now.').waitFor()
    await rae.goto(`${app.url}${project}/review`)
    await rae.locator('.strata .plate').first().waitFor()
    await rae.getByRole('button', { name: /^waiting/ }).click()
    await rae.keyboard.press('j')
    await lit(rae).waitFor()
    await rae.keyboard.press('a')
    await rae.getByRole('link', { name: 'Ledger 2' }).waitFor()
    await mara.getByRole('row', { name: /Jon/ }).getByRole('button', { name: 'Remove' }).click()
    await mara.getByRole('button', { name: 'Remove Jon' }).click()
    await mara.getByText('Jon was removed.').waitFor()
    await jon.goto(`${app.url}${project}/ledger`)
    await jon.waitForURL(/sign-in/)
    await mara.getByLabel('Role of Mara').selectOption('reader')
    await mara.getByText(/this is the only owner/i).waitFor()
    expect(await mara.getByLabel('Role of Mara').inputValue()).toBe('owner')
  })

  it('a new password ends other sessions, and signing out this one', async () => {
    const rae = people[2]?.page as Page
    const elsewhere = await person()
    await elsewhere.goto(app.url)
    await signIn(elsewhere, 'Rae', words.Rae)
    await elsewhere.getByRole('link', { name: /Office/ }).waitFor()
    await rae.goto(`${app.url}/accounts`)
    expect(await rae.getByRole('cell').count()).toBe(0)
    await rae.getByLabel('Old one').fill('not this one')
    await rae.getByLabel('New one').fill('a new set of words')
    await rae.getByRole('button', { name: 'Change it' }).click()
    await rae.getByText(/the old password is another one/i).waitFor()
    await rae.getByLabel('Old one').fill(words.Rae)
    await rae.getByRole('button', { name: 'Change it' }).click()
    await rae.getByText('You have a new password').waitFor()
    await elsewhere.reload()
    await elsewhere.waitForURL(/sign-in/)
    const cookies = await rae.context().cookies()
    await rae.getByTitle('Who is signed in').click()
    await rae.getByRole('button', { name: 'Sign out' }).click()
    await rae.waitForURL(/sign-in/)
    const cookie = cookies.map((c) => `${c.name}=${c.value}`).join('; ')
    expect((await call('/', undefined, { cookie })).status).toBe(307)
  })

  it('wrong passwords are refused alike whether the name is known or not, and only so often', async () => {
    const page = await person()
    await page.goto(`${app.url}/sign-in?to=//attacker.example`)
    await page.evaluate(axe.source)
    const faults = await page.evaluate(async () => (await (window as unknown as { axe: typeof axe }).axe.run()).violations)
    expect(faults.filter((v) => v.impact === 'serious' || v.impact === 'critical').map((v) => v.id)).toEqual([])
    await signIn(page, 'Rae', 'wrong')
    await page.getByText(/no account has this name and this password/i).waitFor()
    const answers = async (name: string, n: number) => {
      const given = await Promise.all(Array.from({ length: n }, () => call('/api/sign-in', { name, password: 'wrong' })))
      return given.map((r) => r.status).sort()
    }
    expect(await answers('nobody', 12)).toEqual([...Array(10).fill(401), 429, 429])
    expect(await answers('Rae', 11)).toEqual([...Array(9).fill(401), 429, 429])
    await signIn(page, 'Rae', 'a new set of words')
    await page.getByText(/too many attempts/i).waitFor()
    // Who is known to have been let in under the name is kept out by nobody else's attempts, and neither is another address.
    const elsewhere = { 'x-forwarded-for': '198.51.100.7' }
    const given = await call('/api/sign-in', { name: 'Rae', password: 'a new set of words' }, elsewhere)
    expect(given.status).toBe(200)
    const device =
      given.headers
        .getSetCookie()
        .find((c) => c.startsWith('pelvok-device-'))
        ?.split(';')[0] ?? ''
    expect((await call('/api/sign-in', { name: 'Rae', password: 'a new set of words' }, { cookie: device })).status).toBe(200)
    expect((await call('/api/sign-in', { name: 'Mara', password: words.Mara }, { cookie: device.replace(/=.*/, '=forged') })).status).toBe(200)
    await signIn(page, 'Mara', words.Mara)
    await page.getByRole('link', { name: /Office/ }).waitFor()
    expect(page.url()).toBe(`${app.url}/`)
  })
})
