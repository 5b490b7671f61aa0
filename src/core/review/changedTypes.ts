// Which properties of the code two models give otherwise.
import { valueTypes } from '../emit/typescript/index.ts'
import type { EntityModel } from '../model/index.ts'

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
