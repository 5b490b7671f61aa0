// What the process that runs emitted stores is asked, and what it answers.
import type { NamedFixtures } from '../core/fixtures/index.ts'
import type { EntityModel } from '../core/model/index.ts'
import type { Location } from '../engines/postgres/index.ts'

export interface RowsTask {
  /** The emitted code, as one file. */
  readonly code: string
  /** The scratch database; nothing else is told. */
  readonly on: Location
  readonly fixtures: NamedFixtures
  readonly model: EntityModel
}

export interface RowDifference {
  readonly of: string
  readonly row: string
  readonly says: string
}

export type Compared =
  | {
      readonly is: 'compared'
      readonly differences: readonly RowDifference[]
      /** Rows that were compared, and of how many classes. */
      readonly compared: number
      readonly classes: number
      readonly left: readonly { readonly relation: string; readonly why: string }[]
    }
  | { readonly is: 'failed'; readonly said: string }
