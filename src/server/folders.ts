// Emitted code in a folder: read whole, compared, and written so that nothing outside it is touched.
import { type Dirent, existsSync, lstatSync, mkdirSync, readdirSync, readFileSync, realpathSync, rmdirSync, rmSync } from 'node:fs'
import { dirname, join, resolve, sep } from 'node:path'
import { type FolderPlan, type Found, folderPlan, isWritten, manifestAfter, manifestPath, manifestText, needsYes, readManifest } from '../core/emit/folder.ts'
import { emitTypeScript, type Overridden, overriddenIn } from '../core/emit/typescript/index.ts'
import { type EntityModel, type Revision, revisionText } from '../core/model/index.ts'
import { aboutWrite, writeFiles } from './files.ts'

/** A folder that cannot be written to, with what to do. */
export class FolderRefused extends Error {
  constructor(
    readonly what: string,
    readonly hint: string,
  ) {
    super(what)
  }
}

const mostFiles = 20_000
const isSource = (name: string) => name.endsWith('.ts') || name === 'package.json' || name === manifestPath

/** Source files of a folder, with `/` in their paths. Packages, hidden folders and what links lead to are not read. */
function sourceFiles(dir: string): readonly string[] {
  const found: string[] = []
  const walk = (inside: string) => {
    const entries: readonly Dirent[] = readdirSync(join(dir, inside), { withFileTypes: true })
    for (const e of entries) {
      const path = inside === '' ? e.name : `${inside}/${e.name}`
      if (e.isDirectory() && e.name !== 'node_modules' && !e.name.startsWith('.')) walk(path)
      else if (e.isFile() && isSource(e.name)) found.push(path)
    }
    if (found.length > mostFiles) throw new FolderRefused(`${dir} has more than ${mostFiles} source files`, 'Choose a folder for the code alone.')
  }
  walk('')
  return found.sort()
}

/** What a folder has now; nothing where there is none yet. Throws a FolderRefused. */
export function readFolder(dir: string): Found {
  if (!existsSync(dir)) return { manifest: null, texts: new Map() }
  if (!lstatSync(dir).isDirectory()) throw new FolderRefused(`${dir} is no folder`, 'Name a folder, or one that does not exist yet.')
  const texts = new Map(sourceFiles(dir).map((path) => [path, readFileSync(join(dir, path), 'utf8')]))
  const text = texts.get(manifestPath)
  texts.delete(manifestPath)
  if (text === undefined) return { manifest: null, texts }
  const read = readManifest(text)
  if (!read.ok)
    throw new FolderRefused(`${join(dir, manifestPath)} is not understood: ${read.problem}`, 'Restore it, or remove it: every file is then asked about.')
  return { manifest: read.manifest, texts }
}

/** What writing a model's files into a folder comes to. `taken`: findings whose proposal stands without a ruling. */
export function planFolder(found: Found, model: EntityModel, revision: Revision, taken: readonly string[] = []): FolderPlan {
  const files = emitTypeScript(model, revision, overriddenInFolder(found))
  return folderPlan(found, files, revisionText(revision), Object.fromEntries(model.entities.map((e) => [e.id, e.name])), taken)
}

/** Operations of stores that people's own files in a folder override. */
export const overriddenInFolder = (found: Found): Overridden => overriddenIn(found.texts, found.manifest?.own ?? {})

function isLink(path: string): boolean {
  try {
    return lstatSync(path, { throwIfNoEntry: false })?.isSymbolicLink() ?? false
  } catch (error) {
    throw aboutWrite(path, error, 'Nothing was written.')
  }
}

/** Throws where a path would leave the folder, by itself or by a link. */
function inside(dir: string, path: string): string {
  const full = resolve(dir, path)
  if (!full.startsWith(resolve(dir) + sep)) throw new FolderRefused(`${path} would be outside ${dir}`, 'Nothing was written.')
  for (let at = full; at !== resolve(dir); at = dirname(at))
    if (isLink(at)) throw new FolderRefused(`${at} is a link, and what it leads to is not written to`, 'Remove the link, or choose another folder.')
  return full
}

/** Writes what needs no yes, and of the rest what `yes` has. Gives the paths that were written or removed. */
export function writeFolder(dir: string, plan: FolderPlan, found: Found, yes: ReadonlySet<string>): readonly string[] {
  const chosen = plan.changes.filter((c) => isWritten(c) || (needsYes(c) && yes.has(c.path)))
  const refused = new Set(plan.changes.filter((c) => needsYes(c) && !yes.has(c.path)).map((c) => c.path))
  const places = new Map(chosen.map((c) => [c.path, inside(dir, c.path)]))
  const texts = new Map(chosen.flatMap((c) => (c.after === null ? [] : [[places.get(c.path) as string, c.after] as const])))
  texts.set(inside(dir, manifestPath), manifestText(manifestAfter(plan, found.manifest, refused)))
  // Removals first: on some file systems Bay.ts and bay.ts are one.
  writeFiles(texts, () => {
    for (const c of chosen) if (c.after === null) rmSync(places.get(c.path) as string, { force: true })
  })
  for (const folder of new Set(chosen.flatMap((c) => (c.after === null && c.path.includes('/') ? [dirname(places.get(c.path) as string)] : []))))
    if (existsSync(folder) && readdirSync(folder).length === 0) rmdirSync(folder)
  return chosen.map((c) => c.path)
}

/** The one folder under which the application writes; null where none is named (PELVOK_OUT). */
export function allowedRoot(): string | null {
  const root = process.env['PELVOK_OUT'] ?? ''
  return root === '' ? null : resolve(root)
}

/** A folder below the allowed root, as its full path. Throws a FolderRefused. */
export function underRoot(folder: string): string {
  const root = allowedRoot()
  if (root === null) throw new FolderRefused('this server writes to no folder', 'Start it with PELVOK_OUT set to the folder that code may be written below.')
  mkdirSync(root, { recursive: true })
  const parts = folder.split('/')
  if (!parts.every((p) => /^[\w][\w. -]*$/.test(p) && !p.endsWith('.')))
    throw new FolderRefused(`"${folder}" is no folder below ${root}`, 'Use letters, digits, _ and -, with / between folders.')
  const full = join(realpathSync(root), ...parts)
  inside(realpathSync(root), parts.join('/'))
  return full
}
