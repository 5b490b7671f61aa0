// Which files and properties of the code two models give otherwise.
import { emitTypeScript, valueTypes } from '../emit/typescript/index.ts'
import type { EntityModel } from '../model/index.ts'

/** Paths of files that are others, or there only in one of the two. */
export function changedFiles(before: EntityModel, after: EntityModel): readonly string[] {
  const filesOf = (m: EntityModel) =>
    new Map(emitTypeScript(m, { snapshot: '' as never, evidence: null, ledger: 0, inference: 0 }).map((f) => [f.path, f.text]))
  const [was, is] = [filesOf(before), filesOf(after)]
  return [...new Set([...was.keys(), ...is.keys()])].filter((p) => was.get(p) !== is.get(p)).sort()
}

/** `Bay.weight: Decimal becomes number`, for each property that both have with another type, in order of the model. */
export function changedTypes(before: EntityModel, after: EntityModel): readonly string[] {
  const [was, is] = [valueTypes(before), valueTypes(after)]
  const texts = new Map(before.entities.flatMap((e) => e.properties.map((p) => [`${e.id}\n${p.column}`, was.ofProperty(p).text] as const)))
  return after.entities.flatMap((e) =>
    e.properties.flatMap((p) => {
      const [old, now] = [texts.get(`${e.id}\n${p.column}`), is.ofProperty(p).text]
      return old === undefined || old === now ? [] : [`${e.name}.${p.name}: ${old} becomes ${now}`]
    }),
  )
}
