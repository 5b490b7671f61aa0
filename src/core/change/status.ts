// What becomes of a part between two catalogs.
import type { RelationAddress } from '../catalog/index.ts'
import type { Alteration } from './alteration.ts'
import type { Part } from './parts.ts'

export type Status =
  | { readonly what: 'same' }
  | { readonly what: 'make' }
  | { readonly what: 'drop' }
  | { readonly what: 'alter'; readonly from: Part; readonly by: readonly Alteration[] }
  /** Dropped and made again; `because` names what it rests on, or says that it cannot change in place. */
  | { readonly what: 'anew'; readonly because: string }
  /** What is done to the part named does it as well: a partition's column with its parent's. */
  | { readonly what: 'carried'; readonly by: string }

/** The first is only dealt with after the second, or as soon as the second is dropped. */
export type After = readonly [string, string, 'done' | 'dropped']

export interface Statuses {
  readonly of: ReadonlyMap<string, Status>
  /** Types that are set aside under another name while columns still have them: key → that name. */
  readonly aside: ReadonlyMap<string, RelationAddress>
  readonly after: readonly After[]
}
