// A page in Chromium as a person has it, and what it complained about.
import { type Browser, type BrowserContext, chromium, type Page } from 'playwright-core'
import { appUrl, eventually } from './app.ts'

export interface Visit {
  readonly browser: Browser
  readonly page: Page
  /** Faults in the console; answers that refuse are none. */
  readonly complaints: readonly string[]
}

/** `name`: who signs; null for somebody who was never asked; `at`: of which Pelvok. Waits until the web server answers. */
export async function visit(name: string | null, at = appUrl): Promise<Visit> {
  await eventually('the web server', async () => (await fetch(at).catch(() => null))?.ok)
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--disable-gpu',
      '--disable-quic',
      '--no-first-run',
      '--disable-background-networking',
      '--disable-component-update',
      '--disable-sync',
    ],
  })
  const context: BrowserContext = await browser.newContext({ viewport: { width: 1280, height: 800 }, acceptDownloads: true, reducedMotion: 'reduce' })
  if (name !== null) await context.addCookies([{ name: 'pelvok-name', value: name, url: at }])
  // A guard against waiting forever, not a time that anything has to take.
  context.setDefaultTimeout(180_000)
  const page = await context.newPage()
  const complaints: string[] = []
  page.on('pageerror', (e) => complaints.push(e.message))
  page.on('console', (m) => {
    if (m.type() === 'error' && !/status of (4\d\d)/.test(m.text())) complaints.push(m.text())
  })
  return { browser, page, complaints }
}

/** Nothing moves or fades any more: colours are what they will be (Web Animations, 4.4). */
export const settled = (p: Page): Promise<unknown> => p.evaluate(() => Promise.allSettled(document.getAnimations().map((a) => a.finished)))

/** Holds requests to these addresses until the function that is given back is called: what is done meanwhile is done before they are answered. */
export async function held(p: Page, address: string): Promise<() => Promise<void>> {
  let go = () => {}
  const open = new Promise<void>((resolve) => {
    go = resolve
  })
  await p.route(address, async (route) => {
    await open
    await route.continue()
  })
  return async () => {
    go()
    // Those that wait are let through first: one whose route is gone would be answered twice.
    await p.unrouteAll({ behavior: 'wait' })
  }
}

/** A project read from a script, made as a person makes it; its address. */
export async function fromScript(p: Page, name: string, text: string, at = appUrl, file = 'a.sql'): Promise<string> {
  await p.goto(`${at}/projects/new`)
  await p.getByLabel('Name', { exact: true }).fill(name)
  await p.setInputFiles('input[type=file] >> nth=0', { name: file, mimeType: 'text/plain', buffer: Buffer.from(text) })
  await p.getByText(/understood/).waitFor()
  await p.getByRole('button', { name: 'Make the project', exact: true }).click()
  await p.waitForURL(/\/p\/[^/]+\/source$/)
  return p.url().replace(/\/source$/, '')
}
