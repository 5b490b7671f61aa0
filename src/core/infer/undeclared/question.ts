// What is asked about columns that nothing declares to refer, and what may be the answer.
import type { Column, Relation } from '../../catalog/index.ts'
import type { Inclusion } from '../../rows/index.ts'
import type { Facts } from './facts.ts'
import type { TargetKey } from './targets.ts'

export interface Candidate {
  readonly child: Relation
  readonly columns: readonly Column[]
  readonly target: TargetKey
  /** Columns of the target in the order of `columns`. */
  readonly targetColumns: readonly Column[]
  readonly facts: Facts
  readonly role: readonly string[]
  /** What the rows say, where they were read. */
  readonly rows?: Inclusion
}

/** All candidates for one set of columns of one table: a question with one answer, or none. */
export interface Question {
  readonly child: Relation
  readonly columns: readonly Column[]
  readonly candidates: readonly Candidate[]
}
