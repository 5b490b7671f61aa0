// What people drop, choose or paste, as one body to send: one file as it is, several as a zip in order of name.
import { zipSync } from 'fflate'

export interface ScriptBody {
  readonly name: string
  readonly body: Blob
  /** The body is what a database file says of itself, not a script. */
  readonly facts?: 'sqlite'
}

export const scriptLimit = 100 * 1024 * 1024

const isScript = (name: string) => /\.((sql|ddl|psql|mysql|txt)(\.gz)?|pelvok)$/i.test(name)

/** Null where none of the files is a script. */
export async function bodyOf(files: readonly File[]): Promise<ScriptBody | null> {
  const [only] = files
  if (files.length === 1 && only) return { name: only.webkitRelativePath || only.name, body: only }
  const scripts = files.filter((f) => isScript(f.name))
  if (scripts.length === 0) return null
  const entries = await Promise.all(scripts.map(async (f) => [f.webkitRelativePath || f.name, new Uint8Array(await f.arrayBuffer())] as const))
  const folder = scripts[0]?.webkitRelativePath.split('/')[0]
  const bytes = zipSync(Object.fromEntries(entries), { level: 1 })
  return { name: folder ? `${folder} (${scripts.length} scripts)` : `${scripts.length} scripts`, body: new Blob([new Uint8Array(bytes)]) }
}

interface Entry {
  readonly isFile: boolean
  readonly isDirectory: boolean
  readonly name: string
  file?: (done: (f: File) => void, fail: (e: unknown) => void) => void
  createReader?: () => { readEntries: (done: (list: Entry[]) => void, fail: (e: unknown) => void) => void }
}

/** Files of a drop, folders opened (File and Directory Entries API). */
export async function filesOfDrop(items: DataTransferItemList): Promise<readonly File[]> {
  const roots = [...items].flatMap((i) => (i.webkitGetAsEntry() as unknown as Entry | null) ?? [])
  return (await Promise.all(roots.map(filesOfEntry))).flat()
}

async function filesOfEntry(entry: Entry): Promise<readonly File[]> {
  if (entry.isFile) return [await new Promise<File>((done, fail) => entry.file?.(done, fail))]
  const reader = entry.createReader?.()
  const found: Entry[] = []
  for (;;) {
    const some = await new Promise<Entry[]>((done, fail) => reader?.readEntries(done, fail))
    if (some.length === 0) break
    found.push(...some)
  }
  return (await Promise.all(found.map(filesOfEntry))).flat()
}
