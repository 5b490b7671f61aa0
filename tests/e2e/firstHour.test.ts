// The guide of the first hour, followed step by step on the demo: what is pressed is what the guide says.
import { readFileSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { appUrl } from '../support/app.ts'
import { type Visit, visit } from '../support/browser.ts'

const guide = readFileSync('docs/guide/first-hour.md', 'utf8').split(/^(?=\d+\. )/m)
/** The words of a step; the lines of the guide break where they like. */
const step = (n: number) => (guide[n] ?? '').replace(/\s+/g, ' ')
/** A label, once the step is found to say it. */
const said = (n: number, label: string): string => {
  expect(step(n), `step ${n} says ${label}`).toContain(label)
  return label
}

let v: Visit
const at = `${appUrl}/p/fennmoor-co-operative`
beforeAll(async () => {
  v = await visit(null)
})
afterAll(async () => {
  await v?.browser.close()
})
const button = (name: string | RegExp) => v.page.getByRole('button', { name, exact: typeof name === 'string' })
const stage = (name: string) =>
  v.page
    .getByRole('link', { name: new RegExp(`^${name}`) })
    .first()
    .click()
const docket = () => v.page.getByRole('region', { name: 'Docket' })
const evidence = () => v.page.getByRole('region', { name: 'Evidence' })
const ledger = (n: number) => v.page.getByRole('link', { name: `Ledger ${n}`, exact: true }).waitFor()
let entries = 0
/** A key of the table in the guide, which adds an entry to the ledger. */
async function ruled(key: string): Promise<void> {
  said(4, `\`${key.toUpperCase()}\``)
  await v.page.keyboard.press(key)
  entries += 1
  await ledger(entries)
}

describe('the first hour', () => {
  it('has nine steps', () => expect(guide).toHaveLength(10))

  it('1 and 2: a name, and the co-operative', async () => {
    const { page } = v
    await page.goto(appUrl)
    said(1, 'Your name is asked once')
    await page.getByLabel('Rulings are signed. By whom?').fill('Mara')
    await button('Sign with this name').click()
    said(2, 'Open the co-operative')
    await page.getByRole('link', { name: /Fennmoor co-operative/ }).click()
    await page.getByRole('region', { name: 'Opening' }).waitFor()
  })

  it('3: the source, the scope and the catalog', async () => {
    const { page } = v
    await stage(said(3, 'Source'))
    await page.getByText(/objects counted =/).waitFor()
    await button(said(3, 'Survey again')).click()
    await page.getByRole('region', { name: 'Surveys' }).getByText('nothing changed').first().waitFor()
    await stage(said(3, 'Scope'))
    await page.getByRole('textbox', { name: 'Search the scope' }).waitFor()
    await stage(said(3, 'Catalog'))
    await page.getByRole('heading', { name: 'At a glance' }).waitFor()
    said(3, '`Ctrl K`')
    await page.keyboard.press('Control+k')
    await page.getByRole('dialog', { name: 'Find' }).getByRole('textbox').fill('hive')
    await page
      .getByRole('dialog', { name: 'Find' })
      .getByRole('button', { name: /field\.hive/ })
      .first()
      .waitFor()
    await page.keyboard.press('Escape')
  })

  it('4: rulings by key', async () => {
    const { page } = v
    await stage(said(4, 'Review'))
    await page
      .getByRole('region', { name: 'Opening' })
      .getByText(/questions wait for you/)
      .waitFor()
    await docket()
      .getByRole('button', { name: said(4, 'Read rows'), exact: true })
      .click()
    await docket()
      .getByText(/^Rows read .* comparisons/)
      .waitFor()
    for (const key of ['j', 'k']) {
      said(4, `\`${key.toUpperCase()}\``)
      await page.keyboard.press(key)
      await docket().locator('[aria-current="true"]').waitFor()
    }
    await evidence()
      .getByRole('button', { name: /Accept/ })
      .waitFor()
    await ruled('a')
    await ruled('u')
    await page.goto(`${at}/review?at=${encodeURIComponent('join-table:coop.committee_member')}`)
    await evidence()
      .getByRole('button', { name: /Accept/ })
      .waitFor()
    await ruled('e')
    await ruled('u')
    await page.goto(`${at}/review?at=${encodeURIComponent('reference:field.hive(apiary_id)')}`)
    await evidence()
      .getByRole('button', { name: /Reject/ })
      .waitFor()
    await ruled('x')
    await ruled('u')
    // What is ruled on gave way to the next that waits.
    await page.goto(`${at}/review?at=${encodeURIComponent('reference:field.hive(apiary_id)')}`)
    await evidence()
      .getByRole('button', { name: /Reject/ })
      .waitFor()
    said(4, '`M`')
    await page.keyboard.press('m')
    const field = evidence().getByLabel(/^New name for/)
    await field.fill('site')
    await field.press('Enter')
    entries += 1
    await ledger(entries)
    await ruled('u')
    said(4, '`Q`')
    await page.keyboard.press('q')
    await page.keyboard.type('Odile')
    await evidence().getByRole('button', { name: 'Ask', exact: true }).click()
    entries += 1
    await ledger(entries)
    await ruled('u')
    said(4, '`/`')
    await page.keyboard.press('/')
    await page.keyboard.type('levy')
    await expect.poll(() => docket().getByLabel('Search the docket').inputValue()).toBe('levy')
  })

  it('5: the proposals as they stand, and a seal that says what it settles', async () => {
    const { page } = v
    said(5, 'under Code or Plan')
    await stage('Plan')
    const gate = page.getByRole('region', { name: 'Gate' })
    await gate.getByRole('button', { name: new RegExp(`^Take ${said(5, 'the proposals as they stand')}`) }).click()
    await gate.getByRole('button', { name: /^Take these \d+ as they stand$/ }).click()
    await button('Seal this revision').waitFor()
    await stage('Review')
    await button(said(5, 'Seal')).click()
    const seal = page.getByRole('region', { name: 'Seal' })
    await seal.getByText(/proposals that nobody ruled on are settled by it/).waitFor()
    await seal.getByText('The least sure of them').waitFor()
    await seal.getByRole('button', { name: /^Seal at entry/ }).click()
    await page.getByText(/^sealed at \d+$/).waitFor()
  })

  it('6 and 7: a trial, and the code', async () => {
    const { page } = v
    await stage(said(6, 'Trial'))
    await page.getByRole('heading', { name: 'Trial' }).waitFor()
    await stage(said(7, 'Code'))
    await page.getByRole('link', { name: said(7, 'Download all as a zip') }).waitFor()
  })

  it('8: the baseline, and a change that is proven', async () => {
    const { page } = v
    await stage(said(8, 'Plan'))
    await button(said(8, 'Rehearse on a scratch database')).click()
    await page.getByText(/^Proven on PostgreSQL/).waitFor()
    await button(said(8, 'Keep as plan 0001')).click()
    await page.getByText('Kept as 0001').waitFor()
    await page.goto(`${at}/review?at=${encodeURIComponent('reference:coop.bk_levy(keeper_no)')}`)
    await page
      .getByRole('region', { name: 'Schema change' })
      .getByRole('button', { name: new RegExp(said(8, 'Declare and index it')) })
      .click()
    await page.getByText('It is asked for').waitFor()
    await page.goto(`${at}/plan?plan=draft`)
    await button(said(8, 'Ask')).click()
    said(8, 'three levies name a keeper who is not there')
    await page.getByText('No: 3 in the way').waitFor()
    await button(said(8, 'Agree, and make it a step')).click()
    await page.getByRole('link', { name: /rows before foreign key/ }).waitFor()
    await button(said(8, 'Rehearse with rows')).click()
    await page.getByText(/^Proven on PostgreSQL .* with [\d,]+ rows/).waitFor()
    await button('Seal this revision').click()
    await page.getByLabel('Title of the plan').fill('Levies refer to keepers')
    await button(said(8, 'Keep as plan 0002')).click()
    await page.getByText('Kept as 0002').waitFor()
  })

  it('9: adopted, applied and watched', async () => {
    const { page } = v
    await stage(said(9, 'Watch'))
    await button(said(9, 'Look now')).click()
    await page.getByText('○ not applied').first().waitFor()
    await button(new RegExp(`^${said(9, 'Adopt')}`)).click()
    await page.getByText('● adopted').waitFor()
    await button(said(9, 'Apply')).click()
    await page.getByText('● applied').waitFor()
    await button('Look now').click()
    await page.getByText('No drift').waitFor()
    // Home says all of it.
    await page.goto(appUrl)
    const card = page.getByRole('listitem').filter({ hasText: 'Fennmoor co-operative' })
    for (const says of ['sealed at', '0002', 'Levies refer to keepers', 'no drift']) await card.getByText(says).first().waitFor()
  })
})
