// Two people in one project: what one changes while the other looks away, what merges, what builds on what, and the way back to the first model.
import { readFileSync } from 'node:fs'
import type { Page } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import type { SnapshotHash } from '../../src/core/catalog/index.ts'
import { emitTypeScript } from '../../src/core/emit/typescript/index.ts'
import { decodeEntry } from '../../src/core/model/index.ts'
import { review } from '../../src/core/review/index.ts'
import { fromScript, type Visit, visit } from '../support/browser.ts'
import { postgres } from '../support/plans.ts'

const catalog = postgres(readFileSync('demo/schema.sql', 'utf8'))

let mara: Visit
let jon: Visit
let project = ''
let first: Readonly<Record<string, string>> = {}

beforeAll(async () => {
  ;[mara, jon] = await Promise.all([visit('Mara'), visit('Jon')])
  project = await fromScript(mara.page, 'Two people', readFileSync('demo/schema.sql', 'utf8'))
  first = await code()
})
afterAll(async () => {
  await mara?.browser.close()
  await jon?.browser.close()
})

/** The files that the ledger comes to, without the line that names their revision. */
async function code(): Promise<Readonly<Record<string, string>>> {
  const { entries } = (await (await fetch(`${project.replace('/p/', '/api/projects/')}/ledger`)).json()) as { entries: readonly unknown[] }
  const { model, revision } = review(catalog, '' as SnapshotHash, entries.map(decodeEntry))
  return Object.fromEntries(
    emitTypeScript(model, revision)
      .filter((f) => f.own === null)
      .map((f) => [f.path.replace('base/', ''), f.text.replace(/^.*\n/, '')]),
  )
}
const evidence = (p: Page) => p.getByRole('region', { name: 'Evidence' })
const at = async (p: Page, id: string) => {
  await p.goto(`${project}/review?at=${encodeURIComponent(id)}`)
  await evidence(p)
    .getByRole('button', { name: /Accept/ })
    .waitFor()
}
async function rename(p: Page, from: string, to: string): Promise<void> {
  await evidence(p).locator('button.noun', { hasText: from }).click()
  const field = evidence(p).getByLabel(/^New name for/)
  await field.fill(to)
  await field.press('Enter')
}
const noun = (p: Page, name: string) => evidence(p).locator('button.noun', { hasText: name })
const entries = (p: Page, n: number) => p.getByRole('link', { name: `Ledger ${n}`, exact: true }).waitFor()

describe('two people', () => {
  const reference = 'reference:field.hive(apiary_id)'

  it('the same name given twice: the second hears of the first before it counts', async () => {
    // Jon hears of nothing for a while.
    await jon.page.route('**/events', (route) => route.abort())
    await Promise.all([at(mara.page, reference), at(jon.page, reference)])
    await rename(mara.page, 'apiary', 'place')
    await entries(mara.page, 1)
    await rename(jon.page, 'apiary', 'stand')
    await jon.page.getByText('Mara changed the same thing meanwhile (entry 1)', { exact: false }).waitFor()
    expect(
      await evidence(jon.page)
        .getByLabel(/^New name for/)
        .inputValue(),
    ).toBe('stand')
    expect((await code())['Hive.ts']).toContain('get place(): Apiary | undefined')
  })

  it('the other name of the same relationship merges, though its giver had not seen the first', async () => {
    await jon.page.keyboard.press('Escape')
    await rename(jon.page, 'hives', 'colonies')
    await entries(jon.page, 2)
    await noun(mara.page, 'colonies').waitFor()
    await noun(mara.page, 'place').waitFor()
    expect((await code())['Apiary.ts']).toContain('get colonies(): Many<Hive> | undefined')
    await jon.page.unroute('**/events')
  })

  it('an entry that a later one builds on is not taken back without it, and the refusal names that one', async () => {
    await at(jon.page, reference)
    await rename(jon.page, 'place', 'ground')
    await entries(jon.page, 3)
    await noun(mara.page, 'ground').waitFor()
    await evidence(mara.page).getByRole('listitem').filter({ hasText: '1, Mara' }).getByRole('button', { name: 'Take back' }).click()
    await mara.page.getByText('Entry 3 by Jon builds on entry 1; take that one back first').waitFor()
  })

  it('a join table to an entity and back, a reason against the database, and all of it taken back: the first model', async () => {
    const join = 'join-table:field.apiary_forage_site'
    await at(mara.page, join)
    await mara.page.keyboard.press('e')
    await expect.poll(async () => Object.keys(await code())).toContain('ApiaryForageSite.ts')
    await mara.page.keyboard.press('e')
    await entries(mara.page, 5)
    await at(mara.page, reference)
    await evidence(mara.page).getByRole('button', { name: 'Say that there is at most one' }).click()
    await evidence(mara.page)
      .getByLabel(/: why\?$/)
      .fill('each place has one by contract')
    await mara.page.keyboard.press('Enter')
    await entries(mara.page, 6)
    expect((await code())['Apiary.ts']).not.toEqual(first['Apiary.ts'])
    await mara.page.goto(`${project}/ledger`)
    for (let seq = 6; seq > 0; seq -= 1) {
      await mara.page
        .getByRole('listitem')
        .filter({ has: mara.page.getByText(String(seq), { exact: true }) })
        .getByRole('button', { name: 'Take back' })
        .click()
      await entries(mara.page, 13 - seq)
    }
    expect(await code()).toEqual(first)
    expect([...mara.complaints, ...jon.complaints.filter((c) => !/events|ERR_FAILED/.test(c))]).toEqual([])
  })
})
