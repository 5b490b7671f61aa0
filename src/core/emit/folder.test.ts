import { describe, expect, it } from 'vitest'
import { type FolderPlan, folderPlan, type GivenFile, type Manifest, manifestAfter, manifestText, needsYes, readManifest } from './folder.ts'

const base = (name: string, text: string): GivenFile => ({ path: `base/${name}.ts`, own: null, text })
const own = (name: string, entity: string, of = name): GivenFile => ({
  path: `${name}.ts`,
  own: `${/Store$/.test(name) ? 'store' : 'class'} ${entity}`,
  text: `import { ${of}Base } from './base/${name}.js'\n\nexport class ${of} extends ${of}Base {}\n`,
})
const bay = [base('Bay', 'bay 1\n'), own('Bay', 's.bay'), own('BayStore', 's.bay')]
const crate = [base('Crate', 'crate 1\n'), own('Crate', 's.crate'), own('CrateStore', 's.crate')]
const classes = { 's.bay': 'Bay', 's.crate': 'Crate' }
const plan = (texts: ReadonlyMap<string, string>, manifest: Manifest | null, files: readonly GivenFile[], names: Record<string, string> = classes) =>
  folderPlan({ manifest, texts }, files, 'ledger 1', names)
const does = (p: FolderPlan) => Object.fromEntries(p.changes.map((c) => [c.path, c.does]))

/** The folder after a first emission. */
function written(): { readonly texts: Map<string, string>; readonly manifest: Manifest } {
  const first = plan(new Map(), null, [...bay, ...crate])
  return { texts: new Map(first.changes.map((c) => [c.path, c.after as string])), manifest: first.manifest }
}

describe('a folder of emitted code', () => {
  it('is made whole at first, and is the same when nothing changed, whatever its line ends', () => {
    const { texts, manifest } = written()
    expect([...texts.keys()]).toEqual(['Bay.ts', 'BayStore.ts', 'Crate.ts', 'CrateStore.ts', 'base/Bay.ts', 'base/Crate.ts'])
    const crlf = new Map([...texts].map(([path, text]) => [path, text.replaceAll('\n', '\r\n')]))
    for (const now of [texts, crlf]) expect(new Set(Object.values(does(plan(now, manifest, [...bay, ...crate]))))).toEqual(new Set(['own', 'same']))
    expect(readManifest(manifestText(manifest))).toEqual({ ok: true, manifest })
  })

  it('has what is generated rewritten, and what people wrote left alone', () => {
    const { texts, manifest } = written()
    texts.set('Bay.ts', 'my own\n')
    const p = plan(texts, manifest, [base('Bay', 'bay 2\n'), ...bay.slice(1), ...crate])
    expect(does(p)).toMatchObject({ 'base/Bay.ts': 'rewrite', 'Bay.ts': 'own', 'base/Crate.ts': 'same' })
  })

  it('asks before a changed file, a file of somebody else, or a changed file that goes is written over', () => {
    const { texts, manifest } = written()
    texts.set('base/Bay.ts', 'bay 1, mended by hand\n')
    texts.set('base/Crate.ts', 'crate 1, mended by hand\n')
    texts.set('base/Lid.ts', 'of somebody else\n')
    const p = plan(texts, manifest, [...bay, base('Lid', 'lid 1\n')], { 's.bay': 'Bay' })
    expect(does(p)).toMatchObject({ 'base/Bay.ts': 'edited', 'base/Crate.ts': 'gone edited', 'base/Lid.ts': 'unknown', 'Crate.ts': 'left' })
    expect(p.changes.filter(needsYes).map((c) => c.path)).toEqual(['base/Bay.ts', 'base/Crate.ts', 'base/Lid.ts'])
    // What was refused is known as before: the edit is noticed the next time too.
    const after = manifestAfter(p, manifest, new Set(['base/Bay.ts', 'base/Lid.ts']))
    expect([after.base['base/Bay.ts'], after.base['base/Lid.ts']]).toEqual([manifest.base['base/Bay.ts'], undefined])
  })

  it('carries people’s own files along with a new name, and lists who else speaks of the old one', () => {
    const { texts, manifest } = written()
    texts.set('Bay.ts', "import { BayBase } from './base/Bay.js'\n\nexport class Bay extends BayBase {\n  // of a Bay, no Bayou; bayInput\n}\n")
    texts.set('Crate.ts', "import type { Bay } from './Bay.js'\nexport const at = (bay: Bay) => bay\n")
    const named = [base('Berth', 'berth 1\n'), own('Berth', 's.bay'), own('BerthStore', 's.bay'), ...crate]
    const p = plan(texts, manifest, named, { ...classes, 's.bay': 'Berth' })
    expect(does(p)).toMatchObject({
      'Bay.ts': 'remove',
      'BayStore.ts': 'remove',
      'Berth.ts': 'carry',
      'BerthStore.ts': 'carry',
      'base/Bay.ts': 'remove',
      'base/Berth.ts': 'create',
      'Crate.ts': 'own',
    })
    expect(p.changes.find((c) => c.path === 'Berth.ts')?.after).toBe(
      "import { BerthBase } from './base/Berth.js'\n\nexport class Berth extends BerthBase {\n  // of a Berth, no Bayou; berthInput\n}\n",
    )
    expect(p.renamed).toEqual([{ from: 'Bay', to: 'Berth' }])
    expect(p.mentions).toEqual([
      { path: 'Crate.ts', line: 1, text: "import type { Bay } from './Bay.js'", name: 'Bay' },
      { path: 'Crate.ts', line: 2, text: 'export const at = (bay: Bay) => bay', name: 'Bay' },
    ])
  })

  it('exchanges the files of two classes that exchange their names', () => {
    const { texts, manifest } = written()
    texts.set('Bay.ts', 'class Bay, was a bay\n')
    texts.set('Crate.ts', 'class Crate, was a crate\n')
    const files = [own('Bay', 's.crate'), own('BayStore', 's.crate'), own('Crate', 's.bay'), own('CrateStore', 's.bay')]
    const p = plan(texts, manifest, files, { 's.bay': 'Crate', 's.crate': 'Bay' })
    expect(p.changes.filter((c) => c.path === 'Bay.ts' || c.path === 'Crate.ts').map((c) => [c.does, c.after])).toEqual([
      ['carry', 'class Bay, was a crate\n'],
      ['carry', 'class Crate, was a bay\n'],
    ])
    expect(p.mentions).toEqual([])
  })

  it('carries them to other folders, letter cases and ends of imports', () => {
    const { texts, manifest } = written()
    texts.set('Bay.ts', "import { BayBase } from './base/Bay.js'\nimport { BayStore } from './BayStore.js'\n\nexport class Bay extends BayBase {}\n")
    const text = (name: string) => `import { ${name}Base } from './made/${name === 'Bay' ? 'bay' : 'bay-store'}'\n`
    const files = [
      { path: 'made/bay.ts', own: null, text: 'bay 1\n' },
      { path: 'bay.ts', own: 'class s.bay', text: text('Bay') },
      { path: 'bay-store.ts', own: 'store s.bay', text: text('BayStore') },
    ]
    const p = plan(texts, manifest, files, { 's.bay': 'Bay' })
    expect(does(p)).toMatchObject({ 'Bay.ts': 'remove', 'bay.ts': 'carry', 'bay-store.ts': 'carry', 'base/Bay.ts': 'remove', 'made/bay.ts': 'create' })
    expect(p.changes.find((c) => c.path === 'bay.ts')?.after).toBe(
      "import { BayBase } from './made/bay'\nimport { BayStore } from './bay-store.js'\n\nexport class Bay extends BayBase {}\n",
    )
  })

  it('keeps what people wrote for a class that is gone, and says where it is spoken of', () => {
    const { texts, manifest } = written()
    texts.set('more/list.ts', 'import { CrateStore } from "../CrateStore.js"\n')
    const p = plan(texts, manifest, bay, { 's.bay': 'Bay' })
    expect(does(p)).toMatchObject({ 'base/Crate.ts': 'remove', 'Crate.ts': 'left', 'CrateStore.ts': 'left' })
    expect([p.removed, p.mentions.map((m) => m.path)]).toEqual([['Crate'], ['Crate.ts', 'Crate.ts', 'CrateStore.ts', 'CrateStore.ts', 'more/list.ts']])
  })

  it('asks before a class of an earlier layout gives way to a file of one’s own, and keeps what is there otherwise', () => {
    const texts = new Map([
      ['Bay.ts', '// Generated by Pelvok: ledger 3.\nexport class Bay {}\n'],
      ['BayStore.ts', 'of somebody\n'],
    ])
    expect(does(plan(texts, null, bay))).toEqual({ 'Bay.ts': 'unknown', 'BayStore.ts': 'own', 'base/Bay.ts': 'create' })
  })

  it('says what of a manifest is not understood', () => {
    expect(readManifest('{')).toMatchObject({ ok: false })
    expect(readManifest('{"format": "pelvok.manifest/2"}')).toMatchObject({ ok: false, problem: expect.stringContaining('format') })
  })
})
