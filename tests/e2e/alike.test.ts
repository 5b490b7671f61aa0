// One question asked at many places, in Chromium: link tables with columns of their own, pairs that tell their table by a word.
import type { Page } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { fromScript, type Visit, visit } from '../support/browser.ts'

const script = `
  CREATE TABLE bay (id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY, label text);
  CREATE TABLE crate (id integer PRIMARY KEY, label text);
  CREATE TABLE lane (id integer PRIMARY KEY, label text);
  CREATE TABLE bay_crate (bay_id integer REFERENCES bay, crate_id integer REFERENCES crate, dose numeric NOT NULL, PRIMARY KEY (bay_id, crate_id));
  CREATE TABLE bay_lane (bay_id integer REFERENCES bay, lane_id integer REFERENCES lane, remark text NOT NULL, PRIMARY KEY (bay_id, lane_id));
  CREATE TABLE remark (id integer PRIMARY KEY, subject_type text CHECK (subject_type IN ('bay', 'crate')), subject_id integer, words text);
  CREATE TABLE picture (id integer PRIMARY KEY, owner_type text CHECK (owner_type IN ('bay', 'lane')), owner_id integer, file text);`

let v: Visit
let page: Page
let project = ''
beforeAll(async () => {
  v = await visit('Mara')
  ;({ page } = v)
  project = await fromScript(page, 'Alike', script)
})
afterAll(async () => {
  await v.browser.close()
})

const button = (name: string | RegExp) => page.getByRole('button', { name, exact: typeof name === 'string' })

describe('link tables with columns of their own', () => {
  it('are one question where the review opens, and are ruled on at once', async () => {
    await page.goto(`${project}/review`)
    const opening = page.getByRole('region', { name: 'Opening' })
    await opening.getByText('2 tables that link two others have columns of their own').waitFor()
    await opening.getByRole('button', { name: 'Read past them as well …' }).click()
    const bulk = page.getByRole('region', { name: 'One ruling for all' })
    await bulk.getByText('2 tables that link two others and have columns of their own, read as entities.').waitFor()
    await bulk.getByRole('button', { name: /For all 2: an entity, and a many-to-many beside it to read by/ }).click()
    await expect.poll(() => bulk.count()).toBe(0)
    await page.goto(`${project}/ledger`)
    await page.getByText('amended join-table:public.bay_crate to an entity with a many-to-many beside it').waitFor()
    await page.goto(`${project}/review`)
    await button(/^relationships/).click()
    await page.getByRole('region', { name: 'Docket' }).getByText('as an entity with a many-to-many beside it').first().waitFor()
  })

  it('can be read past from the sheet of either partner', async () => {
    // One key takes back the one ruling on both.
    await page.keyboard.press('u')
    await page.getByRole('link', { name: 'Ledger 4' }).waitFor()
    await page.goto(`${project}/review?at=entity:public.lane&show=sheet`)
    const ways = page.getByRole('list', { name: 'Ways past link tables' })
    await ways.getByText('Bay, past BayLane').waitFor()
    await ways.getByRole('button', { name: 'Read past it' }).click()
    await page
      .getByRole('region', { name: 'Sheet' })
      .getByRole('button', { name: /^bays: any number of Bay/ })
      .waitFor()
    await expect.poll(() => ways.count()).toBe(0)
    await page.keyboard.press('u')
    await ways.getByText('Bay, past BayLane').waitFor()
  })
})

describe('pairs of columns that tell their table by a word', () => {
  it('of other names are alike where the same speaks for them', async () => {
    await page.goto(`${project}/review?at=${encodeURIComponent('polymorphic:public.remark(subject_id,subject_type)')}`)
    await button(/B 2 at once/).click()
    const bulk = page.getByRole('region', { name: 'One ruling for all' })
    await bulk.getByText(/^2 pairs of columns with the same for and against/).waitFor()
    await bulk.getByRole('button', { name: /^1 For all 2/ }).click()
    await expect.poll(() => bulk.count()).toBe(0)
    expect(v.complaints).toEqual([])
  })
})
