// Which files of the code two models give otherwise.
import { emitTypeScript } from '../emit/typescript/index.ts'
import type { EntityModel } from '../model/index.ts'

/** Paths of files that are others, or there only in one of the two. */
export function changedFiles(before: EntityModel, after: EntityModel): readonly string[] {
  const filesOf = (m: EntityModel) =>
    new Map(emitTypeScript(m, { snapshot: '' as never, evidence: null, ledger: 0, inference: 0 }).map((f) => [f.path, f.text]))
  const [was, is] = [filesOf(before), filesOf(after)]
  return [...new Set([...was.keys(), ...is.keys()])].filter((p) => was.get(p) !== is.get(p)).sort()
}
