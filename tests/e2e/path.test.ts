// In Chromium, as a person: from the project list to the downloaded zip and the rehearsed baseline, with a reload in the middle.
import { spawnSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { strFromU8, unzipSync } from 'fflate'
import { type Browser, type BrowserContext, chromium, type Page } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { appUrl, eventually } from '../support/app.ts'
import { locationOf } from '../support/server.ts'

/** The demo project is the one the boot made. */
const demo = 'Fennmoor co-operative'
let browser: Browser
let context: BrowserContext
let page: Page
const complaints: string[] = []

beforeAll(async () => {
  await eventually('the web server', async () => (await fetch(appUrl).catch(() => null))?.ok)
  browser = await chromium.launch({
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
  context = await browser.newContext({ viewport: { width: 1280, height: 800 }, acceptDownloads: true })
  page = await context.newPage()
  page.setDefaultTimeout(20_000)
  page.on('pageerror', (e) => complaints.push(e.message))
  page.on('console', (m) => {
    if (m.type() === 'error' && !/status of (4\d\d)/.test(m.text())) complaints.push(m.text())
  })
})
afterAll(async () => {
  await browser?.close()
})

const docket = () => page.getByRole('region', { name: 'Docket' })
const evidence = () => page.getByRole('region', { name: 'Evidence' })
const ledgerCount = () => page.getByRole('link', { name: /^Ledger \d+$/ })

describe('the path', () => {
  it('begins with the demo, surveyed, and asks for a name once', async () => {
    await page.goto(appUrl)
    await page.getByLabel('Rulings are signed. By whom?').fill('Mara')
    await page.getByRole('button', { name: 'Sign with this name' }).click()
    await page.getByRole('form', { name: 'Your name' }).waitFor({ state: 'detached' })
    await page.getByRole('link', { name: new RegExp(demo) }).click()
    await page.waitForURL(/\/p\/[^/]+\/review$/)
    await expect.poll(() => docket().getByRole('listitem').count(), { timeout: 15_000 }).toBeGreaterThan(5)
  })

  it('shows the map: plates, beads, a knot, a self-reference, areas', async () => {
    const map = page.getByRole('region', { name: 'Strata map' })
    expect(await map.locator('.plate').count()).toBeGreaterThan(25)
    expect(await map.locator('.bead:not(.filled)').count()).toBeGreaterThanOrEqual(3)
    expect(await map.locator('.bead.filled').count()).toBeGreaterThanOrEqual(1)
    expect(await map.locator('.knot').count()).toBe(1)
    expect(await map.locator('.band-name').count()).toBeGreaterThan(3)
    const before = await map.locator('svg > g').getAttribute('transform')
    await page.getByRole('button', { name: 'Zoom in' }).click()
    await expect.poll(() => map.locator('svg > g').getAttribute('transform')).not.toBe(before)
    await page.getByRole('button', { name: 'Fit' }).click()
  })

  it('a plate, a line and the docket follow one selection, which the address names', async () => {
    await page.locator('.plate[data-id="field.hive"]').click()
    await evidence().getByText('becomes the class').waitFor()
    expect(page.url()).toContain('at=entity%3Afield.hive')
    await evidence().getByRole('button', { name: 'apiary: exactly one Apiary' }).click()
    await evidence().getByText('Each hive has exactly one').waitFor()
    expect(await page.locator('.line.chosen').count()).toBe(1)
    await page.goBack()
    await evidence().getByText('becomes the class').waitFor()
    await page.goForward()
    await evidence().getByText('foreign key hive_apiary_fkey').waitFor()
    await evidence().getByText('index hive_number_key finds rows').waitFor()
  })

  it('accepts with a key, renames an end, and says what cannot be a name', async () => {
    await page.keyboard.press('a')
    await evidence().getByText('✓ accepted').waitFor()
    await evidence().getByRole('button', { name: 'hives', exact: true }).click()
    const input = evidence().getByLabel(/New name for Apiary.hives/)
    await input.fill('two words')
    await input.press('Enter')
    await page.getByText('letters, digits and underscores').waitFor()
    await evidence()
      .getByLabel(/New name for Apiary.hives/)
      .fill('colonies')
    await evidence()
      .getByLabel(/New name for Apiary.hives/)
      .press('Enter')
    await evidence().getByRole('button', { name: 'colonies', exact: true }).waitFor()
    expect(await evidence().getByText('colonies?: Hive[]').count()).toBe(1)
  })

  it('switches a many-to-many to an entity and back', async () => {
    await docket().getByLabel('Search the docket').fill('apiary_forage_site')
    await docket()
      .getByRole('button', { name: /any number of forage sites/ })
      .click()
    await evidence()
      .getByRole('button', { name: /Read as an entity/ })
      .click()
    await page.locator('.bead.filled[data-id="field.apiary_forage_site"], .plate[data-id="field.apiary_forage_site"]').first().waitFor()
    await evidence().getByText('is read as an entity').waitFor()
    await page.keyboard.press('e')
    await evidence().getByText('many-to-many', { exact: true }).waitFor()
  })

  it('rejects a relationship and undoes it', async () => {
    await docket().getByLabel('Search the docket').fill('second_keeper')
    await docket()
      .getByRole('button', { name: /second keeper/ })
      .click()
    await page.keyboard.press('x')
    await evidence().getByText('is not read as a reference').waitFor()
    await page.keyboard.press('u')
    await evidence().getByText('An inspection has at most one').waitFor()
    await expect.poll(() => ledgerCount().textContent()).toBe('Ledger 6')
  })

  it('an undo pressed before the entry is there takes back that entry and no other', async () => {
    await page.route('**/ledger', async (route) => {
      await new Promise((resolve) => setTimeout(resolve, 400))
      await route.continue()
    })
    await page.keyboard.press('x')
    await page.keyboard.press('u')
    await expect.poll(() => ledgerCount().textContent(), { timeout: 15_000 }).toBe('Ledger 8')
    await page.unroute('**/ledger')
    await evidence().getByText('An inspection has at most one').waitFor()
    await docket().getByLabel('Search the docket').fill('hive(apiary_id)')
    await docket().getByText('colonies').waitFor()
    await docket().getByLabel('Search the docket').fill('second_keeper')
  })

  it('everything is still there after a reload', async () => {
    await page.reload()
    await evidence().getByText('An inspection has at most one').waitFor()
    await docket().getByLabel('Search the docket').fill('hive(apiary_id)')
    await docket().getByText('colonies').waitFor()
    await ledgerCount().click()
    await page.getByText('taken back').first().waitFor()
    expect(await page.getByRole('listitem').count()).toBe(8)
  })

  it('shows the classes and gives them as a zip', async () => {
    await page.getByRole('link', { name: 'Code' }).click()
    await page.getByRole('link', { name: 'Apiary.ts' }).click()
    await page.locator('.cm-content', { hasText: 'export class Apiary' }).waitFor()
    const downloading = page.waitForEvent('download')
    await page.getByRole('link', { name: 'Download all as a zip' }).click()
    const files = unzipSync(new Uint8Array(readFileSync(await (await downloading).path())))
    expect(strFromU8(files['entities/Apiary.ts'] as Uint8Array)).toContain('colonies?: Hive[]')
    expect(strFromU8(files['entities/Apiary.ts'] as Uint8Array)).toContain('ledger 8')
  })

  it('shows the baseline, gives it, and proves it on a scratch database', async () => {
    await page.getByRole('link', { name: 'Plan' }).click()
    await page.getByRole('link', { name: /table field.hive$/ }).click()
    await page.locator('.cm-content', { hasText: 'CREATE TABLE field.hive' }).waitFor()
    const downloading = page.waitForEvent('download')
    await page.getByRole('link', { name: 'Download the folder' }).click()
    const files = unzipSync(new Uint8Array(readFileSync(await (await downloading).path())))
    expect(Object.keys(files).sort()).toEqual(['0001-baseline/catalog.json.gz', '0001-baseline/down.sql', '0001-baseline/plan.json', '0001-baseline/up.sql'])
    await page.getByRole('button', { name: 'Rehearse on a scratch database' }).click()
    await page.getByText(/^Proven on PostgreSQL/).waitFor()
    await page.getByText('up again').first().waitFor()
    await page.reload()
    await page.getByText(/^Proven on PostgreSQL/).waitFor()
  })
})

describe('a second window', () => {
  it('sees another person’s entry without a reload', async () => {
    const other = await browser.newContext({ viewport: { width: 1280, height: 800 } })
    await other.addCookies([{ name: 'pelvok-name', value: 'Finn', url: appUrl }])
    const theirs = await other.newPage()
    await page.getByRole('link', { name: 'Review' }).click()
    await page.waitForURL(/review/)
    await docket().getByLabel('Search the docket').fill('lab_sample(taken_by)')
    await docket()
      .getByRole('button', { name: /taken by/ })
      .click()
    await theirs.goto(page.url())
    await theirs
      .getByRole('region', { name: 'Evidence' })
      .getByRole('button', { name: /Accept/ })
      .click()
    await evidence().getByText('✓ accepted').waitFor()
    await other.close()
  })
})

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
    await page.getByText(/objects counted =/).waitFor()
  })
})

describe('the catalog', () => {
  it('lists everything, searched as one types, and shows a table beside its class', async () => {
    await page.goto(appUrl)
    await page.getByRole('link', { name: new RegExp(demo) }).click()
    await page.getByRole('link', { name: 'Catalog' }).click()
    const objects = page.getByRole('region', { name: 'Objects' })
    await objects.getByLabel('Search the catalog').fill('hive table')
    await objects.getByRole('button', { name: /field\.hive\s*table/ }).click()
    const object = page.getByRole('region', { name: 'Object' })
    await object.getByText('class Hive').waitFor()
    await object.getByText('Each hive has exactly one apiary.').waitFor()
    await object.getByText('(queen_id) → field.queen (id), on delete set null').waitFor()
    await object.locator('.cm-content', { hasText: 'CREATE TABLE field.hive' }).waitFor()
  })

  it('tells where else a column occurs, and goes on from there', async () => {
    await page.getByRole('region', { name: 'Object' }).getByRole('button', { name: 'created_by', exact: true }).click()
    const column = page.getByRole('region', { name: 'Column' })
    await column.getByText(/^In \d+ relations, as character varying\(12\)/).waitFor()
    await column.getByRole('button', { name: 'field.apiary', exact: true }).click()
    await page.getByRole('region', { name: 'Object' }).getByText('A place where hives stand.', { exact: true }).waitFor()
    await page.goBack()
    await column.waitFor()
  })

  it('is reached from anywhere by a key', async () => {
    await page.getByRole('link', { name: 'Review' }).click()
    await docket().waitFor()
    await page.keyboard.press('Control+k')
    await page.getByRole('dialog', { name: 'Find' }).getByLabel('Find').fill('keeper_no')
    await page
      .getByRole('dialog', { name: 'Find' })
      .getByText(/where in \d+ relations/)
      .first()
      .waitFor()
    await page.keyboard.press('ArrowDown')
    await page.keyboard.press('ArrowUp')
    await page
      .getByRole('dialog', { name: 'Find' })
      .getByRole('button', { name: /column\s*keeper_no/ })
      .click()
    await page.getByText('Where is there a column').waitFor()
  })
})

describe('rows as evidence', () => {
  it('are read on request, with an estimate first; numbers keep their query', async () => {
    await page.goto(`${appUrl}/p/fennmoor-co-operative/review?at=${encodeURIComponent('reference:coop.bk_levy(keeper_no)')}`)
    await docket()
      .getByText(/sets of columns in \d+ tables, about [\d,]+ rows; read-only/)
      .waitFor()
    expect(await evidence().getByText('point nowhere').count()).toBe(0)
    await docket().getByRole('button', { name: 'Read rows' }).click()
    await docket()
      .getByText(/^Rows read .* comparisons/)
      .waitFor()
    await evidence()
      .getByText(/nearly every value of keeper_no is one of .* rows point nowhere/)
      .waitFor()
    await evidence().getByText('the query').first().click()
    expect(await evidence().locator('pre').first().textContent()).toContain('from coop.bk_levy where keeper_no is not null')
  })

  it('somebody is asked with a key, and it is not open for whoever asked', async () => {
    await page.goto(`${appUrl}/p/fennmoor-co-operative/review?at=${encodeURIComponent('polymorphic:coop.attachment(owner_id,owner_kind)')}`)
    await evidence().getByText('is of the table that owner_kind names: inspection is field.inspection').waitFor()
    await page.keyboard.press('q')
    await page.keyboard.type('Odile')
    await evidence().getByRole('button', { name: 'Ask', exact: true }).click()
    await evidence().getByText('Asked Odile: “Which tables does coop.attachment(owner_id,owner_kind) refer to, and by which words?”').waitFor()
    await docket()
      .getByRole('button', { name: /^asked 1$/ })
      .click()
    await expect.poll(() => docket().getByRole('listitem').count()).toBe(1)
    await page.keyboard.press('u')
    await evidence().getByText('Asked Odile: “').waitFor({ state: 'detached' })
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

  it('becomes a project with review and code, without the stages its engine has not', async () => {
    await page.getByRole('button', { name: 'Make the project', exact: true }).click()
    await page.waitForURL(/\/p\/from-a-script\/source$/)
    expect(await page.getByRole('link', { name: 'Plan' }).count()).toBe(0)
    await page.getByRole('link', { name: 'Review' }).click()
    await docket().getByText('Each crate has exactly one').waitFor()
    await page.getByRole('link', { name: 'Code' }).click()
    await page.getByRole('link', { name: 'Crate.ts' }).click()
    await page.locator('.cm-content', { hasText: 'bay?: Bay' }).waitFor()
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
    await docket().getByText('Each crate has exactly one').click()
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

  it('that is none is refused with what to do', async () => {
    await page.goto(`${appUrl}/projects/new`)
    await page.getByLabel('or paste one').fill('Dear colleague, the schema is attached.')
    await page.getByRole('button', { name: 'Read what is pasted' }).click()
    await page.getByText('no table was found in pasted.sql').waitFor()
  })
})

it('nothing was complained about in the console', () => expect(complaints).toEqual([]))
