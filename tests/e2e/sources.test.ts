// In Chromium, as a person: projects from a server, a script and a file; the scope; newer versions.
import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import type { Browser, Page } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { appUrl } from '../support/app.ts'
import { visit } from '../support/browser.ts'
import { locationOf } from '../support/server.ts'

let browser: Browser
let page: Page
let complaints: readonly string[] = []

beforeAll(async () => {
  ;({ browser, page, complaints } = await visit('Mara'))
})
afterAll(async () => {
  await browser?.close()
})

const docket = () => page.getByRole('region', { name: 'Docket' })
/** Also what needs no ruling. */
const all = () =>
  docket()
    .getByRole('button', { name: /^relationships/ })
    .click()
const evidence = () => page.getByRole('region', { name: 'Evidence' })
const ledgerCount = () => page.getByRole('link', { name: /^Ledger \d+$/ })

describe('a new project', () => {
  it('with a wrong password says so, and works with the right one', async () => {
    const l = locationOf(process.env['PELVOK_DEMO_URL'] as string)
    await page.goto(`${appUrl}/projects/new`)
    await page.getByLabel('Name', { exact: true }).fill('Another reading')
    await page.getByLabel('by host and user').check()
    for (const [label, value] of [
      ['Host', l.host],
      ['Port', String(l.port)],
      ['User', l.user],
      ['Password', 'not it'],
      ['Database', l.database],
    ] as const)
      await page.getByLabel(label, { exact: true }).fill(value)
    await page.getByRole('button', { name: 'Make the project and survey' }).click()
    await page.getByText(`The password for "${l.user}" is wrong`).waitFor()
    await page.getByLabel('Password', { exact: true }).fill(l.password ?? '')
    await page.getByRole('button', { name: 'Test the connection' }).click()
    await page.getByText(/may read the rows of all of them/).waitFor()
    await page.getByRole('button', { name: 'Make the project and survey' }).click()
    // The survey done, the page leads on to what it was made for.
    await page.waitForURL(/\/p\/another-reading\/review/)
    await page
      .getByRole('region', { name: 'Opening' })
      .getByText(/^\d+ tables in/)
      .waitFor()
    await page.getByRole('link', { name: 'Source', exact: true }).click()
    await page.getByText(/objects counted =/).waitFor()
  })
})

describe('the scope', () => {
  const rowsIn = (name: string) => page.getByRole('list', { name: 'What takes part' }).getByRole('checkbox', { name, exact: true })
  const side = () => page.getByRole('complementary', { name: 'The scope in numbers' })

  it('is chosen by search, table and column, and kept as one entry', async () => {
    await page.goto(appUrl)
    await page.getByRole('link', { name: /Another reading/ }).click()
    await page.getByRole('link', { name: 'Scope' }).click()
    await page.getByRole('textbox', { name: 'Search the scope' }).fill('field.weather*')
    await page.getByRole('button', { name: 'Leave out these', exact: true }).click()
    await page.getByRole('textbox', { name: 'Search the scope' }).fill('apiary')
    await page
      .getByRole('list', { name: 'What takes part' })
      .getByRole('button', { name: /columns/ })
      .first()
      .click()
    await rowsIn('keeper_no').uncheck()
    await page.getByText('inserts through the model would fail').waitFor()
    await side()
      .getByRole('button', { name: /^Record/ })
      .click()
    await side().getByText('Every choice is in the ledger.').waitFor()
    await ledgerCount().filter({ hasText: 'Ledger 1' }).waitFor()
  })

  it('of one table and what is around it leaves out all others, until that is taken back', async () => {
    await side().getByLabel('Table').fill('field.apiary')
    await side().getByRole('button', { name: 'Leave out all others' }).click()
    await side()
      .getByRole('button', { name: /^Record/ })
      .click()
    await side().getByText('Every choice is in the ledger.').waitFor()
    await page.getByRole('link', { name: 'Review' }).click()
    await all()
    await expect.poll(() => docket().getByRole('listitem').count()).toBeGreaterThan(0)
    expect(await page.getByText('Customer', { exact: true }).count()).toBe(0)
    await ledgerCount().click()
    await page.getByText(/left out coop\.attachment/).waitFor()
    await page.getByRole('button', { name: 'Take back' }).first().click()
    await page.getByText('took back entry 2').waitFor()
  })
})

describe('a script', () => {
  it('is looked at before it is kept: dialect with its reason, what was not understood with its place', async () => {
    await page.goto(`${appUrl}/projects/new`)
    await page.getByLabel('Name', { exact: true }).fill('From a script')
    const text =
      'CREATE TABLE bay (id INTEGER PRIMARY KEY AUTOINCREMENT);\nCREATE TABLE odd (x int,, y);\nCREATE TABLE crate (bay_id INTEGER NOT NULL REFERENCES bay);\n'
    await page.setInputFiles('input[type=file] >> nth=0', { name: 'depot.sql', mimeType: 'text/plain', buffer: Buffer.from(text) })
    await page.getByText('2 of 3 statements about the structure were understood').waitFor()
    await page.getByText('it has AUTOINCREMENT').waitFor()
    await page.getByText(/depot\.sql:2:25: error: not read/).waitFor()
  })

  it('becomes a project with review and code; the stages that its engine has not say why', async () => {
    await page.getByRole('button', { name: 'Make the project', exact: true }).click()
    await page.waitForURL(/\/p\/from-a-script\/source$/)
    for (const [stage, because] of [
      ['Plan', 'Plans are written for PostgreSQL so far.'],
      ['Watch', 'Plans are applied to PostgreSQL so far'],
    ] as const) {
      await page.getByRole('link', { name: stage, exact: true }).click()
      await page.getByText(because).waitFor()
    }
    await page.getByRole('link', { name: 'Review' }).click()
    await all()
    await docket().getByText('Each crate has exactly one').waitFor()
    await page.getByRole('link', { name: 'Code' }).click()
    await page.getByRole('link', { name: 'base/Crate.ts' }).click()
    await page.locator('.cm-content', { hasText: 'get bay(): Bay | undefined' }).waitFor()
  })

  it('in a newer version is read by the same project', async () => {
    await page.getByRole('link', { name: 'Source' }).click()
    await page.getByRole('button', { name: 'Read a newer version' }).click()
    await page.getByLabel('or paste one').fill('CREATE TABLE bay (id INTEGER PRIMARY KEY AUTOINCREMENT, label TEXT);')
    await page.getByRole('button', { name: 'Read what is pasted' }).click()
    await page.getByText('All 1 statements about the structure were understood').first().waitFor()
    await page.getByRole('button', { name: 'Take this version' }).click()
    await page.getByText('from the script pasted.sql').waitFor()
  })

  it('in which things have other names asks for each, and carries the rulings over', async () => {
    const read = async (text: string) => {
      await page.getByRole('link', { name: 'Source' }).click()
      await page.getByRole('button', { name: 'Read a newer version' }).click()
      await page.getByLabel('or paste one').fill(text)
      await page.getByRole('button', { name: 'Read what is pasted' }).click()
      await page.getByRole('button', { name: 'Take this version' }).click()
      await page.getByRole('button', { name: 'Read a newer version' }).waitFor()
    }
    await read(
      'CREATE TABLE bay (id INTEGER PRIMARY KEY, label TEXT, grade TEXT); CREATE TABLE crate (id INTEGER PRIMARY KEY, bay_id INTEGER NOT NULL REFERENCES bay);',
    )
    await page.getByRole('link', { name: 'Review' }).click()
    await all()
    await docket().getByText('Each crate has exactly one').click()
    await evidence().getByText('Each crate has exactly one').waitFor()
    await page.keyboard.press('a')
    await docket().getByText('accepted').first().waitFor()
    await read('CREATE TABLE lane (id INTEGER PRIMARY KEY, label TEXT, grade TEXT); CREATE TABLE box (id INTEGER PRIMARY KEY, bay_id INTEGER REFERENCES lane);')
    const changes = page.getByRole('region', { name: 'Surveys' })
    await changes.getByText('2 gone, 0 changed, 2 new').waitFor()
    await page.getByRole('link', { name: /^Review/ }).click()
    const gone = page.getByRole('region', { name: 'Subjects that are gone' })
    await gone.getByText('Is lane the former bay?').waitFor()
    await gone.getByText('Is box the former crate?').waitFor()
    for (const subject of ['bay', 'crate']) {
      const item = gone.getByRole('listitem').filter({ hasText: `the former ${subject}?` })
      await item.getByRole('button', { name: 'Yes, carry it over' }).first().click()
      await item.waitFor({ state: 'detached' })
    }
    await docket().getByText('A box has at most one').waitFor()
    await docket().getByText('accepted').first().waitFor()
    await ledgerCount().click()
    await page.getByText('said that crate is box now').waitFor()
  })

  it('of another engine is refused: a project is one schema on one engine', async () => {
    await page.getByRole('link', { name: 'Source' }).click()
    await page.getByRole('button', { name: 'Read a newer version' }).click()
    await page.getByLabel('or paste one').fill('CREATE TABLE bay (id serial PRIMARY KEY, label varchar(9)) WITH (fillfactor = 70);')
    await page.getByRole('button', { name: 'Read what is pasted' }).click()
    await page.getByRole('button', { name: 'Take this version' }).click()
    await page.getByText('This project is of SQLite, and the script is of PostgreSQL').waitFor()
  })

  it('an SQLite file gives its structure, and its rows stay in the browser', async () => {
    const file = join(mkdtempSync(join(tmpdir(), 'pelvok-e2e-')), 'depot.db')
    spawnSync('sqlite3', [file], {
      input: `create table bay (id integer primary key, label text); create table crate (bay_id integer not null references bay);
        create virtual table words using fts5(body); insert into bay values (1, 'a-row-that-stays');`,
    })
    const sent: string[] = []
    page.on('request', (r) => r.url().includes('/api/scripts') && sent.push(r.postData() ?? ''))
    await page.goto(`${appUrl}/projects/new`)
    await page.getByLabel('Name', { exact: true }).fill('From a file')
    await page.setInputFiles('input[type=file] >> nth=0', file)
    await page.getByText('it is an SQLite database file').waitFor()
    await page.getByText('2 tables').waitFor()
    await page.getByRole('button', { name: 'Make the project', exact: true }).click()
    await page.waitForURL(/\/p\/from-a-file\/source$/)
    await page.getByText('virtual table words (fts5)').waitFor()
    expect(sent.length).toBe(2)
    expect(sent.join()).not.toContain('a-row-that-stays')
    rmSync(dirname(file), { recursive: true, force: true })
  })

  it('rows of an SQLite file are read in the browser, from the same file only', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'pelvok-e2e-'))
    const make = (name: string, input: string) => {
      spawnSync('sqlite3', [join(folder, name)], { input })
      return join(folder, name)
    }
    const schema = 'create table bay (id integer primary key, label text); create table crate (id integer primary key, bay_id integer);'
    const file = make('yard.db', `${schema} insert into bay values (1, 'a-row-that-stays'); insert into crate values (1, 1), (2, 9);`)
    const other = make('other.db', 'create table lane (id integer primary key);')
    const sent: string[] = []
    page.on('request', (r) => r.method() === 'POST' && sent.push(r.postData() ?? ''))
    await page.goto(`${appUrl}/projects/new`)
    await page.getByLabel('Name', { exact: true }).fill('Yard')
    await page.setInputFiles('input[type=file] >> nth=0', file)
    await page.getByText('2 tables').waitFor()
    await page.getByRole('button', { name: 'Make the project', exact: true }).click()
    await page.waitForURL(/\/p\/yard\/source$/)
    await page.goto(`${appUrl}/p/yard/review?at=${encodeURIComponent('reference:crate(bay_id)')}`)
    await docket().getByRole('button', { name: 'Choose the file and read rows' }).waitFor()
    await page.getByLabel('The SQLite file').setInputFiles(other)
    await docket().getByText('"other.db" is not the file of this snapshot').waitFor()
    await page.getByLabel('The SQLite file').setInputFiles(file)
    await docket()
      .getByText(/^Rows read .* 1 comparison,/)
      .waitFor()
    await evidence().getByText('crate(bay_id) is probably no reference. It could refer to bay(id).').waitFor()
    expect(sent.join()).toContain('pelvok.rows/1')
    expect(sent.join()).not.toContain('a-row-that-stays')
    rmSync(folder, { recursive: true, force: true })
  })

  it('that is none is refused with what to do', async () => {
    await page.goto(`${appUrl}/projects/new`)
    await page.getByLabel('or paste one').fill('Dear colleague, the schema is attached.')
    await page.getByRole('button', { name: 'Read what is pasted' }).click()
    await page.getByText('no table was found in pasted.sql').waitFor()
  })
})
it('nothing was complained about in the console', () => expect(complaints).toEqual([]))
