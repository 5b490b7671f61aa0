// In Chromium, a schema of 300 tables: what is drawn can be read, and the whole docket is worked from the keyboard.
import type { Browser, Page } from 'playwright-core'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { fromScript, visit } from '../support/browser.ts'
import { legacyScript } from '../support/legacy.ts'

let browser: Browser
let page: Page
let complaints: readonly string[] = []
let project = ''

const docket = () => page.getByRole('region', { name: 'Docket' })
const evidence = () => page.getByRole('region', { name: 'Evidence' })
const lit = () => docket().locator('[aria-current="true"]')
const open = async (p: Page, path = '') => {
  await p.goto(`${project}/review${path}`)
  await p.locator('.strata .block-label').first().waitFor()
}

beforeAll(async () => {
  ;({ browser, page, complaints } = await visit('Mara'))
})
afterAll(async () => {
  await browser?.close()
})

describe('300 tables', () => {
  it('what is drawn is at least 10 px high and covered by nothing', async () => {
    project = await fromScript(page, 'Three hundred', legacyScript(300))
    await open(page)
    // The first view is the whole: blocks with their names and what waits in them.
    for (const level of ['far', 'names', 'middle', 'near', 'close']) {
      const at = () => page.locator('.strata').getAttribute('data-level')
      for (let i = 0; i < 8 && (await at()) !== level; i += 1) await page.getByRole('button', { name: 'Zoom in' }).click()
      expect(await at()).toBe(level)
      const faults = await page.evaluate(() => {
        const view = (document.querySelector('.strata') as SVGElement).getBoundingClientRect()
        const k = (document.querySelector('.strata') as SVGElement & { __zoom: { k: number } }).__zoom.k
        const texts = [...document.querySelectorAll<SVGTextElement>('.strata text')].flatMap((t) => {
          const b = t.getBoundingClientRect()
          const size = Number.parseFloat(getComputedStyle(t).fontSize) * k
          if (b.width === 0 || b.right < view.left || b.left > view.right || b.bottom < view.top || b.top > view.bottom) return []
          // Of a line of text what is inked: without the room above capitals and below the base line.
          return [{ says: t.textContent ?? '', size, left: b.left, right: b.right, top: b.top + b.height * 0.28, bottom: b.bottom - b.height * 0.28 }]
        })
        const small = texts.filter((t) => t.size < 9.95).map((t) => `${t.says} ${t.size.toFixed(1)}`)
        const covered = texts.flatMap((a, i) =>
          texts
            .slice(i + 1)
            .flatMap((b) => (a.left < b.right - 1 && b.left < a.right - 1 && a.top < b.bottom && b.top < a.bottom ? [`${a.says} / ${b.says}`] : [])),
        )
        return { n: texts.length, small, covered }
      })
      console.log(`${level}: ${faults.n} labels, ${faults.small.length} small, ${faults.covered.length} covered ${faults.covered.slice(0, 6).join('; ')}`)
      expect(faults.n).toBeGreaterThan(level === 'far' ? 5 : 12)
      expect(faults.small).toEqual([])
      expect(faults.covered).toEqual([])
    }
  })

  it('are worked to zero open by keys: most of it in bulk', async () => {
    await docket()
      .getByRole('button', { name: /^waiting/ })
      .click()
    const waiting = async () =>
      Number(
        /\d+/.exec(
          (await docket()
            .getByRole('button', { name: /^waiting/ })
            .textContent()) ?? '',
        )?.[0],
      )
    const begun = await waiting()
    let [keys, single, inBulk] = [0, 0, 0]
    const press = async (key: string) => {
      keys += 1
      await page.keyboard.press(key)
    }
    let bulkKeys = 0
    await press('j')
    for (let left = begun; left > 0; ) {
      await lit().waitFor()
      const several = evidence().getByRole('button', { name: /at once/ })
      await expect.poll(async () => (await evidence().locator('p.db').first().textContent())?.trim()).not.toBe('')
      if ((await several.count()) > 0) {
        await press('b')
        await page.getByRole('region', { name: 'One ruling for all' }).getByRole('button', { name: /For/ }).first().waitFor()
        await press('1')
        bulkKeys += 2
        await expect.poll(waiting).toBeLessThan(left)
        inBulk += left - (await waiting())
      } else {
        await press('a')
        single += 1
        await expect.poll(waiting).toBeLessThan(left)
      }
      left = await waiting()
    }
    console.log(`300 tables: ${begun} open; ${inBulk} in bulk with ${bulkKeys} keys, ${single} one by one with ${keys - bulkKeys} keys`)
    expect(keys - bulkKeys).toBeLessThanOrEqual(1.5 * Math.max(1, single))
    expect(inBulk).toBeGreaterThanOrEqual(begun / 2)
    await docket().getByText('Nothing waits for a ruling').waitFor()
  })

  it('nothing was complained about in the console', () => {
    expect(complaints).toEqual([])
  })
})
