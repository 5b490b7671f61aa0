// Code of a project as it is shown and downloaded.
import { strToU8, zipSync } from 'fflate'
import { manifestPath, manifestText } from '../core/emit/folder.ts'
import { type Code, codeOf, conventionRemarks, type EmittedFile, type Remark } from '../core/emit/typescript/index.ts'
import type { Revision, TypescriptSettings } from '../core/model/index.ts'
import { planFolder } from './folders.ts'
import { readProjectReview } from './review.ts'

export interface CodeView {
  readonly files: Code['files']
  /** The one that was asked for, or the first of those that are written anew. */
  readonly file: EmittedFile | null
  readonly revision: Revision
  /** What the code takes for granted and the columns lack. */
  readonly remarks: readonly Remark[]
  readonly settings: TypescriptSettings
}

export async function readCode(projectId: string, path: string | null): Promise<CodeView | null> {
  const p = await readProjectReview(projectId)
  if (!p) return null
  const { model, revision } = p.review
  const code = codeOf(model, revision)
  const first = code.files.find((f) => f.own === null)
  const file = (path === null ? null : code.file(path)) ?? (first ? code.file(first.path) : null)
  return { files: code.files, file, revision, remarks: conventionRemarks(model), settings: model.settings }
}

/** A fixed time in the archive: the same revision gives the same bytes. ZIP keeps local time, from 1980 on. */
export const mtime = new Date(2000, 0, 1)

export const zipFiles = (files: Readonly<Record<string, Uint8Array>>) =>
  zipSync(Object.fromEntries(Object.entries(files).map(([path, bytes]) => [path, [bytes, { mtime }]])))

/** With the manifest, so that what was unpacked can be written again. Of a sealed revision only: see `shut`. */
export async function codeArchive(projectId: string): Promise<Uint8Array | null> {
  const p = await readProjectReview(projectId)
  if (!p) return null
  const plan = planFolder({ manifest: null, texts: new Map() }, p.review.model, p.review.revision)
  const files = [...plan.changes.map((c) => [c.path, c.after ?? ''] as const), [manifestPath, manifestText(plan.manifest)] as const]
  return zipFiles(Object.fromEntries(files.map(([path, text]) => [`entities/${path}`, strToU8(text)])))
}
