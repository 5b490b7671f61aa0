// Catalog → Findings. One file per kind of finding; pure and deterministic.
import type { Catalog, ForeignKey, Relation } from '../catalog/index.ts'
import type { Finding } from '../model/index.ts'
import type { RowEvidence } from '../rows/index.ts'
import { inferenceContext } from './context.ts'
import { entityFindings } from './entity.ts'
import { findJoinTables } from './joinShape.ts'
import { joinTableFindings } from './joinTable.ts'
import { nameEverything } from './naming.ts'
import { polymorphicFindings } from './polymorphic.ts'
import { referenceFindings } from './reference.ts'

export { rowQuestions } from './undeclared/index.ts'

/** Goes up whenever the same catalog may give other findings. A revision names it. */
export const inferenceVersion = 2

export interface Inference {
  /** In order of kind and subject. */
  readonly findings: readonly Finding[]
  /** Declared references that lead out of what was surveyed. */
  readonly dangling: readonly { readonly child: Relation; readonly key: ForeignKey }[]
}

/** Everything that can be asked about a catalog, with what its rows say where they were read. O(relations + columns + references). */
export function infer(catalog: Catalog, rows: RowEvidence | null = null): Inference {
  const x = inferenceContext(catalog, rows)
  const shapes = findJoinTables(x)
  const names = nameEverything(x, shapes.joins)
  return {
    findings: [...entityFindings(x, names), ...joinTableFindings(shapes, names), ...referenceFindings(x, names), ...polymorphicFindings(x)],
    dangling: x.dangling,
  }
}
