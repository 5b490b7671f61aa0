// In Chromium: real rows of the demo through the model, three relationships deep, with conditions, counts, ways compared, and a path kept.
import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import axe from 'axe-core'
import type { Browser, Page } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { appUrl } from '../support/app.ts'
import { fromScript, settled, visit } from '../support/browser.ts'

let browser: Browser
let page: Page
let complaints: readonly string[] = []

beforeAll(async () => {
  ;({ browser, page, complaints } = await visit('Mara'))
  await page.goto(appUrl)
  await page.getByRole('link', { name: /Fennmoor co-operative/ }).click()
  await page.getByRole('link', { name: 'Trial' }).click()
  await page.waitForURL(/\/trial$/)
})
afterAll(async () => {
  await browser?.close()
})

const path = () => page.getByRole('region', { name: 'Path', exact: true })
const rows = () => page.getByRole('region', { name: 'Rows', exact: true })
const sent = () => page.getByRole('region', { name: 'Sent', exact: true })
const follow = (name: RegExp) => path().getByRole('button', { name }).click()

describe('a trial', () => {
  it('shows rows of an entity, portion after portion', async () => {
    await path().getByLabel('Rows of').selectOption({ label: 'Hive' })
    await rows()
      .getByRole('heading', { name: /^Hive 20 rows and more/ })
      .waitFor()
    await path().getByText('412 in all').waitFor()
    const first = await rows().getByRole('row').nth(1).textContent()
    await rows().getByRole('button', { name: 'Rows after' }).click()
    await expect.poll(() => rows().getByRole('row').nth(1).textContent()).not.toBe(first)
    await rows().getByRole('button', { name: 'Rows before' }).click()
    await expect.poll(() => rows().getByRole('row').nth(1).textContent()).toBe(first)
  })

  it('narrows by own and related properties, each with what it leaves; a value of another type is refused', async () => {
    const form = path().getByRole('form', { name: 'New condition' })
    await form.getByLabel('Property').selectOption({ label: 'hiveNo' })
    await form.getByLabel('Comparison').selectOption({ label: 'is less than' })
    await form.getByLabel('Value').fill('four')
    await form.getByRole('button', { name: 'Add' }).click()
    await rows().getByText('hiveNo is a smallint').waitFor()
    const leave = path().getByRole('button', { name: /^Remove the condition/ })
    await leave.click()
    await leave.waitFor({ state: 'detached' })
    await form.getByLabel('Property').selectOption({ label: 'hiveNo' })
    await form.getByLabel('Comparison').selectOption({ label: 'is less than' })
    await form.getByLabel('Value').fill('4')
    await form.getByRole('button', { name: 'Add' }).click()
    await path().getByText('leaves 111').waitFor()
    await form.getByLabel('Property').selectOption({ label: 'apiary.name' })
    await form.getByLabel('Comparison').selectOption({ label: 'contains' })
    await form.getByLabel('Value').fill('a')
    await form.getByRole('button', { name: 'Add' }).click()
    await path()
      .getByText(/apiary\.name contains a leaves \d+/)
      .waitFor()
    await sent().getByText('exists (select 1 from field.apiary').waitFor()
  })

  it('goes three deep, shows one row’s own, and says what was sent', async () => {
    await follow(/^inspections:/)
    await rows()
      .getByRole('heading', { name: /^inspections/ })
      .waitFor()
    await follow(/^observations:/)
    await rows()
      .getByRole('heading', { name: /^observations/ })
      .waitFor()
    await follow(/^code:|^observationCode:/)
    await expect.poll(() => rows().getByRole('heading').count()).toBe(4)
    const all = await rows()
      .getByRole('heading', { name: /^inspections/ })
      .textContent()
    await rows().getByRole('button', { name: 'Only the inspections of this row' }).first().click()
    await expect
      .poll(() =>
        rows()
          .getByRole('heading', { name: /^inspections/ })
          .textContent(),
      )
      .not.toBe(all)
    await rows().getByRole('button', { name: 'All rows again' }).click()
    await sent().getByRole('button', { name: 'Compare the ways to read them' }).click()
    const ways = sent().getByRole('region', { name: 'Ways compared' })
    await ways.getByRole('row', { name: /^batched 4 / }).waitFor()
    await ways.getByRole('row', { name: /^joined 1 / }).waitFor()
    await ways.getByText(/^(Batched|Joined): /).waitFor()
    await page.reload()
    await expect.poll(() => rows().getByRole('heading').count()).toBe(4)
  })

  it('keeps a path in the ledger, shows it again, and shows what a write would send without sending it', async () => {
    await path().getByLabel('Name of this path').fill('Codes of the first hives')
    await path().getByRole('button', { name: 'Keep' }).click()
    await path()
      .getByRole('button', { name: /^Codes of the first hives/ })
      .waitFor()
    const address = page.url()
    await path().getByLabel('Rows of').selectOption({ label: 'Apiary' })
    await path().getByText('in all').waitFor()
    await sent().getByText('What deleting a row of Apiary would send').click()
    await sent()
      .getByText(/^it is refused while there are rows of field\.hive/)
      .waitFor()
    await sent().getByText('delete from field.apiary').waitFor()
    await path()
      .getByRole('button', { name: /^Codes of the first hives/ })
      .click()
    await expect.poll(() => new URL(page.url()).searchParams.get('path')).toBe(new URL(address).searchParams.get('path'))
    await page.getByRole('link', { name: /^Ledger/ }).click()
    await page.getByText(/kept the trial “Codes of the first hives”/).waitFor()
    await page.goBack()
    await path().getByRole('button', { name: 'Let Codes of the first hives go' }).click()
    await path()
      .getByRole('button', { name: /^Codes of the first hives/ })
      .waitFor({ state: 'detached' })
  })

  it('reads an SQLite file in the browser, where its rows stay', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'pelvok-e2e-'))
    const make = (name: string, input: string) => {
      spawnSync('sqlite3', [join(folder, name)], { input })
      return join(folder, name)
    }
    const file = make(
      'shed.db',
      `create table bay (id integer primary key, label text); create table crate (id integer primary key, bay_id integer references bay);
       insert into bay values (9007199254740993, 'a-row-that-stays'); insert into crate values (1, 9007199254740993), (2, 9007199254740993);`,
    )
    const posted: string[] = []
    page.on('request', (r) => r.method() === 'POST' && posted.push(r.postData() ?? ''))
    await page.goto(`${appUrl}/projects/new`)
    await page.getByLabel('Name', { exact: true }).fill('Shed')
    await page.setInputFiles('input[type=file] >> nth=0', file)
    await page.getByText('2 tables').waitFor()
    await page.getByRole('button', { name: 'Make the project', exact: true }).click()
    await page.waitForURL(/\/p\/shed\/source$/)
    await page.getByRole('link', { name: 'Trial' }).click()
    await page.getByLabel('The SQLite file').setInputFiles(make('other.db', 'create table lane (id integer primary key);'))
    await page.getByText('"other.db" is not the file of this snapshot').waitFor()
    await page.getByLabel('The SQLite file').setInputFiles(file)
    await rows().getByRole('cell', { name: '9007199254740993' }).first().waitFor()
    await follow(/^crates:/)
    await rows()
      .getByRole('heading', { name: /^crates Crate, 2 rows/ })
      .waitFor()
    expect(posted.join()).not.toContain('a-row-that-stays')
    rmSync(folder, { recursive: true, force: true })
  })

  it('is read well by axe, and says why there is none where there is no server to ask', async () => {
    await settled(page)
    await page.evaluate(axe.source)
    const serious = await page.evaluate(async () => {
      const { violations } = await (window as unknown as { axe: typeof axe }).axe.run()
      return violations.filter((v) => v.impact === 'serious' || v.impact === 'critical').map((v) => `${v.id}: ${v.nodes[0]?.html.slice(0, 160)}`)
    })
    expect(serious).toEqual([])
    const project = await fromScript(page, 'No server', 'create table bay (id int primary key);')
    await page.goto(`${project}/review`)
    await page.getByRole('link', { name: 'Code' }).waitFor()
    await page.getByRole('link', { name: 'Trial' }).click()
    await page.getByText('This schema came from a script, which has no rows to try a path on.').waitFor()
    expect(complaints).toEqual([])
  })
})
