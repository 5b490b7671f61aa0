// The notation page: what is typed is read while it is typed, shown as changes of the review, and entered in the ledger.
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { call, eventually, seal } from '../support/app.ts'
import { fromScript, type Visit, visit } from '../support/browser.ts'

const script = `CREATE TABLE bay (id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY, label varchar(20) NOT NULL UNIQUE);
CREATE TABLE crate (id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY, bay_id integer NOT NULL REFERENCES bay (id), note text, lid_no integer);`

let v: Visit
let other: Visit
let at = ''
let id = ''
beforeAll(async () => {
  v = await visit('Mara')
  other = await visit('Jonas')
  at = await fromScript(v.page, 'Notation of the yard', script)
  id = at.split('/').at(-1) as string
})
afterAll(async () => {
  await v.browser.close()
  await other.browser.close()
})

const text = (visitor = v) => visitor.page.getByRole('textbox', { name: 'Notation' })
const pane = (visitor = v) => visitor.page.getByRole('region', { name: 'What it changes' })
const open = async (visitor = v) => {
  await visitor.page.goto(`${at}/code/notation`)
  await text(visitor).getByText('entity Bay = table public.bay').waitFor()
}
/** The whole text is another. */
const type = async (whole: string, visitor = v) => {
  await text(visitor).press('Control+a')
  await visitor.page.keyboard.insertText(whole)
}
const ledger = async () =>
  (await call<{ entries: readonly { kind: string; by: string; edit?: { facet: string; value: unknown } }[] }>(`/api/projects/${id}/ledger`)).body.entries
const head = 'notation 1 for postgresql\n'

describe('the notation of a review', () => {
  it('is there as text, and changes nothing as it stands', async () => {
    await open()
    await pane().getByText('The text says what the review says.').waitFor()
    await pane().getByRole('button', { name: 'Nothing to enter' }).waitFor()
  })

  it('is read while it is typed: errors with the nearest name, under the words and beside them', async () => {
    await type(`${head}entity Crate = table public.crate\n  rack exactly one Bya by (bay_id)\n  weight : datetime\n`)
    await pane().getByText('there is no class Bya; did you mean Bay?').waitFor()
    await pane().getByText('datetime is a type of MySQL, not of PostgreSQL; did you mean timestamp without time zone?').waitFor()
    await v.page.locator('.cm-lintRange-error', { hasText: 'Bya' }).waitFor()
    expect(
      await pane()
        .getByRole('button', { name: /^Enter/ })
        .isDisabled(),
    ).toBe(true)
    // An error leads to its place.
    await pane()
      .getByRole('button', { name: /there is no class Bya/ })
      .click()
    await v.page.keyboard.press('Control+Delete')
    await v.page.keyboard.type('Bay ')
    await pane().getByText('there is no class Bya').waitFor({ state: 'detached' })
  })

  it('offers what could stand at the cursor', async () => {
    await type(`${head}entity Crate = table public.crate\n  lidNo = lid_no : integer, optional\n  lid at most one `)
    await v.page.keyboard.press('Control+End')
    await v.page.keyboard.press('Control+Space')
    await v.page.getByRole('option', { name: /^Bay/ }).waitFor()
    await v.page.keyboard.press('Escape')
  })

  it('keeps what was typed over a reload', async () => {
    await type(`${head}entity Box = table public.crate\n`)
    await pane().getByText('Box').waitFor()
    await v.page.reload()
    await v.page.getByText('What you typed here before is there again.').waitFor()
    await pane().getByText('Box').waitFor()
    await v.page.getByRole('button', { name: 'Back to the review' }).click()
    await pane().getByText('The text says what the review says.').waitFor()
  })

  it('goes into the ledger as it was shown: names, claims, and planned changes of the database', async () => {
    await type(
      `${head}entity Box = table public.crate\n  rack exactly one Bay by (bay_id)\n  lid at most one Bay by (lid_no), model\n  weight : some decimal(6,2), optional\nentity Bay = table public.bay\n  box at most one Box by its (bay_id)\n`,
    )
    await pane().getByText('Box', { exact: true }).waitFor()
    await pane().getByText('of the database, planned').waitFor()
    await pane()
      .getByRole('button', { name: /^Enter \d+ changes in the ledger$/ })
      .click()
    await v.page.getByText(/entries were added to the ledger/).waitFor()
    await text().getByText('entity Box = table public.crate').waitFor()
    await pane().getByText('The text says what the review says.').waitFor()
    const kinds = (await ledger()).map((e) => e.edit?.facet ?? e.kind)
    expect(kinds).toEqual(
      expect.arrayContaining(['entity.name', 'reference.ownName', 'reference.inverseName', 'reference.atMostOne', 'reference.target', 'schema-edit']),
    )
    // The review says it as well.
    await v.page.goto(`${at}/review?at=${encodeURIComponent('reference:public.crate(lid_no)')}`)
    await v.page.getByRole('region', { name: 'Evidence' }).getByText('lid', { exact: true }).first().waitFor()
    await v.page.goto(`${at}/plan`)
    await v.page.getByText('weight').first().waitFor()
  })

  it('a text of before takes nothing back that somebody else changed, and is refused where both changed the same', async () => {
    await open()
    await open(other)
    const before = await call<string>(`/api/projects/${id}/ledger`)
    expect(before.status).toBe(200)
    const seen = (await ledger()).length
    const edit = (facet: string, subject: string, value: string) => ({ entries: [{ kind: 'edit', edit: { facet, subject, value }, note: null }], seen })
    // Mara types while Jonas renames a property.
    await text().press('Control+Home')
    await v.page.keyboard.press('Control+End')
    await v.page.keyboard.type(`\nentity Bay = table public.bay`)
    await pane().getByText('is said twice').first().waitFor()
    await v.page.getByRole('button', { name: 'Back to the review' }).click()
    await pane().getByText('The text says what the review says.').waitFor()
    const shown = await v.page.evaluate(() => document.querySelector('.cm-content')?.textContent?.slice(0, 120) ?? '')
    const revision = /revision '([^']+)'/.exec(shown)?.[1] ?? ''
    expect(revision).toContain(`ledger ${seen}`)
    const cookie = { cookie: 'pelvok-name=Jonas' }
    expect((await call(`/api/projects/${id}/ledger`, edit('property.name', 'public.crate(note)', 'remark'), cookie)).status).toBe(200)
    const old = `notation 1 for postgresql, revision '${revision}'\n`
    await type(`${old}entity Box = table public.crate\n  note : text, optional\n  lidNumber = lid_no : integer, optional\n`)
    await pane().getByText('lidNumber').waitFor()
    await pane()
      .getByText(/one entry came since/)
      .waitFor()
    // Jonas's name of the note stays: Mara's text says it as it was when it was made.
    expect(await pane().getByText('remark').count()).toBe(0)
    expect((await call(`/api/projects/${id}/ledger`, { ...edit('property.name', 'public.crate(lid_no)', 'lidNr'), seen: seen + 1 }, cookie)).status).toBe(200)
    await pane()
      .getByText(/2 entries came since/)
      .waitFor()
    await pane()
      .getByRole('button', { name: /^Enter/ })
      .click()
    await pane()
      .getByText(/Jonas changed the same thing meanwhile/)
      .waitFor()
    expect((await ledger()).length).toBe(seen + 2)
  })

  it('is laid out on request', async () => {
    await type(`${head}entity   Box=table public.crate   # the box\n  note:text,optional\n`)
    await v.page.getByRole('button', { name: 'Lay out' }).click()
    await text().getByText('entity Box = table public.crate # the box').waitFor()
  })

  it('is given as files of a sealed revision only', async () => {
    await v.page.getByRole('button', { name: 'Back to the review' }).click()
    await text().getByText('entity Bay = table public.bay').waitFor()
    await eventually('the gate', async () => (await call(`/api/projects/${id}/model.pelvok`)).status === 409)
    await seal(id)
    await open()
    await v.page.getByRole('link', { name: 'Download one file' }).waitFor()
    const file = await call<string>(`/api/projects/${id}/model.pelvok`)
    expect(file.status).toBe(200)
    expect(file.body).toContain('entity Box = table public.crate')
    expect((await fetch(`${process.env['PELVOK_E2E_URL']}/api/projects/${id}/notation.zip`)).status).toBe(200)
  })

  it('makes a project that says the same; one that is wrong makes none', async () => {
    const { page } = v
    const file = (await call<string>(`/api/projects/${id}/model.pelvok`)).body
    await page.goto(`${process.env['PELVOK_E2E_URL']}/projects/new`)
    await page.getByLabel('Name', { exact: true }).fill('Wrong')
    await page.setInputFiles('input[type=file] >> nth=0', {
      name: 'm.pelvok',
      mimeType: 'text/plain',
      buffer: Buffer.from(file.replace('any number', 'any nubmer')),
    })
    await page.getByText(/wrong in the notation/).waitFor()
    await page.getByText(/m\.pelvok:\d+:\d+: "number" was expected, not "nubmer"; did you mean number\?/).waitFor()
    const made = await fromScript(page, 'From notation', file, process.env['PELVOK_E2E_URL'], 'm.pelvok')
    await page.goto(`${made}/code/notation`)
    await text().getByText('entity Box = table public.crate').waitFor()
    await seal(made.split('/').at(-1) as string)
    const again = (await call<string>(`/api/projects/${made.split('/').at(-1)}/model.pelvok`)).body
    const body = (t: string) => t.slice(t.indexOf('\n'))
    expect(body(again)).toBe(body(file))
  })
})
