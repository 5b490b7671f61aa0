// Catalog → Findings. One file per kind of finding; pure and deterministic.
import type { Catalog, ForeignKey, Relation } from '../catalog/index.ts'
import type { Finding } from '../model/index.ts'
import { type Naming, plainNaming } from '../names/index.ts'
import { type RowEvidence, type RowQuestion, type RowQuestions, rowEnd } from '../rows/index.ts'
import { inferenceContext } from './context.ts'
import { entityFindings } from './entity.ts'
import { findJoinTables } from './joinShape.ts'
import { joinTableFindings } from './joinTable.ts'
import { nameEverything } from './naming.ts'
import { polymorphicFindings } from './polymorphic.ts'
import { referenceFindings } from './reference.ts'
import { structureFindings } from './structure/index.ts'
import { referenceQuestions } from './undeclared/index.ts'

export { type Way, waysOf } from './structure/types.ts'
export { statementJoins } from './undeclared/index.ts'

/** Goes up whenever the same catalog may give other findings. A revision names it. */
export const inferenceVersion = 8

export interface Inference {
  /** In order of kind and subject; of structure, in order of topic. */
  readonly findings: readonly Finding[]
  /** Declared references that lead out of what was surveyed. */
  readonly dangling: readonly { readonly child: Relation; readonly key: ForeignKey }[]
}

/** Everything that can be asked about a catalog, with what its rows say where they were read, named by the project's rules. O(relations + columns + references). */
export function infer(catalog: Catalog, rows: RowEvidence | null = null, naming: Naming = plainNaming): Inference {
  const x = inferenceContext(catalog, rows, naming)
  const shapes = findJoinTables(x)
  const names = nameEverything(x, shapes.joins)
  return {
    findings: [
      ...entityFindings(x, names),
      ...joinTableFindings(shapes, names, x.rows),
      ...referenceFindings(x, names),
      ...polymorphicFindings(x),
      ...structureFindings(x),
    ],
    dangling: x.dangling,
  }
}

/** What rows to read for a catalog: sets of columns that may refer and what to, kinds with ids, and pairs of partners that may come twice; and `more`. */
export function rowQuestions(catalog: Catalog, more: readonly RowQuestion[] = []): RowQuestions {
  const { joins } = findJoinTables(inferenceContext(catalog, null, plainNaming))
  const partners = joins.filter((j) => j.unique === null).map((j) => rowEnd(j.relation, [...j.first.columns, ...j.second.columns]))
  const questions = referenceQuestions(catalog)
  return { ...questions, sets: [...questions.sets, ...more], partners }
}
