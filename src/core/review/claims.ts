// What somebody claims against the database, and what rows say to it.
import { type Catalog, columnsText, parseAddress } from '../catalog/index.ts'
import { activeEntries, type EntityModel, editsOf, type LedgerEntry, type ModelDiagnostic, type Relationship } from '../model/index.ts'
import { inclusionKey, type RowEvidence, type RowQuestion, rowEnd } from '../rows/index.ts'

/** Declared references of which somebody says that there is at most one: what rows to count against that. References that nobody declared are asked about anyway. */
export function claimQuestions(catalog: Catalog, entries: readonly LedgerEntry[]): readonly RowQuestion[] {
  const claimed = new Map<string, boolean>()
  for (const e of activeEntries(entries).flatMap(editsOf))
    if (e.facet === 'reference.atMostOne') claimed.set(e.subject.split('>')[0] as string, e.value === true)
  return catalog.relations.flatMap((r) =>
    r.foreignKeys
      .filter((k) => claimed.get(columnsText(r, k.columns.toSorted())))
      .map((k): RowQuestion => ({ child: rowEnd(r, k.columns), parents: [rowEnd({ schema: k.target.schema, name: k.target.table }, k.target.columns)] })),
  )
}

/** What rows say to the claim of a relationship, as the end of a sentence; empty where nobody counted. */
export function countedText(x: Relationship, model: EntityModel): string {
  const d = model.diagnostics.find((o) => o.code === 'claimed-one' && o.relation === x.from.entity && o.columns.join() === x.from.columns.join())
  if (d?.code !== 'claimed-one' || d.most === undefined) return ''
  return d.most > 1 ? `; counted: up to ${d.most} rows share one partner` : `; counted: of ${d.rows} ${d.rows === 1 ? 'row' : 'rows'} no two share one partner`
}

/** The claims of a model with what rows say: the most that one partner has. */
export function countedClaims(model: EntityModel, rows: RowEvidence | null): EntityModel {
  if (rows === null || !model.diagnostics.some((d) => d.code === 'claimed-one')) return model
  const most = new Map(rows.inclusions.map((i) => [inclusionKey(i.child, i.parent), i]))
  const counted = (d: ModelDiagnostic): ModelDiagnostic => {
    if (d.code !== 'claimed-one') return d
    const x = model.relationships.find((r) => r.to.claimed && r.from.entity === d.relation && r.from.columns.join() === d.columns.join())
    const [child, parent] = [parseAddress(d.relation), parseAddress(x?.to.entity ?? '')]
    const found = x && child && parent ? most.get(inclusionKey(rowEnd(child, d.columns), rowEnd(parent, x.to.columns))) : undefined
    return found ? { ...d, rows: found.rows, most: found.most ?? 0 } : d
  }
  return { ...model, diagnostics: model.diagnostics.map(counted) }
}
