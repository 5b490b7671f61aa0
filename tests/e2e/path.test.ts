// In Chromium, as a person: from the project list to the downloaded zip and the rehearsed baseline, with a reload in the middle.
import { readFileSync } from 'node:fs'
import { strFromU8, unzipSync } from 'fflate'
import type { Browser, Page } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { appUrl } from '../support/app.ts'
import { held, visit } from '../support/browser.ts'

/** The demo project is the one the boot made. */
const demo = 'Fennmoor co-operative'
let browser: Browser
let page: Page
let complaints: readonly string[] = []

beforeAll(async () => {
  ;({ browser, page, complaints } = await visit(null))
})
afterAll(async () => {
  await browser?.close()
})

const docket = () => page.getByRole('region', { name: 'Docket' })
const evidence = () => page.getByRole('region', { name: 'Evidence' })
const gate = () => page.getByRole('region', { name: 'Gate' })
const ledgerCount = () => page.getByRole('link', { name: /^Ledger \d+$/ })

describe('the path', () => {
  it('begins with the demo, surveyed, and asks for a name once', async () => {
    await page.goto(appUrl)
    await page.getByLabel('Rulings are signed. By whom?').fill('Mara')
    await page.getByRole('button', { name: 'Sign with this name' }).click()
    await page.getByRole('form', { name: 'Your name' }).waitFor({ state: 'detached' })
    await page.getByRole('link', { name: new RegExp(demo) }).click()
    await page.waitForURL(/\/p\/[^/]+\/review$/)
    // What waits comes first; all else is a click away, and stays chosen.
    expect(
      await docket()
        .getByRole('button', { name: /^waiting/ })
        .getAttribute('aria-pressed'),
    ).toBe('true')
    await page
      .getByRole('region', { name: 'Opening' })
      .getByText(/questions wait for you/)
      .waitFor()
    await docket()
      .getByRole('button', { name: /^relationships/ })
      .click()
    await expect.poll(() => docket().getByRole('listitem').count()).toBeGreaterThan(5)
  })

  it('shows the map: plates, beads, a knot, a self-reference, areas', async () => {
    const map = page.getByRole('region', { name: 'Strata map' })
    expect(await map.locator('.plate').count()).toBeGreaterThan(25)
    expect(await map.locator('.bead:not(.filled)').count()).toBeGreaterThanOrEqual(2)
    expect(await map.locator('.bead.filled').count()).toBeGreaterThanOrEqual(1)
    expect(await map.locator('.knot').count()).toBe(1)
    expect(await map.locator('.block-label').count()).toBeGreaterThan(3)
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
    await page.getByRole('alert').getByText('letters, digits and underscores').waitFor()
    await evidence()
      .getByLabel(/New name for Apiary.hives/)
      .fill('colonies')
    await evidence()
      .getByLabel(/New name for Apiary.hives/)
      .press('Enter')
    await evidence().getByRole('button', { name: 'colonies', exact: true }).waitFor()
    expect(await evidence().getByText('get colonies(): Many<Hive> | undefined').count()).toBe(1)
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
    const release = await held(page, '**/ledger')
    await page.keyboard.press('x')
    await page.keyboard.press('u')
    await release()
    await expect.poll(() => ledgerCount().textContent()).toBe('Ledger 8')
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

  it('shows the classes, and gives them as a zip once nothing is open and the revision is sealed', async () => {
    await page.getByRole('link', { name: 'Code' }).click()
    await gate()
      .getByRole('link', { name: /^\d+ findings are open$/ })
      .click()
    await evidence()
      .getByRole('button', { name: /Accept/ })
      .waitFor()
    await page.getByRole('link', { name: 'Code' }).click()
    await gate()
      .getByRole('button', { name: /^Take the proposals as they stand/ })
      .click()
    const form = page.getByRole('form', { name: 'Take the proposals as they stand' })
    await form.getByRole('listitem').nth(5).waitFor()
    const listed = await form.getByRole('listitem').count()
    await form.getByRole('button', { name: `Take these ${listed} as they stand` }).click()
    await page.getByRole('link', { name: 'Ledger 9' }).waitFor()
    expect(await page.getByRole('link', { name: 'Download all as a zip' }).count()).toBe(0)
    await gate().getByText('Nothing is open, and nothing was sealed yet.').waitFor()
    await gate().getByRole('button', { name: 'Seal this revision' }).click()
    await page.getByRole('link', { name: 'base/Apiary.ts' }).click()
    await page.locator('.cm-content', { hasText: 'export class Apiary' }).waitFor()
    const downloading = page.waitForEvent('download')
    await page.getByRole('link', { name: 'Download all as a zip' }).click()
    const files = unzipSync(new Uint8Array(readFileSync(await (await downloading).path())))
    expect(strFromU8(files['entities/base/Apiary.ts'] as Uint8Array)).toContain('get colonies(): Many<Hive> | undefined')
    expect(strFromU8(files['entities/base/Apiary.ts'] as Uint8Array)).toContain('ledger 10')
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
    await page.getByRole('button', { name: 'With made-up rows' }).click()
    await page.getByText(/^made-up rows: \d+ stored, \d+ of \d+ classes read back through the emitted stores, all as they were/).waitFor()
  })

  it('what was taken as it stood is taken back like any entry, and outputs wait again', async () => {
    await ledgerCount().click()
    const taken = page.getByRole('listitem').filter({ hasText: /took \d+ proposals as they stand/ })
    await taken.getByRole('button', { name: 'Take back' }).click()
    await page.getByRole('link', { name: 'Ledger 11' }).waitFor()
    await page.getByRole('link', { name: 'Code' }).click()
    await gate()
      .getByRole('link', { name: /findings are open/ })
      .waitFor()
    expect(await page.getByRole('link', { name: 'Download all as a zip' }).count()).toBe(0)
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
    expect(
      await evidence()
        .getByText(/\d+ rows point nowhere/)
        .count(),
    ).toBe(0)
    await docket().getByRole('button', { name: 'Read rows', exact: true }).click()
    await docket()
      .getByText(/^Rows read .* comparisons/)
      .waitFor()
    await evidence()
      .getByText(/nearly every value of keeper_no is one of .* rows point nowhere/)
      .waitFor()
    await evidence().getByText('the query').first().click()
    expect(await evidence().locator('pre').first().textContent()).toContain('select keeper_no as k0 from coop.bk_levy')
  })

  it('somebody is asked with a key, and it is not open for whoever asked', async () => {
    await page.goto(`${appUrl}/p/fennmoor-co-operative/review?at=${encodeURIComponent('polymorphic:coop.attachment(owner_id,owner_kind)')}`)
    await evidence().getByText('owner_kind says which table owner_id refers to: inspection is field.inspection').waitFor()
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
describe('findings alike', () => {
  it('are ruled on at once, from the keyboard, and undone at once', async () => {
    await page.goto(`${appUrl}/p/fennmoor-co-operative/review?at=${encodeURIComponent('reference:field.harvest(created_by)')}`)
    const [, n] =
      /(\d+) columns called created_by/.exec(
        (await evidence()
          .getByText(/columns called created_by, perhaps/)
          .textContent()) ?? '',
      ) ?? []
    expect(Number(n)).toBeGreaterThan(5)
    await page.keyboard.press('b')
    const all = page.getByRole('region', { name: 'One ruling for all' })
    await all.getByText('No schema change.').first().waitFor()
    await all.getByRole('checkbox').first().uncheck()
    await all.getByRole('button', { name: new RegExp(`^1 For ${Number(n) - 1}: a reference to coop.bk_keeper`) }).waitFor()
    const before = Number((await ledgerCount().textContent())?.replace(/\D/g, ''))
    await all.getByRole('heading').first().click()
    await page.keyboard.press('1')
    await evidence().getByText('✓ accepted').waitFor()
    await expect.poll(() => ledgerCount().textContent()).toBe(`Ledger ${before + Number(n) - 1}`)
    await page.keyboard.press('u')
    await evidence().getByText(`${n} columns called created_by`).waitFor()
  })

  it('what waits is worked through with one key each, skipped and noted with others', async () => {
    await docket()
      .getByRole('button', { name: /^waiting \d+$/ })
      .click()
    await docket().getByRole('listitem').first().click()
    const title = () => evidence().locator('p').first().textContent()
    const first = await title()
    await page.keyboard.press('s')
    await expect.poll(title).not.toBe(first)
    const second = await title()
    await page.keyboard.press('a')
    await expect.poll(title).not.toBe(second)
    await page.keyboard.press('u')
    await docket()
      .getByText(/^waiting/)
      .waitFor()
    await page.keyboard.press('t')
    await page.keyboard.type('ask the office about this')
    await evidence().getByRole('button', { name: 'Note it' }).click()
    await evidence().getByText('“ask the office about this”').waitFor()
    await docket()
      .getByRole('button', { name: /^relationships \d+$/ })
      .click()
  })

  it('the docket goes area by area, each with how far it is', async () => {
    await docket().getByLabel('Order').selectOption('by area')
    await docket()
      .getByRole('heading', { level: 2 })
      .first()
      .getByText(/settled$/)
      .waitFor()
    await docket().getByLabel('Order').selectOption('riskiest first')
  })
})

describe('names', () => {
  it('a rule tells all it would change before it is set, and is taken back', async () => {
    await page.goto(`${appUrl}/p/fennmoor-co-operative/review?at=${encodeURIComponent('entity:field.hive')}`)
    await evidence().getByText('becomes the class').waitFor()
    await page.keyboard.press('n')
    const rules = page.getByRole('region', { name: 'Naming rules' })
    await rules.getByText('None yet').waitFor()
    await rules.getByLabel('The word').fill('no')
    await rules.getByRole('textbox', { name: 'Read as' }).fill('number')
    await rules.getByRole('cell', { name: 'Keeper.keeperNo' }).waitFor()
    await rules.getByRole('button', { name: 'Set the rule' }).click()
    await rules.getByRole('list', { name: 'Rules in force' }).getByText('“no” is read as “number”').waitFor()
    await docket()
      .getByRole('button', { name: /^relationships/ })
      .click()
    await docket().getByLabel('Search the docket').fill('hive(apiary_id)')
    await docket().getByRole('listitem').first().click()
    await page.keyboard.press('n')
    await rules.getByRole('button', { name: 'Take back' }).click()
    await rules.getByText('None yet').waitFor()
    await page.keyboard.press('n')
    await docket().getByLabel('Search the docket').fill('')
  })

  it('that there is at most one can be said, and is taken back', async () => {
    await page.goto(`${appUrl}/p/fennmoor-co-operative/review?at=${encodeURIComponent('reference:field.hive(apiary_id)')}`)
    await evidence().getByText('An apiary has any number of').waitFor()
    await evidence().getByRole('button', { name: 'Say that there is at most one' }).click()
    await page.keyboard.type('the office keeps it so')
    await page.keyboard.press('Enter')
    await evidence().getByText('An apiary has at most one').waitFor()
    await evidence().getByText('somebody says so; no unique rule on apiary_id').waitFor()
    await page.keyboard.press('u')
    await evidence().getByText('An apiary has any number of').waitFor()
  })
})

it('nothing was complained about in the console', () => expect(complaints).toEqual([]))
