// A project's code in a folder of the server: shown first, then written as it was shown.
import { join } from 'node:path'
import { z } from 'zod'
import { hashText } from '../core/catalog/index.ts'
import { type FolderPlan, type Found, needsYes } from '../core/emit/folder.ts'
import { emitTypeScript } from '../core/emit/typescript/index.ts'
import { type TypescriptSettings, typescriptSettings } from '../core/model/index.ts'
import type { FolderAnswer, FolderView } from '../core/review/index.ts'
import { findCodeFolder, keepCodeFolder } from '../store/index.ts'
import { allowedRoot, FolderRefused, overriddenInFolder, planFolder, readFolder, underRoot, writeFolder } from './folders.ts'
import { shut } from './gate.ts'
import { readProjectReview } from './review.ts'

const refused = (message: string, hint: string): FolderAnswer<never> => ({ ok: false, wording: { message, detail: '', hint } })

const seenOf = (plan: FolderPlan) => hashText(JSON.stringify(plan.changes.map((c) => [c.path, c.does, c.before, c.after])))

async function planned(projectId: string, into: string): Promise<FolderAnswer<{ readonly full: string; readonly found: Found; readonly plan: FolderPlan }>> {
  const project = await readProjectReview(projectId)
  if (!project) return refused('there is no survey yet', 'Survey the source first.')
  try {
    const full = underRoot(into)
    const found = readFolder(full)
    const { model, revision } = project.review
    return { ok: true, value: { full, found, plan: planFolder(found, model, revision) } }
  } catch (error) {
    if (error instanceof FolderRefused) return refused(error.what, error.hint)
    throw error
  }
}

/** What writing into a folder below the allowed root would do; `file`: the one to look at, or the first. */
export async function readCodeFolder(projectId: string, into: string, file: string | null): Promise<FolderAnswer<FolderView>> {
  const answer = await planned(projectId, into)
  if (!answer.ok) return answer
  const { full, plan } = answer.value
  const changes = plan.changes.filter((c) => c.does !== 'same' && c.does !== 'own')
  const shown = changes.find((c) => c.path === file) ?? changes.find(needsYes) ?? changes[0]
  return {
    ok: true,
    value: {
      root: allowedRoot() ?? '',
      into,
      full,
      changes: changes.map((c) => ({ path: c.path, full: join(full, c.path), does: c.does, own: c.own, from: c.from, asks: needsYes(c) })),
      same: plan.changes.length - changes.length,
      renamed: plan.renamed,
      removed: plan.removed,
      mentions: plan.mentions,
      shown: shown ? { path: shown.path, before: shown.before ?? '', after: shown.after ?? '' } : null,
      seen: seenOf(plan),
    },
  }
}

export const folderInput = z.strictObject({ into: z.string().min(1).max(400), seen: z.string(), yes: z.array(z.string().max(1000)).max(100_000) })

/** Writes what was shown; refused where the folder or the model is another since, or the gate is shut. */
export async function writeCodeFolder(
  projectId: string,
  input: z.infer<typeof folderInput>,
  by: string,
): Promise<FolderAnswer<{ readonly full: string; readonly written: number; readonly left: number }>> {
  const no = await shut(projectId)
  if (no) return refused(no.message, no.hint)
  const answer = await planned(projectId, input.into)
  if (!answer.ok) return answer
  const { full, found, plan } = answer.value
  if (seenOf(plan) !== input.seen) return refused('the folder or the review changed since this was shown', 'Nothing was written. Look at it again.')
  try {
    const yes = new Set(input.yes)
    const written = writeFolder(full, plan, found, yes)
    const overridden = [...overriddenInFolder(readFolder(full))].map(([entity, names]) => [entity, [...names]] as const)
    await keepCodeFolder(projectId, { into: input.into, overridden: JSON.stringify(Object.fromEntries(overridden)) }, by)
    return { ok: true, value: { full, written: written.length, left: plan.changes.filter((c) => needsYes(c) && !yes.has(c.path)).length } }
  } catch (error) {
    if (error instanceof FolderRefused) return refused(error.what, error.hint)
    throw error
  }
}

const overriddenShape = z.record(z.string(), z.array(z.string()))

/** Where a project's code was last written to, and which operations people's own files there override; null before the first time. */
export async function lastCodeFolder(
  projectId: string,
): Promise<{ readonly into: string; readonly overridden: Readonly<Record<string, readonly string[]>> } | null> {
  const last = await findCodeFolder(projectId)
  return last ? { into: last.into, overridden: overriddenShape.parse(JSON.parse(last.overridden)) } : null
}

export const settingsInput = z.strictObject({ settings: typescriptSettings })

/** What other settings would change in the files as they are given now. */
export async function previewSettings(
  projectId: string,
  settings: TypescriptSettings,
): Promise<{ readonly added: readonly string[]; readonly gone: readonly string[]; readonly changed: readonly string[] } | null> {
  const project = await readProjectReview(projectId)
  if (!project) return null
  const { model, revision } = project.review
  const textsOf = (s: TypescriptSettings) => new Map(emitTypeScript({ ...model, settings: s }, revision).map((f) => [f.path, f.text]))
  const [was, is] = [textsOf(model.settings), textsOf(settings)]
  return {
    added: [...is.keys()].filter((p) => !was.has(p)),
    gone: [...was.keys()].filter((p) => !is.has(p)),
    changed: [...is].flatMap(([p, text]) => (was.has(p) && was.get(p) !== text ? [p] : [])),
  }
}
