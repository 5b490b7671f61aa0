// Code of a project as it is shown and downloaded.
import { strToU8, zipSync } from 'fflate'
import { conventionRemarks, type EmittedFile, emitTypeScript, type Remark } from '../core/emit/typescript/index.ts'
import type { Revision } from '../core/model/index.ts'
import { readProjectReview } from './review.ts'

export interface CodeView {
  readonly files: readonly EmittedFile[]
  readonly revision: Revision
  /** What the code takes for granted and the columns lack. */
  readonly remarks: readonly Remark[]
}

export async function readCode(projectId: string): Promise<CodeView | null> {
  const p = await readProjectReview(projectId)
  return p ? { files: emitTypeScript(p.review.model, p.review.revision), revision: p.review.revision, remarks: conventionRemarks(p.review.model) } : null
}

/** A fixed time in the archive: the same revision gives the same bytes. ZIP keeps local time, from 1980 on. */
export const mtime = new Date(2000, 0, 1)

export const zipFiles = (files: Readonly<Record<string, Uint8Array>>) =>
  zipSync(Object.fromEntries(Object.entries(files).map(([path, bytes]) => [path, [bytes, { mtime }]])))

/** Of a sealed revision only: see `shut`. */
export async function codeArchive(projectId: string): Promise<Uint8Array | null> {
  const code = await readCode(projectId)
  return code ? zipFiles(Object.fromEntries(code.files.map((f) => [`entities/${f.path}`, strToU8(f.text)]))) : null
}
