// The map from one survey to the next, in Chromium: what stood stays where it was, in every tab, and after the server's memory is gone.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { appUrl, makeProject } from '../support/app.ts'
import { type Visit, visit } from '../support/browser.ts'
import { admin, loadScript, makeDatabase } from '../support/server.ts'

let v: Visit
let db: Awaited<ReturnType<typeof makeDatabase>>
let at = ''
beforeAll(async () => {
  db = await makeDatabase()
  loadScript(db.url, 'demo/schema.sql')
  at = `${appUrl}/p/${await makeProject('Surveyed twice', db.url)}`
  v = await visit('Mara')
})
afterAll(async () => {
  await v.browser.close()
  await db.drop()
})

/** Where each plate stands on the map. */
async function places(): Promise<ReadonlyMap<string, string>> {
  await v.page.goto(`${at}/review`)
  await v.page.locator('.strata .plate').first().waitFor()
  // All findings are there: what the worker makes of the map has taken the place of what was kept.
  await v.page.getByText('so far').waitFor({ state: 'hidden' })
  const found = await v.page.locator('.strata .plate').evaluateAll((plates) =>
    plates.map((p) => {
      const { x, y } = (p as SVGGElement).getBBox()
      return [(p as SVGGElement).dataset['id'] ?? '', `${Math.round(x)} ${Math.round(y)}`] as const
    }),
  )
  return new Map(found)
}

describe('another survey', () => {
  it('of a schema with one table more leaves nearly all where it was, and says so in every view of it', async () => {
    const was = await places()
    await admin(db.name, 'create table field.smoker (id integer primary key, apiary_id integer not null references field.apiary (id), bought_on date)')
    await v.page.goto(`${at}/source`)
    await v.page.getByRole('button', { name: 'Survey again' }).click()
    await v.page.getByRole('region', { name: 'Surveys' }).getByText('field.smoker').first().waitFor()
    const is = await places()
    expect(is.has('field.smoker')).toBe(true)
    const stood = [...was].filter(([id, place]) => is.get(id) === place)
    expect(stood.length).toBeGreaterThan(was.size / 2)
    expect(await places()).toEqual(is)
    expect(v.complaints).toEqual([])
  })
})
