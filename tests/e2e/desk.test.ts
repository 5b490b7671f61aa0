// In Chromium, as a person who spends the day there: the docket laid out, the map walked, a place kept, other people's work told.
import { readFileSync } from 'node:fs'
import axe from 'axe-core'
import type { Browser, Page } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { appUrl } from '../support/app.ts'
import { fromScript, held, settled, visit } from '../support/browser.ts'
import { rowsOf } from '../support/server.ts'

let browser: Browser
let page: Page
let complaints: readonly string[] = []
let project = ''

const docketOf = (p: Page) => p.getByRole('region', { name: 'Docket' })
const docket = () => docketOf(page)
const evidence = () => page.getByRole('region', { name: 'Evidence' })
const map = () => page.getByRole('region', { name: 'Strata map' })
const open = async (p: Page, path = '') => {
  await p.goto(`${project}/review${path}`)
  await p.locator('.strata .plate').first().waitFor()
}
/** Where somebody is in the review, as it is kept. */
const placeOf = async (person: string): Promise<string> => {
  const store = new URL(process.env['DATABASE_URL'] ?? '').pathname.slice(1)
  return (await rowsOf<{ place: string }>(store, 'select place from pelvok.visit where person = $1', [person]))[0]?.place ?? ''
}
const lit = () => docket().locator('[aria-current="true"]')

beforeAll(async () => {
  ;({ browser, page, complaints } = await visit('Mara'))
  project = await fromScript(page, 'Desk', readFileSync('demo/schema.sql', 'utf8'))
})
afterAll(async () => {
  await browser?.close()
})

describe('the way to the review', () => {
  it('what is shown first is asked for with the click, once, while the page is still on its way', async () => {
    await page.goto(`${project}/source`)
    const asked: string[] = []
    page.on('request', (r) => r.url().includes('/first/') && asked.push(r.url()))
    const release = await held(page, '**/review?_rsc=*')
    await page.getByRole('link', { name: /^Review/ }).click()
    await expect.poll(() => asked.length).toBe(1)
    await release()
    await page.locator('.strata .plate').first().waitFor()
    expect(asked).toHaveLength(1)
  })
})

describe('the docket', () => {
  it('keys typed ahead act one after the other, each on what the one before it came to', async () => {
    await open(page)
    await docket()
      .getByRole('button', { name: /^waiting/ })
      .click()
    await page.keyboard.press('j')
    await lit().waitFor()
    const first = await evidence().locator('p.db').first().textContent()
    const release = await held(page, '**/ledger')
    for (const key of ['a', 'a', 'u', 'u']) await page.keyboard.press(key)
    await release()
    await page.getByRole('link', { name: 'Ledger 4' }).waitFor()
    await page.getByRole('link', { name: 'Ledger 4' }).click()
    await page.getByText('took back entry').first().waitFor()
    const said = await page.getByRole('listitem').allTextContents()
    const accepted = said.flatMap((s) => /accepted (\S+?)what it changed/.exec(s)?.[1] ?? [])
    expect(new Set(accepted).size).toBe(2)
    expect(accepted.some((id) => id?.includes(first?.trim() ?? '-'))).toBe(true)
  })

  it('is narrowed, grouped and searched, and stands as it was after a reload', async () => {
    await open(page)
    await docket()
      .getByRole('button', { name: /^relationships/ })
      .click()
    await docket().getByText('Narrow to').click()
    await docket().getByLabel('Narrow by area').selectOption('Hives')
    await docket().getByLabel('Narrow by kind').selectOption('references')
    await docket().getByLabel('Order').selectOption('by table')
    await docket()
      .getByRole('heading', { name: /field.queen/ })
      .waitFor()
    expect(await docket().getByRole('heading', { name: /coop/ }).count()).toBe(0)
    await page.keyboard.press('j')
    await page.keyboard.press('j')
    const chosen = await lit().textContent()
    // The evidence follows the row, and the place both.
    const subject = async () => (await evidence().locator('p.db').first().textContent())?.trim() ?? '-'
    await expect.poll(async () => (await placeOf('Mara')).includes(await subject())).toBe(true)
    await page.goto(`${project}/code`)
    await open(page)
    expect(await docket().getByLabel('Narrow by area').inputValue()).toBe('Hives')
    await expect.poll(() => lit().textContent()).toBe(chosen)
    await docket().getByRole('button', { name: 'All again' }).click()
    await docket().getByLabel('Order').selectOption('riskiest first')
  })

  it('leads back to where one was, from wherever a question led', async () => {
    const chosen = await lit().textContent()
    await page.getByRole('button', { name: 'Fit' }).click()
    await page.locator('.strata .plate[data-id="coop.season"]').click()
    await evidence().getByText('becomes the class').waitFor()
    await docket().getByText('Back to where I was').waitFor()
    await page.keyboard.press('p')
    await expect.poll(() => lit().textContent()).toBe(chosen)
  })

  it('tells at the next visit what somebody else did, and shows it', async () => {
    await page.keyboard.press('d')
    const day = page.getByRole('region', { name: 'Day' })
    await day.getByRole('row', { name: /Hives/ }).waitFor()
    const sure = day.getByLabel('Proposals that are')
    const told = Number(/(\d+) would wait/.exec((await sure.getByRole('option', { name: /^1\.00/ }).textContent()) ?? '')?.[1])
    await sure.selectOption({ value: '1' })
    await day.getByText('Set by Mara').waitFor()
    const waiting = docket().getByRole('button', { name: /^waiting/ })
    await expect.poll(async () => Number(/\d+/.exec((await waiting.textContent()) ?? '')?.[0])).toBe(told)
    await page.keyboard.press('u')
    await day.getByText('As every project begins').waitFor()
    await day.getByRole('button', { name: 'Stop here' }).click()
    await day.getByText(/Stopped at entry/).waitFor()
    const other = await visit('Jon')
    await open(other.page, '?at=join-table%3Acoop.committee_member')
    // What is ruled on is no part of the docket that he begins with: what waits.
    await docketOf(other.page)
      .getByRole('button', { name: /^relationships/ })
      .click()
    await docketOf(other.page).locator('[aria-current="true"]').waitFor()
    await other.page.keyboard.press('a')
    await docketOf(other.page).getByText('accepted, Jon').waitFor()
    await other.browser.close()
    await page.goto(`${project}/code`)
    await open(page)
    await page.keyboard.press('d')
    await day.getByText('Jon: 1 entry').waitFor()
    await day.getByRole('button', { name: 'Show the finding they are about' }).click()
    await expect
      .poll(() =>
        docket()
          .getByText(/1 shown/)
          .count(),
      )
      .toBe(1)
    await docket().getByText('accepted, Jon').waitFor()
    await docket().getByRole('button', { name: 'All again' }).click()
  })
})

describe('the map', () => {
  /** Lines that are drawn, and those in bundles between areas. */
  const linesInAll = async () =>
    (await map().locator('.line:not(.across)').count()) +
    (await map().locator('.bundle title').allTextContents()).reduce((n, says) => n + Number.parseInt(says, 10), 0)

  it('has hubs in a block of their own, marks for what refers to them, and their lines where they are wanted', async () => {
    await open(page)
    await map().locator('.block-label.hubs').waitFor()
    const lines = await linesInAll()
    await map().locator('.hub-mark[data-a="coop.attachment"]').first().click()
    await evidence()
      .getByText(/keeper/)
      .first()
      .waitFor()
    expect(await map().locator('.hub-mark.chosen').count()).toBe(1)
    await page.getByLabel('hubs', { exact: true }).check()
    await expect.poll(linesInAll).toBeGreaterThan(lines + 10)
    await page.getByLabel('hubs', { exact: true }).uncheck()
    await expect.poll(linesInAll).toBe(lines)
  })

  it('shows one entity and what is near it, and the way between two', async () => {
    await open(page, '?at=entity%3Afield.diagnoses')
    await evidence().getByText('becomes the class').waitFor()
    await page.keyboard.press('f')
    await expect.poll(() => map().locator('.plate').count()).toBe(2)
    await page.keyboard.press(']')
    await expect.poll(() => map().locator('.plate').count()).toBeGreaterThan(3)
    await page.keyboard.press('w')
    await page.getByLabel('Find on the map').fill('Apiary')
    await evidence().getByText('field.apiary becomes the class').waitFor()
    await page.keyboard.press('Escape')
    await page.evaluate(() => (document.activeElement as HTMLElement).blur())
    await page.keyboard.press('w')
    await page.getByRole('button', { name: 'Way from Diagnosis to Apiary' }).waitFor()
    expect(
      (
        await map()
          .locator('.plate')
          .evaluateAll((all) => all.map((e) => (e as SVGElement).dataset['id']))
      ).sort(),
    ).toEqual(['field.apiary', 'field.diagnoses', 'field.hive', 'field.inspection'])
    await page.keyboard.press('Escape')
    await expect.poll(() => map().locator('.plate').count()).toBeGreaterThan(25)
  })

  it('keys walk from plate to line to plate; the nearer, the more is said', async () => {
    await open(page, '?at=entity%3Afield.diagnoses')
    await evidence().getByText('becomes the class').waitFor()
    await page.keyboard.press('ArrowLeft')
    await map().locator('.line.chosen').waitFor()
    await evidence().getByText('Diagnosis holds the column inspection_id').waitFor()
    await page.keyboard.press('ArrowLeft')
    await evidence().getByText('field.inspection becomes the class').waitFor()
    await page.keyboard.press('g')
    const column = map().locator('.plate[data-id="field.diagnoses"] .column').first()
    await column.waitFor()
    expect(await column.textContent()).toContain('inspection_id')
    await page.getByRole('button', { name: 'Fit' }).click()
    await expect.poll(() => column.isVisible()).toBe(false)
  })

  it('a table is put into another area and back, and nothing else moves', async () => {
    await open(page, '?at=entity%3Afield.breed')
    const blocks = () => map().locator('.block-label').allTextContents()
    const before = await blocks()
    await evidence().getByLabel('Area on the map').fill('Breeding')
    await evidence().getByRole('button', { name: 'Move there' }).click()
    await map().getByText('Breeding 1').waitFor()
    await page.evaluate(() => (document.activeElement as HTMLElement).blur())
    await page.keyboard.press('u')
    await expect.poll(blocks).toEqual(before)
  })

  it('areas are renamed, joined and split by key or where they stand, and all of it is undone at once', async () => {
    await open(page)
    const names = () => map().locator('.block-label.area .name').allTextContents()
    const before = await names()
    await page.keyboard.press('r')
    const pane = page.getByRole('region', { name: 'Areas' })
    const undo = async () => {
      await pane.getByRole('button', { name: 'Undo' }).click()
      await expect.poll(names).toEqual(before)
    }
    const call = async (name: string) => {
      await pane.getByLabel('Name of the area Orders').fill(name)
      await pane.getByLabel('Name of the area Orders').press('Enter')
    }
    await call('Sales')
    await expect.poll(names).toEqual(before.map((n) => (n === 'Orders' ? 'Sales' : n)))
    await undo()
    await call('Keepers')
    await pane.getByText('Orders is part of Keepers now.').waitFor()
    await expect.poll(async () => (await names()).sort()).toEqual(before.filter((n) => n !== 'Orders').sort())
    await undo()
    await pane.getByRole('button', { name: 'Split Harvests' }).click()
    await pane.getByRole('form', { name: 'Split Harvests' }).getByRole('button', { name: 'Split', exact: true }).click()
    await expect.poll(async () => (await names()).length).toBeGreaterThan(before.length)
    await undo()
    await map().locator('.block-label.area .name').getByText('Orders', { exact: true }).click()
    await map().getByLabel('Name of the area Orders').fill('Shop')
    await map().getByLabel('Name of the area Orders').press('Enter')
    await expect.poll(names).toEqual(before.map((n) => (n === 'Orders' ? 'Shop' : n)))
    await page.keyboard.press('Escape')
    await page.keyboard.press('u')
    await expect.poll(names).toEqual(before)
  })

  it('is saved as SVG', async () => {
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('button', { name: 'SVG' }).click()])
    const svg = readFileSync(await download.path(), 'utf8')
    expect(svg).toMatch(/^<svg xmlns/)
    expect(svg).toContain('>Hive<')
    expect(svg).not.toContain('var(')
  })
})

describe('the sheet', () => {
  it('stands in the place of the map, for a class or both ends, and the address says so', async () => {
    await open(page, '?at=entity%3Afield.queen')
    await page.keyboard.press('o')
    const sheet = page.getByRole('region', { name: 'Sheet' })
    await sheet.getByRole('heading', { name: 'Queen', exact: true }).waitFor()
    expect(page.url()).toContain('show=sheet')
    await page.reload()
    await sheet.getByText('one queen by id').waitFor()
    await sheet
      .getByText(/^\d+ uses$/)
      .first()
      .click()
    await sheet.getByText('primary key queen_pkey').first().waitFor()
    await sheet.getByRole('button', { name: /^hive: at most one Hive|^hive: exactly one Hive/ }).click()
    await sheet.getByRole('heading', { name: 'Hive', exact: true }).waitFor()
    expect(await sheet.getByRole('article').count()).toBe(2)
    await page.keyboard.press('o')
    await map().locator('.line.chosen').waitFor()
  })
  it('renames where it stands, told while typing', async () => {
    await page.goto(`${project}/review?at=entity%3Afield.queen&show=sheet`)
    const sheet = page.getByRole('region', { name: 'Sheet' })
    await sheet.getByRole('button', { name: 'bornOn', exact: true }).click()
    const field = sheet.getByLabel(/^New name for/)
    await field.fill('constructor')
    await sheet.getByText('TypeScript keeps this name for itself').waitFor()
    await field.press('ArrowDown')
    expect(await field.inputValue()).toBe('constructorValue')
    await field.press('Escape')
  })
  it('holds one column otherwise than its type says, and takes that back', async () => {
    await page.goto(`${project}/review?at=entity%3Afield.harvest&show=sheet`)
    const row = page.getByRole('region', { name: 'Sheet' }).getByRole('row', { name: /^gross_kg/ })
    await row.getByRole('button', { name: 'Decimal', exact: true }).click()
    await row.getByLabel('How gross_kg is held').selectOption('number')
    await row.getByText('this column only').waitFor()
    await row.getByRole('button', { name: 'number', exact: true }).waitFor()
    await page.keyboard.press('u')
    await row.getByRole('button', { name: 'Decimal', exact: true }).waitFor()
  })
  it('takes the shape of JSON, says where it is not understood, and gives it back', async () => {
    await page.goto(`${project}/review?at=entity%3Afield.apiary&show=sheet`)
    const row = page.getByRole('region', { name: 'Sheet' }).getByRole('row', { name: /^flags/ })
    await row.getByRole('button', { name: 'Say its shape' }).click()
    const field = row.getByLabel('Shape of flags, as JSON Schema')
    await field.fill('{"type":"object","properties":{"shade":{"type":"bool"}}}')
    await row.getByRole('button', { name: 'Keep it' }).click()
    await row.getByText('at properties.shade:').waitFor()
    await field.fill('{"type":"object","properties":{"shade":{"type":"boolean"}}}')
    await row.getByRole('button', { name: 'Keep it' }).click()
    await row.getByRole('button', { name: 'ApiaryFlags', exact: true }).waitFor()
    await row.getByRole('button', { name: 'Its shape' }).click()
    await row.getByRole('button', { name: 'Any JSON' }).click()
    await row.getByRole('button', { name: 'JsonValue', exact: true }).waitFor()
  })
})

describe('types', () => {
  it('tell what another way would change, and take a name of their own', async () => {
    await open(page, '?at=structure%3Atype%3Anumeric(7%2C3)')
    await evidence().getByText('Harvest.grossKg: Decimal becomes number; Harvest.tareKg: Decimal becomes number').waitFor()
    await evidence().getByRole('button', { name: 'no name of its own' }).click()
    const field = evidence().getByLabel(/^New name for the type numeric/)
    await field.fill('Hive')
    await evidence().getByText('there is already a class called Hive').waitFor()
    await field.fill('Kilograms')
    await evidence()
      .getByText(/^Touches base\/Harvest\.ts.*base\/types\.ts/)
      .waitFor()
    await field.press('Enter')
    await evidence().getByRole('button', { name: 'Kilograms', exact: true }).waitFor()
    await page.keyboard.press('e')
    await evidence().getByText('held as number').waitFor()
    await page.goto(`${project}/code`)
    await page
      .getByRole('link', { name: 'types.ts' })
      .or(page.getByRole('button', { name: 'types.ts' }))
      .click()
    await page.locator('.cm-content', { hasText: 'export type Kilograms = number' }).waitFor()
    await open(page, '?at=structure%3Atype%3Anumeric(7%2C3)')
    await evidence().getByRole('button', { name: 'Take the name away' }).click()
    await evidence().getByRole('button', { name: 'no name of its own' }).waitFor()
  })
})

describe('everybody', () => {
  const views: readonly (readonly [string, string, string | null])[] = [
    ['the projects', '/', null],
    ['a new project', '/projects/new', null],
    ['the accounts', '/accounts', null],
    ['the source', '/source', null],
    ['the scope', '/scope', null],
    ['the review', '/review?at=entity%3Afield.hive', null],
    ['evidence of a relationship', '/review?at=reference%3Afield.hive(apiary_id)', null],
    ['the day', '/review', 'd'],
    ['naming rules', '/review', 'n'],
    ['the keys', '/review', 'h'],
    ['the sheet', '/review?at=entity%3Afield.hive&show=sheet', null],
    ['the code', '/code', null],
    ['code in a folder', '/code/folder?into=looked-at', null],
    ['the plan', '/plan', null],
    ['the draft of a plan', '/plan?plan=draft', null],
    ['the environments', '/watch', null],
    ['the catalog', '/catalog?at=field.hive', null],
    ['the ledger', '/ledger', null],
    ['a change of the database', '/review?at=entity%3Afield.hive', 'c'],
  ]
  it.each(['day', 'night'])('can read every view by %s: axe finds nothing serious', async (theme) => {
    await page.context().addCookies([{ name: 'pelvok-theme', value: theme, url: appUrl }])
    const found: string[] = []
    for (const [name, path, key] of views) {
      await page.goto(path === '/' || /^\/(projects|accounts)/.test(path) ? `${appUrl}${path}` : `${project}${path}`)
      await page.getByRole('main').first().waitFor()
      if (path.startsWith('/review')) await docket().getByRole('listitem').first().waitFor()
      if (key !== null) await page.keyboard.press(key)
      await settled(page)
      await page.evaluate(axe.source)
      // By night only colours are others.
      const rules = theme === 'day' ? {} : { runOnly: ['color-contrast', 'link-in-text-block'] }
      const serious = await page.evaluate(async (only) => {
        const { axe: run } = window as unknown as {
          axe: { run: (o: object) => Promise<{ violations: { impact: string; id: string; nodes: { html: string; failureSummary: string }[] }[] }> }
        }
        const { violations } = await run.run({ resultTypes: ['violations'], ...only })
        return violations
          .filter((v) => v.impact === 'serious' || v.impact === 'critical')
          .map((v) => `${v.id} (${v.nodes.length}): ${v.nodes[0]?.html.slice(0, 160)} ${v.nodes[0]?.failureSummary.slice(0, 200)}`)
      }, rules)
      found.push(...serious.map((s) => `${name}: ${s}`))
    }
    await page.context().addCookies([{ name: 'pelvok-theme', value: 'day', url: appUrl }])
    expect(found).toEqual([])
  })
  it('folds panes away by key, and finds them folded again', async () => {
    await open(page)
    await page.keyboard.press(',')
    await docket().waitFor({ state: 'detached' })
    await open(page)
    await docket().waitFor({ state: 'detached' })
    await page.keyboard.press(',')
    await docket().waitFor()
    await page.keyboard.press('.')
    await evidence().waitFor({ state: 'detached' })
    await page.keyboard.press('.')
    await evidence().waitFor()
  })
  it('has nothing to complain about in the console', () => expect(complaints).toEqual([]))
})
