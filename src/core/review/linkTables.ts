// Tables that link two others and have columns of their own.
import { type EntityModel, type Finding, type FindingStatus, findingId } from '../model/index.ts'

/** The answer that keeps the entity and reads past it, where in the finding it stands, and its two references; null where there is none. */
export function shortcutOf(
  f: Finding,
): { readonly at: number; readonly answer: Finding['alternatives'][number]; readonly halves: { readonly first: string; readonly second: string } } | null {
  if (f.kind !== 'join-table') return null
  const at = f.alternatives.findIndex((a) => a.key === 'shortcut')
  const answer = f.alternatives[at]
  const reading = answer?.edits.find((e) => e.facet === 'join.reading')?.value
  return answer && reading?.as === 'entity' && reading.shortcut ? { at, answer, halves: reading.shortcut } : null
}

/** Findings about tables that link two others by references that hold, and are entities with no way past them. O(findings + relationships). */
export function linksAlone(findings: readonly Finding[], model: EntityModel): readonly Finding[] {
  const links = findings.filter((f) => shortcutOf(f) !== null)
  if (links.length === 0) return links
  const ids = new Set<string>(model.relationships.map((x) => x.id))
  const entities = new Set<string>(model.entities.map((e) => e.id))
  return links.filter((f) => {
    const halves = shortcutOf(f)?.halves
    return halves && !ids.has(f.id) && entities.has(f.subject) && [halves.first, halves.second].every((s) => ids.has(findingId('reference', s)))
  })
}

/** Those of them that nobody ruled on, and that are asked by themselves no more. */
export const linksUnruled = (r: {
  readonly findings: readonly Finding[]
  readonly statuses: ReadonlyMap<string, FindingStatus>
  readonly model: EntityModel
}) => linksAlone(r.findings, r.model).filter((f) => ['certain', 'folded'].includes(r.statuses.get(f.id) ?? ''))
