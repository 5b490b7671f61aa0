// The answers of a finding as people choose among them.
import { type Edit, type Finding, noReference } from '../model/index.ts'

const choiceLabels: Readonly<Record<string, string>> = {
  declared: 'a reference, as declared',
  lineage: 'a reference, by what its column is',
  class: 'a class',
  'several tables': 'a row of one of several tables',
  'many-to-many': 'a many-to-many, the table hidden',
  entity: 'an entity of its own',
  yes: 'so it is',
  no: 'not so, or not worth a change',
  shortcut: 'an entity, and a many-to-many beside it to read by',
}

export const choiceLabel = (f: Finding, key: string): string => {
  if (key === noReference) return 'no reference'
  if (f.topic === 'values') return key === 'yes' ? 'one of its words' : 'any text'
  if (f.topic === 'flag') return key === 'yes' ? 'yes or no' : 'its words as they are'
  if (f.topic === 'no key') return key === 'yes' ? 'by nothing: its class is only read' : `${key}, in the model alone`
  if (f.topic === 'prefix') return key === 'yes' ? 'left out' : 'kept'
  if (f.topic === 'names alike') return namesOf(f, key)
  return choiceLabels[key] ?? (f.kind === 'reference' ? `a reference to ${key.replaceAll('%20', ' ')}` : key)
}

/** `depot.crate is Crate, lab.crate is LabCrate` */
const namesOf = (f: Finding, key: string): string =>
  (f.alternatives.find((a) => a.key === key)?.edits ?? []).map((e) => `${e.subject.replaceAll('%20', ' ')} is ${String(e.value)}`).join(', ')

/** The edits of an alternative that say what it is, without the names, which people may have changed already. */
export const structural = (edits: readonly Edit[]): readonly Edit[] =>
  edits.filter(
    (e) =>
      e.facet === 'join.reading' ||
      e.facet === 'reference.target' ||
      e.facet === 'reference.kinds' ||
      e.facet === 'column.values' ||
      e.facet === 'column.flag' ||
      e.facet === 'column.role' ||
      e.facet === 'columns.group' ||
      e.facet === 'entity.identity' ||
      e.facet === 'type.target',
  )
