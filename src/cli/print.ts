// Answers for people: plain text on standard output.
import type { Difference } from '../core/catalog/index.ts'
import { differenceGroups, groupLine, plannedAndFound } from '../core/change/index.ts'
import type { Cycle, EntityId, EntityModel, Finding, FindingStatus } from '../core/model/index.ts'
import { cycleSentence, describeModelDiagnostic, type printedRelationships, sentencesOf, sentenceText } from '../core/model/index.ts'
import { describeFailure, type Location, type Rehearsal } from '../engines/postgres/index.ts'

export function relationshipLines(list: ReturnType<typeof printedRelationships>, model: EntityModel): string {
  const sentences = new Map<string, readonly string[]>(model.relationships.map((r) => [r.id, sentencesOf(r, model).map(sentenceText)]))
  return list
    .map((r) => {
      const head = `${r.kind}, ${r.state}, ${r.confidence.toFixed(2)}  ${r.id}`
      const said = sentences.get(r.id) ?? (r.partOf ? [`(half of ${r.partOf})`] : [])
      return [head, ...said.map((s) => `  ${s}`), ...r.evidence.map((e) => `    ${e.weight < 0 ? '-' : '+'} ${e.says}`)].join('\n')
    })
    .join('\n')
}

export function findingLines(findings: readonly Finding[], statuses: ReadonlyMap<string, FindingStatus>): string {
  return findings
    .map((f) =>
      [
        `${statuses.get(f.id)}, ${f.alternatives[0].confidence.toFixed(2)}  ${f.id}`,
        ...f.alternatives.flatMap((a) => [`  ${a.key} ${a.confidence.toFixed(2)}`, ...a.evidence.map((e) => `    ${e.weight < 0 ? '-' : '+'} ${e.says}`)]),
      ].join('\n'),
    )
    .join('\n')
}

/** In what order rows can be inserted, portion by portion, and what each cycle says of itself. */
export function orderLines(portions: readonly (readonly EntityId[])[], cycles: readonly Cycle[]): string {
  const names = (list: readonly EntityId[]) => list.map((id) => `  ${id.replaceAll('%20', ' ')}`).join('\n')
  const lines = portions.map((p, i) => `${i + 1}. ${i === 0 ? 'refer to nothing else' : 'refer to earlier portions only'}:\n${names(p)}`)
  return [...lines, ...cycles.map((c) => `in a cycle: ${cycleSentence(c)}`), 'Rows are deleted from the last portion to the first.'].join('\n')
}

export const diagnosticLines = (model: EntityModel): readonly string[] => model.diagnostics.map(describeModelDiagnostic)

/** `all`: each difference; else a line for each kind of them, with one as an example. */
export function rehearsalLines(r: Rehearsal, on: Location, all: boolean): string {
  const told = (differences: readonly Difference[]) => (all ? differences.map(plannedAndFound) : differenceGroups(differences).map(groupLine))
  const lines = [`${r.ok ? 'proven' : 'not proven'} on ${r.server}`]
  for (const p of r.phases) {
    lines.push(
      `${p.direction}: ${p.steps} steps in ${p.milliseconds} ms, ${p.differences.length === 0 ? 'equal' : `${p.differences.length} differ`}${p.allowed > 0 ? `, but for ${p.allowed} texts that the server prints in its own way` : ''}`,
    )
    for (const d of told(p.differences)) lines.push(`  ${d}`)
    if (p.announced > 0) lines.push(`  ${p.announced} differ as the plan said: there is no way back for them`)
  }
  if (r.rows !== null) lines.push(`with ${r.rows} rows`)
  for (const s of r.steps) for (const d of told(s.differences)) lines.push(`after step ${s.step}: ${d}`)
  for (const s of r.skipped) lines.push(`skipped ${s.step}. ${s.object}: ${s.reason} (${s.said})`)
  for (const u of r.notSupported) lines.push(`not supported yet: ${u.kind} ${u.identity}`)
  if (r.failure) {
    const w = describeFailure(r.failure.failure, on)
    lines.push(
      `${r.failure.direction} failed at step ${r.failure.step}, ${r.failure.object}: ${w.message}`,
      `  ${w.detail}`,
      `  ${r.failure.statement.split('\n')[0]}`,
    )
  }
  return lines.join('\n')
}
