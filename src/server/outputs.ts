// Code and baseline of a project as they are shown and downloaded.
import { gzipSync, strToU8, zipSync } from 'fflate'
import { baselinePlan, type PlanResult, planFiles } from '../core/change/index.ts'
import { type EmittedFile, emitTypeScript } from '../core/emit/typescript/index.ts'
import { type Revision, revisionText } from '../core/model/index.ts'
import { type ProjectReview, readProjectReview } from './review.ts'

export interface CodeView {
  readonly files: readonly EmittedFile[]
  readonly revision: Revision
}

export async function readCode(projectId: string): Promise<CodeView | null> {
  const p = await readProjectReview(projectId)
  return p ? { files: emitTypeScript(p.review.model, p.review.revision), revision: p.review.revision } : null
}

export interface BaselineView {
  readonly result: PlanResult
  readonly project: ProjectReview
  readonly revision: string
}

export async function readBaseline(projectId: string): Promise<BaselineView | null> {
  const project = await readProjectReview(projectId)
  return project ? { result: baselinePlan(project.catalog), project, revision: revisionText(project.review.revision) } : null
}

/** A fixed time in the archive: the same revision gives the same bytes. ZIP keeps local time, from 1980 on. */
const mtime = new Date(2000, 0, 1)

const zip = (files: Readonly<Record<string, Uint8Array>>) =>
  zipSync(Object.fromEntries(Object.entries(files).map(([path, bytes]) => [path, [bytes, { mtime }]])))

export async function codeArchive(projectId: string): Promise<Uint8Array | null> {
  const code = await readCode(projectId)
  return code ? zip(Object.fromEntries(code.files.map((f) => [`entities/${f.path}`, strToU8(f.text)]))) : null
}

/** The plan folder; null where there is no survey yet or no order of creation. */
export async function baselineArchive(projectId: string): Promise<Uint8Array | null> {
  const b = await readBaseline(projectId)
  if (!b?.result.ok) return null
  const { folder, files, catalogs } = planFiles(b.result.plan, b.project.catalog, null, b.revision, 1)
  const texts = Object.entries(files).map(([name, text]) => [`${folder}/${name}`, strToU8(text)] as const)
  const packed = Object.entries(catalogs).map(([name, text]) => [`${folder}/${name}.gz`, gzipSync(strToU8(text), { mtime })] as const)
  return zip(Object.fromEntries([...texts, ...packed]))
}
