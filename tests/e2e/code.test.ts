// Code in a folder of the server: shown, written, changed by hand, written anew, laid out otherwise.
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { seal } from '../support/app.ts'
import { fromScript, type Visit, visit } from '../support/browser.ts'
import { compile, inCodeFolder } from '../support/compile.ts'

const script = `CREATE TABLE bay (id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY, label varchar(20) NOT NULL UNIQUE);
CREATE TABLE crate (id integer GENERATED ALWAYS AS IDENTITY PRIMARY KEY, bay_id integer NOT NULL REFERENCES bay (id), note text);`
const dir = join(process.env['PELVOK_OUT'] as string, 'yard/entities')
const file = (path: string) => join(dir, path)

let v: Visit
let at = ''
beforeAll(async () => {
  v = await visit('Mara')
  at = await fromScript(v.page, 'Code of the yard', script)
})
afterAll(async () => {
  await v.browser.close()
})
const button = (name: string | RegExp) => v.page.getByRole('button', { name, exact: typeof name === 'string' })
const change = (path: string) => v.page.getByRole('navigation', { name: 'Changes' }).getByRole('listitem').filter({ hasText: path }).first()
const resealed = async () => seal(at.split('/').at(-1) as string)
/** Opens the folder's page anew. */
const look = async () => {
  await v.page.goto(`${at}/code/folder?into=yard/entities`)
}

describe('code in a folder', () => {
  it('is shown with full paths, and not written before it is sealed', async () => {
    const { page } = v
    await page.goto(`${at}/code`)
    await page.getByRole('link', { name: 'Write into a folder …' }).waitFor({ state: 'detached' })
    await page.getByRole('region', { name: 'Yours, written once' }).getByRole('link', { name: 'Bay.ts' }).waitFor()
    await resealed()
    await page.goto(`${at}/code`)
    await page.getByRole('link', { name: 'Write into a folder …' }).click()
    await page.getByLabel('Folder').fill('../elsewhere')
    await button('Show what would be written').click()
    await page.getByText(/is no folder below/).waitFor()
    await page.getByLabel('Folder').fill('yard/entities')
    await button('Show what would be written').click()
    await change('base/Bay.ts').getByRole('link').click()
    await page.getByRole('heading', { name: file('base/Bay.ts') }).waitFor()
    expect(existsSync(dir)).toBe(false)
  })

  it('is written once it is, and compiles', async () => {
    await button(/^Write \d+ files$/).click()
    await v.page.getByText(/^Written: \d+ files in/).waitFor()
    await v.page.getByText('The folder is what the model gives.').waitFor()
    expect(readFileSync(file('pelvok.manifest.json'), 'utf8')).toContain('"public.bay": "Bay"')
    await inCodeFolder(async (folder) => {
      const { cpSync } = await import('node:fs')
      cpSync(dir, folder, { recursive: true })
      compile(folder)
    })
  })

  it('notices what was changed by hand, shows it, and writes over it only with a yes', async () => {
    const { page } = v
    writeFileSync(file('base/Bay.ts'), readFileSync(file('base/Bay.ts'), 'utf8').replace('export class', '// mended by hand\nexport class'))
    writeFileSync(
      file('BayStore.ts'),
      "import { BayStoreBase } from './base/BayStore.js'\n\nexport class BayStore extends BayStoreBase {\n  override async count(): Promise<number> {\n    return 0\n  }\n}\n",
    )
    await look()
    await change('base/Bay.ts').getByText('changed by hand').waitFor()
    await page.getByText('// mended by hand').waitFor()
    await page.getByText('One file is not as Pelvok wrote it').waitFor()
    // What is overridden is said where it is generated.
    await change('base/BayStore.ts').getByText('rewritten').waitFor()
    await button('Write one file').click()
    await page.getByText('1 left as they are').waitFor()
    expect(readFileSync(file('base/Bay.ts'), 'utf8')).toContain('mended by hand')
    expect(readFileSync(file('base/BayStore.ts'), 'utf8')).toContain('Overridden by hand in ../BayStore.ts.')
    await look()
    await page.getByLabel('Write over base/Bay.ts').check()
    await button('Write one file').click()
    await page.getByText('The folder is what the model gives.').waitFor()
    expect(readFileSync(file('base/Bay.ts'), 'utf8')).not.toContain('mended by hand')
    expect(readFileSync(file('BayStore.ts'), 'utf8')).toContain('return 0')
    await page.goto(`${at}/review?at=entity:public.bay&show=sheet`)
    await page.getByText(/\d+ generated, 1 overridden by hand/).waitFor()
  })

  it('is not written where the folder is another since it was shown', async () => {
    const { page } = v
    writeFileSync(file('base/Crate.ts'), 'gone\n')
    await look()
    await page.getByLabel('Write over base/Crate.ts').check()
    writeFileSync(file('base/Crate.ts'), 'gone again\n')
    await button('Write one file').click()
    await page.getByText(/changed since this was shown/i).waitFor()
    expect(readFileSync(file('base/Crate.ts'), 'utf8')).toBe('gone again\n')
    await look()
    await page.getByLabel('Write over base/Crate.ts').check()
    await button('Write one file').click()
    await page.getByText('The folder is what the model gives.').waitFor()
  })

  it('is laid out as the project says: shown first, then an entry of the ledger', async () => {
    const { page } = v
    await page.goto(`${at}/code`)
    await page.getByText('Layout: folders, package, style').click()
    await page.getByLabel('Folder of what is rewritten').fill('made here')
    await page.getByText('a folder has letters, digits, _ and - only').waitFor()
    await page.getByLabel('Folder of what is rewritten').fill('made')
    await page.getByLabel('Name in package.json').fill('@yard/entities')
    await page.getByLabel('Indented by').selectOption('tab')
    await button('Show what changes').click()
    await page.getByText(/\d+ new: .*made\/Bay\.ts/).waitFor()
    await button('Set it').click()
    await button('Seal this revision').click()
    await page.getByRole('link', { name: 'Download all as a zip' }).waitFor()
    await page.goto(`${at}/ledger`)
    await page.getByText(/set how TypeScript is laid out: what is rewritten stands in made\//).waitFor()
    await look()
    await change('BayStore.ts').getByText('yours, carried along').waitFor()
    await button(/^Write \d+ files$/).click()
    await page.getByText('The folder is what the model gives.').waitFor()
    expect([existsSync(file('base')), existsSync(file('package.json'))]).toEqual([false, true])
    expect(readFileSync(file('BayStore.ts'), 'utf8')).toContain("from './made/BayStore.js'")
    expect(readFileSync(file('made/Bay.ts'), 'utf8')).toContain('\n\tstatic readonly table')
  })

  it('follows a class to its new name, and lists who mentions the old one', async () => {
    const { page } = v
    writeFileSync(file('use.ts'), "import { BayStore } from './BayStore.js'\n\nexport const stores = [BayStore]\n")
    await page.goto(`${at}/review?at=entity:public.bay`)
    await page.getByRole('button', { name: 'Bay', exact: true }).first().click()
    await page.keyboard.press('ControlOrMeta+a')
    await page.keyboard.type('Berth')
    await page.keyboard.press('Enter')
    await page.getByText('becomes the class Berth').first().waitFor()
    await look()
    await page.getByText('Bay is called Berth now; 2 lines still mention it.').waitFor()
    // Another answer came since the seal: it is stale.
    await button('Seal this revision').click()
    await change('BerthStore.ts').getByText('yours, carried along from BayStore.ts').waitFor()
    await button(/^Write \d+ files$/).click()
    await page.getByText(/^Written:/).waitFor()
    expect([existsSync(file('BayStore.ts')), readFileSync(file('BerthStore.ts'), 'utf8').includes('class BerthStore extends BerthStoreBase')]).toEqual([
      false,
      true,
    ])
  })

  it('nothing was complained about in the console', () => {
    expect(v.complaints).toEqual([])
  })
})
