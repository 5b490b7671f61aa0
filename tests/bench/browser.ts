// npm run bench:browser -- [FILE.sql ...]: how long a person waits in Chromium, beside a page of as many plain shapes. Medians of five, milliseconds.
import { readFileSync } from 'node:fs'
import { basename } from 'node:path'
import { chromium, type Page } from 'playwright-core'
import { ownApp } from '../support/ownApp.ts'

const rounds = 5
const median = (list: readonly number[]) => list.toSorted((a, b) => a - b)[Math.floor(list.length / 2)] as number

interface Watched {
  tasks: number[]
  /** By the page's own clock: the last click, and two frames after a map was there first. */
  clicked: number
  mapped: number
}

/** Tasks of the page's own thread of 50 ms and more (Long Tasks API), in the order they came; when it was clicked, and when a map was drawn. */
const watch = (page: Page) =>
  page.addInitScript(() => {
    const w = window as unknown as Watched
    w.tasks = []
    w.mapped = 0
    document.addEventListener(
      'click',
      () => {
        w.clicked = performance.now()
      },
      true,
    )
    new MutationObserver((_, observer) => {
      if (!document.querySelector('.strata [data-block], .strata .plates')) return
      observer.disconnect()
      requestAnimationFrame(() =>
        requestAnimationFrame(() => {
          w.mapped = performance.now()
        }),
      )
    }).observe(document, { subtree: true, childList: true })
    new PerformanceObserver((list) => {
      for (const e of list.getEntries()) w.tasks.push(Math.round(e.duration))
    }).observe({ entryTypes: ['longtask'] })
  })
const longest = (page: Page): Promise<number> =>
  page.evaluate(() => {
    const w = window as unknown as Watched
    const most = Math.max(0, ...w.tasks)
    w.tasks = []
    return most
  })
/** Two frames after what was asked for is there, all of it is drawn. */
const drawn = (page: Page) => page.evaluate(() => new Promise((go) => requestAnimationFrame(() => requestAnimationFrame(go))))

async function timed(work: () => Promise<unknown>): Promise<number> {
  const started = performance.now()
  await work()
  return performance.now() - started
}

/** As many rectangles and texts as the desk has elements when it is open, set at once. */
async function plainPage(page: Page, shapes: number): Promise<number> {
  await page.goto('about:blank')
  return timed(async () => {
    await page.evaluate((n) => {
      const one = (i: number) =>
        `<rect x="${(i % 40) * 16}" y="${Math.floor(i / 40) * 12}" width="14" height="10"/><text x="${(i % 40) * 16}" y="${Math.floor(i / 40) * 12}">t${i}</text>`
      document.body.innerHTML = `<svg width="640" height="660">${Array.from({ length: n / 2 }, (_, i) => one(i)).join('')}</svg>`
    }, shapes)
    await drawn(page)
  })
}

async function bench(file: string): Promise<void> {
  const answer = await fetch(
    `${app.url}/api/scripts?${new URLSearchParams({ name: basename(file, '.sql'), dialect: 'postgresql', file: basename(file), project: '' })}`,
    {
      method: 'POST',
      body: readFileSync(file, 'utf8'),
    },
  )
  const { project } = (await answer.json()) as { project: string }
  const figures: Record<string, number[]> = {}
  const note = (what: string, value: number) => {
    figures[what] = [...(figures[what] ?? []), value]
  }
  for (let round = -1; round < rounds; round += 1) {
    const page = await context.newPage()
    await watch(page)
    await page.goto(`${app.url}/p/${project}/source`)
    await page.getByRole('link', { name: /^Review/ }).waitFor()
    await page.waitForLoadState('networkidle')
    await longest(page)
    const docket = page.getByRole('region', { name: 'Docket' })
    await page.getByRole('link', { name: /^Review/ }).click()
    const open = await page.evaluate(
      () =>
        new Promise<number>((done) => {
          const w = window as unknown as Watched
          const look = () => (w.mapped > 0 ? done(w.mapped - w.clicked) : setTimeout(look, 20))
          look()
        }),
    )
    const shapes = await page.locator('*').count()
    const opening = await longest(page)
    const whole = open + (await timed(() => docket.getByText(/\d+ shown$/).waitFor()))
    await page.keyboard.press('j')
    await docket.locator('[aria-current="true"]').waitFor()
    await page
      .getByRole('region', { name: 'Evidence' })
      .getByRole('button', { name: /Accept/ })
      .waitFor()
    const behind = await longest(page)
    const ledger = page.getByRole('link', { name: /^Ledger/ })
    const before = await ledger.textContent()
    const ruling = await timed(async () => {
      await page.keyboard.press('a')
      await page.waitForFunction((was) => [...document.querySelectorAll('a')].some((a) => a.textContent.startsWith('Ledger') && a.textContent !== was), before)
      await drawn(page)
    })
    const afterRuling = await longest(page)
    await page.keyboard.press('u')
    await page.waitForLoadState('networkidle')
    const acting: number[] = [await longest(page)]
    for (const key of ['o', 'o', 'f', 'Escape', 'j', 'k']) {
      await page.keyboard.press(key)
      await drawn(page)
      await page.waitForTimeout(150)
      acting.push(await longest(page))
    }
    await page.getByLabel('Search the docket').pressSequentially('id', { delay: 60 })
    await drawn(page)
    acting.push(await longest(page))
    const limit = await plainPage(page, shapes)
    await page.close()
    if (round < 0) continue
    note('open', open)
    note('opening', opening)
    note('whole', whole)
    note('behind', behind)
    note('ruling', ruling)
    note('afterRuling', afterRuling)
    note('acting', Math.max(...acting))
    note('limit', limit)
    note('shapes', shapes)
  }
  const m = (what: string) => Math.round(median(figures[what] as number[]))
  console.log(
    `${basename(file).padEnd(12)} plates after ${m('open')}, all rows after ${m('whole')}, a ruling ${m('ruling')}; longest task until plates ${m('opening')}, behind them ${m('behind')}, after a ruling ${m('afterRuling')}, search, sheet, focus and select ${m('acting')}; ${m('shapes')} elements, as plain shapes ${m('limit')} (× ${(m('open') / m('limit')).toFixed(1)})`,
  )
}

const app = await ownApp()
const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu'] })
const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
await context.addCookies([{ name: 'pelvok-name', value: 'Mara', url: app.url }])
const given = process.argv.slice(2)
for (const file of given.length > 0 ? given : ['demo/schema.sql', ...['a', 'b', 'c', 'd'].map((n) => `../shared/large/${n}.sql`)]) await bench(file)
await browser.close()
await app.end()
