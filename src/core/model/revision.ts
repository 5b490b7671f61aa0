// What an output was made from: snapshot, evidence of rows, position in the ledger, version of the inference.
import type { SnapshotHash } from '../catalog/index.ts'

export interface Revision {
  readonly snapshot: SnapshotHash
  /** Hash of the row evidence; null where no rows were read. */
  readonly evidence: string | null
  /** Seq of the last entry; 0 for an empty ledger. */
  readonly ledger: number
  readonly inference: number
}

/** The ledger position that the text of a revision names; null where it names none. */
export const revisionLedger = (text: string): number | null => {
  const found = /(?:^|, )ledger (\d+)/.exec(text)?.[1]
  return found === undefined ? null : Number(found)
}

/** One line, for file headers: `snapshot 1f3a9c0d21b4, ledger 12, inference 1`. */
export function revisionText(r: Revision): string {
  return `snapshot ${r.snapshot.slice(0, 12)}${r.evidence === null ? '' : `, rows ${r.evidence.slice(0, 12)}`}, ledger ${r.ledger}, inference ${r.inference}`
}
