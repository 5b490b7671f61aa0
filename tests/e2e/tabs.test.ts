// Several tabs of one browser on one project: one event stream for all, rulings on every one, and the bar says what the docket says.
import type { Browser, Page, Request } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { fromScript, visit } from '../support/browser.ts'

let browser: Browser
let first: Page
let complaints: readonly string[]
let project = ''
/** Requests by the path they went to, of all tabs. */
/** Event streams that are open. */
const streams = new Set<Request>()
const asked: { readonly page: Page; readonly method: string; readonly path: string }[] = []
const schema = [
  'create table bay (id int primary key, label text);',
  'create table crate (id int primary key, bay_id int, lid_id int);',
  'create table lid (id int primary key, bay_id int references bay);',
].join('\n')

const watched = (page: Page) => {
  const isStream = (r: Request) => new URL(r.url()).pathname.endsWith('/events')
  page.on('request', (r) => {
    asked.push({ page, method: r.method(), path: new URL(r.url()).pathname })
    if (isStream(r)) streams.add(r)
  })
  page.on('requestfailed', (r) => streams.delete(r))
  page.on('requestfinished', (r) => streams.delete(r))
  page.on('close', () => {
    for (const r of streams) if (r.frame().page() === page) streams.delete(r)
  })
  return page
}
const open = async (page: Page) => {
  await page.goto(`${project}/review?at=${encodeURIComponent('entity:public.bay')}`)
  await page.getByRole('region', { name: 'Evidence' }).getByText('becomes the class').waitFor()
  return page
}
const plate = (page: Page, name: string) => page.locator('.plate[data-id="public.bay"] .name').getByText(name, { exact: true })
const rename = async (page: Page, name: string) => {
  await page.keyboard.press('m')
  const field = page.getByLabel(/^New name for/)
  await field.fill(name)
  await field.press('Enter')
  await plate(page, name).waitFor()
}

beforeAll(async () => {
  ;({ browser, page: first, complaints } = await visit('Mara'))
  project = await fromScript(first, 'Depots in tabs', schema)
  watched(first)
})
afterAll(async () => {
  await browser?.close()
})

describe('eight tabs on one review', () => {
  const tabs: Page[] = []
  it('all open, over one event stream', async () => {
    tabs.push(await open(first))
    while (tabs.length < 8) tabs.push(await open(watched(await first.context().newPage())))
    expect(streams.size).toBe(1)
  })
  it('a ruling on one is seen on all, and no other tab asks for it', async () => {
    const before = asked.length
    await rename(tabs[3] as Page, 'Berth')
    for (const t of tabs) await plate(t, 'Berth').waitFor()
    const since = asked.slice(before)
    expect(since.filter((r) => r.path.endsWith('/ledger')).map((r) => [r.page === tabs[3], r.method])).toEqual([[true, 'POST']])
  })
  it('a ruling is one request: no page is loaded anew for it, and no stage', async () => {
    const before = asked.length
    await rename(tabs[5] as Page, 'Slip')
    for (const t of tabs) await plate(t, 'Slip').waitFor()
    expect(asked.slice(before).map((r) => `${r.method} ${r.path.replace(/\/p\/[^/]+|projects\/[^/]+/, '')}`)).toEqual(['POST /api//ledger'])
  })
  it('where the tab that leads is closed another one does, and nothing is missed', async () => {
    await first.close()
    await expect.poll(() => streams.size).toBe(1)
    expect([...streams].every((r) => r.frame().page() !== first)).toBe(true)
    await rename(tabs[6] as Page, 'Dock')
    for (const t of tabs.slice(1)) await plate(t, 'Dock').waitFor()
  })
  it('the bar says what the docket says, at every moment', async () => {
    const page = tabs[1] as Page
    await page.addInitScript(() => {
      const seen: string[] = []
      ;(window as unknown as { seen: string[] }).seen = seen
      const look = () => {
        const bar = /(\d+) open/.exec(document.querySelector('nav[aria-label="Stages"]')?.textContent ?? '')?.[1] ?? '0'
        const docket = [...document.querySelectorAll('button')].map((b) => /^waiting (\d+)$/.exec(b.textContent ?? '')?.[1]).find((n) => n !== undefined)
        if (docket !== undefined && document.querySelector('.strata .plate') && docket !== bar) seen.push(`${bar} in the bar, ${docket} in the docket`)
      }
      new MutationObserver(look).observe(document, { childList: true, subtree: true, characterData: true })
    })
    await open(page)
    await page.goto(`${project}/review?at=${encodeURIComponent('reference:public.crate(bay_id)')}`)
    await page.getByRole('region', { name: 'Evidence' }).getByText('crate').first().waitFor()
    await page.getByRole('button', { name: /^relationships/ }).click()
    await page.keyboard.press('x')
    await page.getByText('✕ rejected').first().waitFor()
    await page.keyboard.press('u')
    await page.getByText('✕ rejected').first().waitFor({ state: 'detached' })
    expect(await page.evaluate(() => (window as unknown as { seen: string[] }).seen)).toEqual([])
  })
  it('nothing was complained about in the console', () => {
    expect(complaints).toEqual([])
  })
})
