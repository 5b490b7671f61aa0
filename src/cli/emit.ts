// `pelvok emit`: code in a folder, shown before it is written; what people changed is never written over without a yes.
import { resolve } from 'node:path'
import { createTwoFilesPatch } from 'diff'
import { changeWords, type FileChange, type FolderPlan, type Found, isWritten, needsYes } from '../core/emit/folder.ts'
import { revisionLedger } from '../core/model/index.ts'
import { FolderRefused, planFolder, readFolder, writeFolder } from '../server/folders.ts'
import { badInput, ExitError } from './exit.ts'
import { gate, openIn } from './gate.ts'
import type { ReadReview } from './reading.ts'

export interface FolderCheck {
  readonly upToDate: boolean
  readonly missing: readonly string[]
  readonly changed: readonly string[]
  /** Files that are written anew each time, and that people changed. */
  readonly edited: readonly string[]
  /** Files of ours that the model no longer gives. */
  readonly stale: readonly string[]
  /** People's own files that would follow a new name, or whose class is gone. */
  readonly own: readonly string[]
  /** So many ledger entries is the folder behind; 0 where it is not, or where it does not say. */
  readonly behind: number
  /** Findings that are open, change what comes out, and were not taken when the folder was made. */
  readonly open: readonly string[]
}

/** Is a folder what the model gives? `head`: the ledger position that its files would be made at. */
function checkOf(plan: FolderPlan, found: Found, head: number, open: readonly string[]): FolderCheck {
  const of = (...does: readonly FileChange['does'][]) => plan.changes.filter((c) => does.includes(c.does)).map((c) => c.path)
  const ours = plan.changes.filter((c) => !c.own)
  const made = found.manifest ? revisionLedger(found.manifest.revision) : null
  const check = {
    missing: of('create'),
    changed: ours.filter((c) => c.does === 'rewrite').map((c) => c.path),
    edited: of('edited', 'unknown'),
    stale: ours.filter((c) => c.does === 'remove' || c.does === 'gone edited').map((c) => c.path),
    own: of('carry', 'left'),
    open: open.filter((id) => !found.manifest?.taken?.includes(id)),
  }
  return { upToDate: Object.values(check).every((list) => list.length === 0), ...check, behind: made === null ? 0 : Math.max(0, head - made) }
}

function differenceOf(c: FileChange, dir: string): string {
  const from = c.from ?? c.path
  const patch = createTwoFilesPatch(
    c.before === null ? '/dev/null' : resolve(dir, from),
    c.after === null ? '/dev/null' : resolve(dir, c.path),
    c.before ?? '',
    c.after ?? '',
  )
  // From its first file line on: what stands before it is no part of a unified difference.
  return patch.slice(patch.indexOf('--- '))
}

export interface EmitOptions {
  readonly out: string
  readonly check?: boolean
  readonly diff?: boolean
  readonly overwrite?: boolean
  readonly take?: boolean
}

/** The same once it is done. */
const doneWords = { ...changeWords, edited: 'written over', 'gone edited': 'removed, though changed by hand', unknown: 'written over' }

/** Gives whether the answer is yes: the folder is what the model gives, or was made so. */
export function emitInto(read: ReadReview, o: EmitOptions, say: (line: string) => void): boolean {
  try {
    const found = readFolder(o.out)
    return o.check || o.diff ? lookAt(found, read, o, say) : write(found, read, o, say)
  } catch (error) {
    if (error instanceof FolderRefused) throw badInput(error.what, error.hint)
    throw error
  }
}

function lookAt(found: Found, read: ReadReview, o: EmitOptions, say: (line: string) => void): boolean {
  const { review: made } = read
  const open = openIn(read).map((f) => f.id)
  const plan = planFolder(found, made.model, made.revision, open)
  if (o.diff) for (const c of plan.changes) if (isWritten(c) || needsYes(c)) process.stdout.write(differenceOf(c, o.out))
  if (!o.check) return true
  const answer = checkOf(plan, found, made.revision.ledger, o.take ? [] : open)
  if (answer.behind > 0) say(`stale: ${o.out} was made before the last ${answer.behind === 1 ? 'entry' : `${answer.behind} entries`} of the ledger`)
  if (!o.diff) process.stdout.write(`${JSON.stringify(answer, null, 2)}\n`)
  return answer.upToDate
}

function write(found: Found, read: ReadReview, o: EmitOptions, say: (line: string) => void): boolean {
  const taken = gate(read, o.take ?? false, say)
  const plan = planFolder(
    found,
    read.review.model,
    read.review.revision,
    taken.map((f) => f.id),
  )
  const asked = plan.changes.filter(needsYes)
  if (asked.length > 0 && !o.overwrite) {
    for (const c of asked) say(`${resolve(o.out, c.path)}: ${changeWords[c.does]}`)
    throw new ExitError(1, {
      message: `${asked.length === 1 ? 'one file is' : `${asked.length} files are`} not as Pelvok wrote ${asked.length === 1 ? 'it' : 'them'}; nothing was written`,
      detail: '',
      hint: 'Look at the difference with --diff. Keep your code in the files beside the folder of what is rewritten; --overwrite writes over these.',
    })
  }
  const done = new Set(writeFolder(o.out, plan, found, new Set(asked.map((c) => c.path))))
  report(plan, done, o.out, say)
  return true
}

function report(plan: FolderPlan, done: ReadonlySet<string>, dir: string, say: (line: string) => void): void {
  const count = (does: FileChange['does']) => plan.changes.filter((c) => c.does === does && done.has(c.path)).length
  const parts = (['create', 'rewrite', 'carry', 'remove', 'edited', 'gone edited', 'unknown'] as const).flatMap((d) =>
    count(d) > 0 ? [`${count(d)} ${doneWords[d]}`] : [],
  )
  say(`${resolve(dir)}: ${parts.length === 0 ? 'nothing to write' : parts.join(', ')}`)
  for (const r of plan.renamed) say(`${r.from} is called ${r.to} now`)
  for (const name of plan.removed) say(`${name} is gone`)
  for (const c of plan.changes) if (c.does === 'left') say(`${resolve(dir, c.path)}: ${changeWords.left}`)
  for (const m of plan.mentions) say(`${resolve(dir, m.path)}:${m.line}: speaks of ${m.name}: ${m.text}`)
}
