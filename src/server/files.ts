// Files written so that none is ever half: all of them under other names first, then each moved to its own.
import { mkdirSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { dirname } from 'node:path'
import { Told } from '../core/text/told.ts'

/** Why a file cannot be written, by the system's own code (errno(3)), and what to do. */
const causes: Readonly<Record<string, readonly [what: string, hint: string]>> = {
  ENOSPC: ['the disk is full', 'Make room there, or name a place on another disk.'],
  EDQUOT: ['the space that this user may take is used up', 'Make room there, or name a place on another disk.'],
  EFBIG: ['it is larger than files may be there', 'Name a place on another disk.'],
  EACCES: ['this user may not write there', 'Change the rights of the folder, or name another place.'],
  EPERM: ['this user may not write there', 'Change the rights of the folder, or name another place.'],
  EROFS: ['the disk can only be read', 'Name a place on another disk.'],
  EISDIR: ['it is a folder', 'Name a file.'],
  ENOTDIR: ['a part of the path is no folder', 'Name a place inside of folders.'],
  EEXIST: ['a part of the path is no folder', 'Name a place inside of folders.'],
  ENAMETOOLONG: ['the name is longer than names may be there', 'Name a shorter one.'],
  ELOOP: ['links in the path lead in a circle', 'Remove them, or name another place.'],
  EIO: ['the disk fails', 'Check the disk, or name a place on another one.'],
  EMFILE: ['too many files are open', 'Close what is not needed, and try again.'],
}

/** What a write failed at, in words; any other error as it is. */
export function aboutWrite(path: string, error: unknown, after: string): unknown {
  const cause = causes[String((error as NodeJS.ErrnoException).code)]
  return cause ? new Told({ message: `${path} cannot be written: ${cause[0]}`, detail: after, hint: cause[1] }, 507) : error
}

const isFolder = (path: string): boolean => statSync(path, { throwIfNoEntry: false })?.isDirectory() ?? false

/**
 * Writes files by their paths, making folders where they are missing. `first` runs when all of them are on the disk and none is in its
 * place yet. Throws Told where one cannot be written: everything is then as it was, but for folders that were made.
 */
export function writeFiles(files: ReadonlyMap<string, string | Uint8Array>, first: () => void = () => {}): void {
  const waiting: { readonly path: string; readonly temporary: string }[] = []
  let at = ''
  try {
    for (const [path, data] of files) {
      at = path
      if (isFolder(path)) throw Object.assign(new Error('a folder'), { code: 'EISDIR' })
      mkdirSync(dirname(path), { recursive: true })
      const temporary = `${path}.${process.pid}.new`
      waiting.push({ path, temporary })
      writeFileSync(temporary, data)
    }
  } catch (error) {
    for (const { temporary } of waiting) rmSync(temporary, { force: true })
    throw aboutWrite(at, error, files.size === 1 ? 'What was there is as it was.' : `None of the ${files.size} files was written; what was there is as it was.`)
  }
  first()
  for (const { path, temporary } of waiting) renameSync(temporary, path)
}

export const writeOne = (path: string, data: string | Uint8Array): void => writeFiles(new Map([[path, data]]))
