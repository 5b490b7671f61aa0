// A folder of emitted code over time: what would be written, what people changed where they should not, what is gone and who still speaks of it.
import { z } from 'zod'
import { compareText, hashText } from '../catalog/index.ts'

/** A file as a target language gives it. */
export interface GivenFile {
  /** Relative, with `/`. */
  readonly path: string
  /** What a file of people's own is for: `class s.bay`, `store s.bay`, or "" for the whole; null for one that is written anew each time. */
  readonly own: string | null
  readonly text: string
}

export const manifestPath = 'pelvok.manifest.json'

/** What was written into a folder; see docs/formats/manifest.md. */
const manifestSchema = z.strictObject({
  format: z.literal('pelvok.manifest/1'),
  revision: z.string(),
  /** Hashes of files that are written anew, by path; of their text with LF. */
  base: z.record(z.string(), z.string()),
  /** Files of people's own, by path: what each is for. */
  own: z.record(z.string(), z.string()),
  /** Class names by entity. */
  classes: z.record(z.string(), z.string()),
  /** Findings that were open, and whose proposals were taken as they stood. */
  taken: z.array(z.string()).optional(),
})
export type Manifest = z.infer<typeof manifestSchema>

export type ManifestRead = { readonly ok: true; readonly manifest: Manifest } | { readonly ok: false; readonly problem: string }

export function readManifest(text: string): ManifestRead {
  try {
    const parsed = manifestSchema.safeParse(JSON.parse(text))
    if (parsed.success) return { ok: true, manifest: parsed.data }
    const [issue] = parsed.error.issues
    return { ok: false, problem: `${issue?.path.join('.') || 'the whole'}: ${issue?.message ?? 'not understood'}` }
  } catch (error) {
    return { ok: false, problem: (error as Error).message }
  }
}

/** Of a file's text, whatever its line ends have become since. */
const hashOf = (text: string): string => hashText(text.replaceAll('\r\n', '\n'))

/** What becomes of one file. */
export interface FileChange {
  readonly path: string
  /**
   * `edited`: people changed a file that is written anew; `gone edited`: the same, of one that the model does not give any more; `unknown`: there is a
   * file that we did not write. These are left alone without a yes. `carry`: people's own file follows the new name of its class. `left`: people's
   * own file of a class that is gone.
   */
  readonly does: 'create' | 'rewrite' | 'same' | 'remove' | 'edited' | 'gone edited' | 'unknown' | 'carry' | 'own' | 'left'
  readonly own: boolean
  /** Where its text was, where that is another path. */
  readonly from: string | null
  /** Null where there is none. */
  readonly before: string | null
  readonly after: string | null
}

/** The same in words. */
export const changeWords: Readonly<Record<FileChange['does'], string>> = {
  create: 'new',
  rewrite: 'rewritten',
  same: 'the same',
  remove: 'removed',
  edited: 'changed by hand',
  'gone edited': 'changed by hand, and not given any more',
  unknown: 'there already, and not ours',
  carry: 'yours, carried along',
  own: 'yours',
  left: 'yours, its class is gone: left as it is',
}

/** A line that speaks of a class which is called otherwise now, or is gone. */
export interface Mention {
  readonly path: string
  /** From 1. */
  readonly line: number
  readonly text: string
  readonly name: string
}

export interface FolderPlan {
  readonly changes: readonly FileChange[]
  readonly renamed: readonly { readonly from: string; readonly to: string }[]
  readonly removed: readonly string[]
  readonly mentions: readonly Mention[]
  readonly manifest: Manifest
}

export interface Found {
  readonly manifest: Manifest | null
  /** Texts of the folder's source files by path, all of them. */
  readonly texts: ReadonlyMap<string, string>
}

const asks: ReadonlySet<FileChange['does']> = new Set(['edited', 'gone edited', 'unknown'])
const writes: ReadonlySet<FileChange['does']> = new Set(['create', 'rewrite', 'remove', 'carry'])

/** Does it need a yes? */
export const needsYes = (c: FileChange): boolean => asks.has(c.does)

/** Does it change the folder by itself? */
export const isWritten = (c: FileChange): boolean => writes.has(c.does)

const lowerFirst = (name: string) => `${name.charAt(0).toLowerCase()}${name.slice(1)}`

/** Names of classes where code has them: alone, in what is declared beside them (`CrateStore`), and in their inputs (`crateInput`). */
const wordsOf = (names: Iterable<string>) => {
  const list = [...names].flatMap((name) => {
    const plain = name.replace(/[$]/g, '\\$&')
    return [`${plain}(?=(?:Base|StoreBase|Store|Key|Values|New|Test|Input|Change)?(?![\\w$]))`, `${lowerFirst(plain)}(?=(?:Input|Change)(?![\\w$]))`]
  })
  return list.length === 0 ? null : new RegExp(`(?<![\\w$])(${list.join('|')})`, 'g')
}

/** Of what a file of people's own is for. */
const entityOf = (own: string): string => own.replace(/^(class|store) /, '')

interface Renaming {
  readonly entity: string
  readonly from: string
  readonly to: string
}

const stemOf = (path: string) => path.replace(/\.ts$/, '')
const specifier = /from '(\.\/[^']+)'/

/** A text of people's own in its new place: its class by its name, where it imports what it extends from, and the files that moved with it. */
function carriedText(
  text: string,
  old: Renaming,
  oldPath: string,
  given: GivenFile,
  baseFolder: string,
  moved: readonly (readonly [string, string])[],
): string {
  const words = old.from === old.to ? null : wordsOf([old.from])
  let out = text
  const now = specifier.exec(given.text)?.[1]
  if (now !== undefined) out = out.replace(new RegExp(`'\\./${baseFolder}/${stemOf(oldPath).replace(/[.$]/g, '\\$&')}(\\.js|\\.ts)?'`, 'g'), () => `'${now}'`)
  if (words) out = out.replace(words, (name) => (name === old.from ? old.to : lowerFirst(old.to)))
  for (const [from, to] of moved) out = out.replaceAll(`'./${stemOf(from)}.`, `'./${stemOf(to)}.`).replaceAll(`'./${stemOf(from)}'`, `'./${stemOf(to)}'`)
  return out
}

function baseChange(f: GivenFile, found: Found): FileChange {
  const before = found.texts.get(f.path) ?? null
  const change = (does: FileChange['does']): FileChange => ({ path: f.path, does, own: false, from: null, before, after: f.text })
  if (before === null) return change('create')
  if (hashOf(before) === hashOf(f.text)) return change('same')
  const known = found.manifest?.base[f.path]
  return change(known === undefined ? 'unknown' : known === hashOf(before) ? 'rewrite' : 'edited')
}

/** Was it written by an earlier layout, which had what is generated in the place of people's own files? */
const isGenerated = (text: string): boolean => text.startsWith('// Generated by Pelvok')

/** Files of people's own: made once, and carried along where their class, its file or the folder of what they extend is called otherwise now. */
function ownChanges(files: readonly GivenFile[], found: Found, classes: Readonly<Record<string, string>>): readonly FileChange[] {
  const given = new Set(files.map((f) => f.path))
  const baseFolder =
    Object.keys(found.manifest?.base ?? {})
      .find((path) => path.includes('/'))
      ?.split('/', 1)[0] ?? ''
  const old = Object.entries(found.manifest?.own ?? {})
  const moves = files.map((f) => {
    const entity = entityOf(f.own ?? '')
    const [from, to] = [found.manifest?.classes[entity], classes[entity]]
    const renaming = from === undefined || to === undefined ? null : { entity, from, to }
    const path = renaming && old.find(([p, own]) => own === f.own && found.texts.has(p))?.[0]
    return { f, renaming, path: path ?? null }
  })
  return moves.flatMap(({ f, renaming, path }): readonly FileChange[] => {
    const before = found.texts.get(f.path) ?? null
    if (!renaming || path === null) {
      if (before === null || isGenerated(before))
        return [{ path: f.path, does: before === null ? 'create' : 'unknown', own: true, from: null, before, after: f.text }]
      return [{ path: f.path, does: 'own', own: true, from: null, before, after: before }]
    }
    const moved = moves.flatMap((m) => (m.renaming?.entity === renaming.entity && m.path !== null && m.path !== m.f.path ? [[m.path, m.f.path] as const] : []))
    const text = found.texts.get(path) as string
    const after = carriedText(text, renaming, path, f, baseFolder, moved)
    if (path === f.path) return [{ path, does: after === text ? 'own' : 'carry', own: true, from: null, before: text, after }]
    return [
      { path: f.path, does: 'carry', own: true, from: path, before: text, after },
      ...(given.has(path) ? [] : [{ path, does: 'remove', own: true, from: null, before: text, after: null } as const]),
    ]
  })
}

/**
 * What writing `files` into the folder comes to. `classes`: names by entity. Nothing that people wrote is among what is written by itself: a changed
 * file that is written anew waits for a yes, and what stands in their own files stays, under the new name where the class has one.
 */
export function folderPlan(
  found: Found,
  files: readonly GivenFile[],
  revision: string,
  classes: Readonly<Record<string, string>>,
  taken: readonly string[] = [],
): FolderPlan {
  const old = found.manifest?.classes ?? {}
  const renamings = Object.entries(old).flatMap(([entity, from]) => {
    const to = classes[entity]
    return to === undefined || to === from ? [] : [{ entity, from, to }]
  })
  const names = new Set(Object.values(classes))
  const removed = Object.entries(old).flatMap(([entity, name]) => (classes[entity] === undefined && !names.has(name) ? [name] : []))
  const base = files.filter((f) => f.own === null)
  const own = files.filter((f) => f.own !== null)
  const baseChanges = base.map((f) => baseChange(f, found))
  const ownList = ownChanges(own, found, classes)
  const known = new Set([...files.map((f) => f.path), ...ownList.map((c) => c.path)])
  const gone = Object.entries(found.manifest?.base ?? {}).flatMap(([path, hash]): readonly FileChange[] => {
    const before = found.texts.get(path)
    if (known.has(path) || before === undefined) return []
    return [{ path, does: hash === hashOf(before) ? 'remove' : 'gone edited', own: false, from: null, before, after: null }]
  })
  const left = Object.keys(found.manifest?.own ?? {}).flatMap((path): readonly FileChange[] => {
    const before = found.texts.get(path)
    return known.has(path) || before === undefined ? [] : [{ path, does: 'left', own: true, from: null, before, after: before }]
  })
  const changes = [...baseChanges, ...ownList, ...gone, ...left].toSorted((a, b) => compareText(a.path, b.path))
  return {
    changes,
    renamed: renamings.map(({ from, to }) => ({ from, to })),
    removed,
    mentions: mentionsOf(found, changes, new Set([...renamings.map((r) => r.from), ...removed].filter((n) => !names.has(n)))),
    manifest: {
      format: 'pelvok.manifest/1',
      revision,
      base: Object.fromEntries(base.map((f) => [f.path, hashOf(f.text)]).toSorted(([a = ''], [b = '']) => compareText(a, b))),
      own: Object.fromEntries(own.map((f) => [f.path, f.own ?? ''] as const).toSorted(([a], [b]) => compareText(a, b))),
      classes: Object.fromEntries(Object.entries(classes).toSorted(([a], [b]) => compareText(a, b))),
      ...(taken.length > 0 ? { taken: taken.toSorted(compareText) } : {}),
    },
  }
}

/** Lines of what stays as it is, in files of people's own and others beside them. */
function mentionsOf(found: Found, changes: readonly FileChange[], names: ReadonlySet<string>): readonly Mention[] {
  const words = wordsOf(names)
  if (!words) return []
  const ours = new Set(changes.filter((c) => !c.own || c.does === 'remove').map((c) => c.path))
  return [...found.texts]
    .filter(([path]) => !ours.has(path))
    .toSorted(([a], [b]) => compareText(a, b))
    .flatMap(([path, text]) =>
      text
        .split(/\r?\n/)
        .flatMap((line, i) =>
          [...new Set([...line.matchAll(words)].map((m) => m[1] as string))].map((name) => ({ path, line: i + 1, text: line.trim(), name })),
        ),
    )
}

/** The manifest after some changes were left alone: what was not overwritten keeps the hash it is known by. */
export function manifestAfter(plan: FolderPlan, before: Manifest | null, refused: ReadonlySet<string>): Manifest {
  const base = new Map(Object.entries(plan.manifest.base))
  for (const path of refused) {
    const known = before?.base[path]
    if (known === undefined) base.delete(path)
    else base.set(path, known)
  }
  return { ...plan.manifest, base: Object.fromEntries([...base].toSorted(([a], [b]) => compareText(a, b))) }
}

export const manifestText = (m: Manifest): string => `${JSON.stringify(m, null, 2)}\n`
