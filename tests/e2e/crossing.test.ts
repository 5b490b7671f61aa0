// From a finding to a database that was changed: declared, pre-checked, cleaned, rehearsed with rows, adopted, applied, watched.
import { readFileSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { appUrl, makeProject } from '../support/app.ts'
import { type Visit, visit } from '../support/browser.ts'
import { admin, loadScript, makeDatabase, rowsOf } from '../support/server.ts'

let v: Visit
let db: Awaited<ReturnType<typeof makeDatabase>>
let at = ''
beforeAll(async () => {
  db = await makeDatabase()
  loadScript(db.url, 'demo/schema.sql')
  loadScript(db.url, 'demo/rows.sql')
  at = `${appUrl}/p/${await makeProject('The crossing', db.url)}`
  v = await visit('Mara')
})
afterAll(async () => {
  await v.browser.close()
  await db.drop()
})

const button = (name: string | RegExp) => v.page.getByRole('button', { name, exact: typeof name === 'string' })

describe('from a finding to a changed database', () => {
  it('the finding of the levies offers to declare it', async () => {
    const { page } = v
    await page.goto(`${at}/review?at=${encodeURIComponent('reference:coop.bk_levy(keeper_no)')}`)
    const offer = page.getByRole('region', { name: 'Schema change' })
    await offer.getByText('coop.bk_levy(keeper_no) is declared to refer to coop.bk_keeper(keeper_no)').waitFor()
    await offer.getByRole('button', { name: /Declare and index it/ }).click()
    await offer.getByText('It is asked for').waitFor()
  })

  it('the baseline is kept, and adopted where the schema is', async () => {
    const { page } = v
    await page.goto(`${at}/plan?plan=baseline`)
    const gate = page.getByRole('region', { name: 'Gate' })
    await gate.getByRole('link', { name: /^\d+ findings are open$/ }).waitFor()
    expect(await page.getByLabel('Title of the plan').count()).toBe(0)
    expect(await page.getByRole('link', { name: 'Download the folder' }).count()).toBe(0)
    await gate.getByRole('button', { name: /^Take the proposals as they stand/ }).click()
    await gate
      .getByRole('link', { name: /lev(y|ies)/i })
      .first()
      .waitFor()
    await gate.getByLabel('Note').fill('the baseline does not wait for them')
    await gate.getByRole('button', { name: /^Take these \d+ as they stand$/ }).click()
    await gate.getByRole('button', { name: 'Seal this revision' }).click()
    await button('Keep as plan 0001').click()
    await page.getByText('Kept as 0001').waitFor()
    await page.goto(`${at}/watch`)
    await button('The database this project is read from').click()
    await button('Look now').click()
    await page.getByText('○ not applied').waitFor()
    // Nothing was rehearsed: that is said, and nothing is adopted before somebody agrees; what was said stays.
    await page.getByText('▲ was never rehearsed as it is now').waitFor()
    expect(await button(/^Adopt/).isDisabled()).toBe(true)
    await page.getByRole('checkbox', { name: /^Not proven: it was never rehearsed/ }).check()
    await button(/^Adopt/).click()
    await page.getByText('● adopted').waitFor()
    await page.getByText('When it came here, it was never rehearsed as it is now; agreed to.').waitFor()
    await button(/^▸ \d+ steps$/).click()
    const step = page.getByRole('row').filter({ has: page.getByRole('link', { name: /\d+ table coop\.bk_levy is made/ }) })
    await step.getByText('● adopted').waitFor()
  })

  it('a change asked for where the thing is is told while it is typed, and refused where it cannot be', async () => {
    const { page } = v
    await page.goto(`${at}/catalog?at=coop.bk_keeper`)
    await button('Change full_name in the database').click()
    const form = page.getByRole('dialog', { name: 'A change of the database' })
    await form.getByLabel('What changes').selectOption('drop column')
    expect(await form.getByLabel('Column', { exact: true }).inputValue()).toBe('full_name')
    await form.getByText(/Not possible: view coop\.open_levies needs it/).waitFor()
    expect(await form.getByRole('button', { name: 'Ask for it' }).isDisabled()).toBe(true)
    await page.keyboard.press('Escape')
    await page.goto(`${at}/catalog?at=coop.bk_office`)
    await button('Change it in the database …').click()
    await form.getByLabel('What changes').selectOption('add column')
    await form.getByLabel('Its name').fill('since')
    await form.getByRole('combobox', { name: 'Type' }).pressSequentially('dat')
    await form.getByRole('option', { name: 'date', exact: true }).waitFor()
    await page.keyboard.press('ArrowDown')
    await page.keyboard.press('Enter')
    await form.getByText('Schema change: coop.bk_office gets the column since of type date').waitFor()
    await form.getByRole('button', { name: 'Ask for it' }).click()
    await form.getByRole('status').getByText('Asked for: coop.bk_office gets the column since of type date').waitFor()
    // What was asked for is there to choose from at once.
    await form.getByLabel('What changes').selectOption('set type')
    await form.getByLabel('Column', { exact: true }).selectOption('since')
    expect(await form.getByRole('combobox', { name: 'Type' }).inputValue()).toBe('date')
    await form.getByRole('link', { name: 'Plan' }).click()
    await page
      .getByText(/entry \d by Mara/)
      .nth(1)
      .waitFor()
    await page.getByRole('link', { name: /column coop\.bk_office\.since/ }).waitFor()
  })

  it('from a plate, a line, a sheet and a key of the catalog it begins with what stands there', async () => {
    const { page } = v
    const form = page.getByRole('dialog', { name: 'A change of the database' })
    const offered = () => form.getByLabel('What changes').locator('option:not([disabled])').allTextContents()
    await page.goto(`${at}/review?at=${encodeURIComponent('entity:field.hive')}`)
    await button('C Change it in the database …').waitFor()
    await page.keyboard.press('c')
    await form.getByRole('heading', { name: 'Change field.hive' }).waitFor()
    expect(await offered()).toEqual(expect.arrayContaining(['Declare a reference', 'Add a column', 'Change its type']))
    await form.getByLabel('What changes').selectOption('declare reference')
    const refersTo = form.getByRole('combobox', { name: 'Refers to' })
    await refersTo.pressSequentially('offi')
    await form.getByRole('option', { name: 'coop.bk_office', exact: true }).click()
    await expect.poll(() => form.getByRole('combobox', { name: 'Its columns' }).inputValue()).not.toBe('')
    // No key reaches the desk behind it.
    await form.getByRole('button', { name: 'Esc Close' }).focus()
    await page.keyboard.press('n')
    expect(await page.getByRole('region', { name: 'Names' }).count()).toBe(0)
    await page.keyboard.press('Escape')
    await expect.poll(() => form.count()).toBe(0)
    await page.keyboard.press('o')
    await button('Change apiary_id in the database').first().click()
    await form.getByRole('heading', { name: 'Change field.hive(apiary_id)' }).waitFor()
    await page.keyboard.press('Escape')
    await page.goto(`${at}/catalog?at=field.hive`)
    const drop = page.getByRole('button', { name: /^Change .*_fkey in the database$/ }).first()
    await drop.click()
    await form.getByText(/^Schema change: the reference .* of field\.hive is dropped/).waitFor()
    expect(await offered()).toEqual(['Drop a reference'])
    await page.keyboard.press('Escape')
    await page.goto(`${at}/plan?plan=draft`)
    await button('A new table …').click()
    await form.getByRole('combobox', { name: 'Table' }).fill('coop.shelf')
    await form.getByLabel('Its key').fill('shelf_id')
    await form.getByText('Schema change: the table coop.shelf is made').waitFor()
    await form.getByRole('button', { name: 'Ask for it' }).click()
    await page.keyboard.press('Escape')
    await page.getByRole('link', { name: /table coop\.shelf/ }).waitFor()
    await button('Change coop.shelf in the database').click()
    await form.getByLabel('What changes').selectOption('drop table')
    await form.getByText('Schema change: the table coop.shelf is dropped').waitFor()
    await page.keyboard.press('Escape')
    await button(/^Take back entry/)
      .last()
      .click()
    await expect.poll(() => page.getByRole('link', { name: /table coop\.shelf/ }).count()).toBe(0)
  })

  it('orphans are found beforehand, and a cleaning is agreed to as a step of its own', async () => {
    const { page } = v
    await button('Ask').click()
    await page.getByText('No: 3 in the way').waitFor()
    await page.getByText('FM-0909').waitFor()
    await button('Agree, and make it a step').click()
    await page.getByRole('link', { name: /rows before foreign key/ }).waitFor()
    expect(await rowsOf(db.name, `select count(*)::int as n from coop.bk_levy where keeper_no like 'FM-09_9'`)).toEqual([{ n: 3 }])
  })

  it('the map beside the steps marks what they touch, and a plate leads to its steps', async () => {
    const { page } = v
    const map = page.getByRole('region', { name: 'Strata map' })
    const plate = (id: string, is: string) => map.locator(`.plate[data-id="${id}"][data-becomes="${is}"]`)
    await plate('coop.bk_levy', 'changed').getByText('changes').waitFor()
    await plate('coop.bk_keeper', 'locked').waitFor()
    await map.locator('.line[data-id="reference:coop.bk_levy(keeper_no)"][data-becomes="made"]').waitFor()
    expect(await map.locator('.plate[data-id="field.hive"]').count()).toBe(0)
    await plate('coop.bk_office', 'changed').locator('.name').click()
    const lit = page.getByRole('list', { name: 'Steps in order' }).locator('[aria-current="step"]')
    await expect.poll(() => lit.textContent()).toContain('coop.bk_office.since')
    await map.locator('.plate.chosen[data-id="coop.bk_office"]').waitFor()
    await plate('coop.bk_keeper', 'locked').locator('.name').click()
    await page.getByText('No step is about coop.bk_keeper.').waitFor()
    await page.getByLabel('the whole map').check()
    await map.locator('.block-label').getByText('Hives').waitFor()
    await plate('coop.bk_levy', 'changed').waitFor()
  })

  it('it is rehearsed with rows, and kept', async () => {
    const { page } = v
    await button('Rehearse with rows').click()
    await page.getByText(/^Proven on PostgreSQL .* with [\d,]+ rows/).waitFor()
    await button('Seal this revision').click()
    await page.getByLabel('Title of the plan').fill('Levies refer to keepers')
    await button('Keep as plan 0002').click()
    await page.getByText('Kept as 0002').waitFor()
    await page.getByText(/^Proven on PostgreSQL/).waitFor()
    await page.getByRole('link', { name: '0001 baseline' }).click()
    await page.getByText(/stale: the ledger has \d+ entries since/).waitFor()
    await page.getByRole('link', { name: '0002 Levies refer to keepers' }).click()
    await page.getByText('Kept as 0002').waitFor()
    expect(await page.getByText(/stale: the ledger/).count()).toBe(0)
  })

  it('it is applied, and there is no drift', async () => {
    const { page } = v
    await page.goto(`${at}/watch`)
    expect(await page.getByText('▲ was never rehearsed').count()).toBe(1)
    expect(await page.getByRole('checkbox', { name: /^Not proven/ }).count()).toBe(0)
    await button('Apply').click()
    await page.getByText('● applied').waitFor()
    await button(/^▸ \d steps$/).click()
    await expect.poll(() => page.getByText('● done').count()).toBe(5)
    await button('Look now').click()
    await page.getByText('No drift').waitFor()
    expect(await rowsOf(db.name, `select count(*)::int as n, count(keeper_no)::int as k from coop.bk_levy where levy_id <= 3`)).toEqual([{ n: 3, k: 0 }])
    expect(await rowsOf(db.name, `select convalidated from pg_constraint where conname = 'bk_levy_keeper_no_fkey'`)).toEqual([{ convalidated: true }])
  })

  it('drift made by hand is told with its remedies, planned away by the SQL that is offered, or left with a reason', async () => {
    const { page } = v
    await admin(db.name, 'alter table coop.bk_office add column extra text', 'drop index coop.bk_levy_keeper_no_idx')
    await button('Look now').click()
    await page.getByText('2 differences').waitFor()
    const extra = page.getByRole('listitem').filter({ hasText: 'columns[extra]' })
    await extra.getByText('only in the database').waitFor()
    await extra.getByRole('button', { name: 'leave it as it is' }).click()
    await extra.getByLabel('Reason').fill('the office asked for it')
    await extra.getByRole('button', { name: 'Leave it', exact: true }).click()
    await page.getByText('One difference').waitFor()
    await page.getByText('1 left as they are').waitFor()
    const [download] = await Promise.all([page.waitForEvent('download'), page.getByRole('link', { name: /SQL that plans it away/ }).click()])
    const sql = readFileSync((await download.path()) as string, 'utf8')
    expect(sql).toContain('CREATE INDEX CONCURRENTLY bk_levy_keeper_no_idx')
    expect(sql).toContain('DROP COLUMN extra')
    await admin(db.name, 'create index bk_levy_keeper_no_idx on coop.bk_levy (keeper_no)')
    await button('Look now').click()
    await page.getByText('No drift').waitFor()
  })

  it('a survey afterwards has it declared, and the draft is empty', async () => {
    const { page } = v
    await page.goto(`${at}/source`)
    await button('Survey again').click()
    await page.goto(`${at}/plan?plan=draft`)
    await page.getByText('There is nothing to change').waitFor()
    expect(v.complaints).toEqual([])
  })
})
