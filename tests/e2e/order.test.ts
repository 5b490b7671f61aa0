// The order of rows beside the map, and a one-to-one that somebody claims, in Chromium.
import { readFileSync } from 'node:fs'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { fromScript, type Visit, visit } from '../support/browser.ts'

let v: Visit
let at = ''
beforeAll(async () => {
  v = await visit('Mara')
  at = await fromScript(v.page, 'Orders', readFileSync('demo/schema.sql', 'utf8'))
})
afterAll(async () => {
  await v.browser.close()
})
const open = async (path = '') => {
  await v.page.goto(`${at}/review${path}`)
  await v.page.locator('.strata .plate').first().waitFor()
}

describe('the order of rows', () => {
  it('is a list of portions, in both directions, and leads to each table on the map', async () => {
    await open()
    const pane = v.page.getByRole('region', { name: 'Row order' })
    await v.page.getByRole('button', { name: 'Order', exact: false }).filter({ hasText: 'L' }).click()
    const portions = () => pane.getByRole('list', { name: 'Portions' }).locator('> li')
    await portions().first().waitFor()
    const first = await portions().first().textContent()
    expect(first).toContain('refer to nothing else')
    expect(first).toContain('field.breed')
    await pane.getByLabel('to delete').check()
    await expect.poll(() => portions().last().textContent()).toBe(first)
    // Walking along the list keeps it open.
    await pane.getByRole('button', { name: 'Season', exact: true }).click()
    await v.page.locator('.strata .plate.chosen[data-id="coop.season"]').first().waitFor()
    await pane.getByText('to insert or read').waitFor()
    await v.page.keyboard.press('Escape')
    await pane.waitFor({ state: 'detached' })
    expect(v.complaints).toEqual([])
  })
})

describe('a one-to-one that somebody claims', () => {
  it('says on its sheet that nothing guards it, and offers the rule that would', async () => {
    await open('?at=reference%3Afield.hive(apiary_id)')
    const evidence = v.page.getByRole('region', { name: 'Evidence' })
    await evidence.getByRole('button', { name: 'Say that there is at most one' }).click()
    await evidence.getByLabel(/why/i).fill('one hive each by now')
    await evidence.getByRole('button', { name: 'Say so' }).click()
    await evidence.getByText('nothing in the database guards it').first().waitFor()
    await evidence.getByText('Guard it by a unique rule').first().waitFor()
    await evidence
      .getByText(/with more than one Hive/)
      .first()
      .waitFor()
    expect(v.complaints).toEqual([])
  })
})
