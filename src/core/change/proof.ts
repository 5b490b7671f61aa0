// What stands behind a plan: its last rehearsal, of exactly the scripts that it has.

/** Of the last rehearsal of a plan. */
export interface Proof {
  readonly ok: boolean
  readonly server: string
  /** ISO 8601, UTC. */
  readonly at: string
  /** Why it failed, in one line; empty where it did not. */
  readonly says: string
}

/** Why a plan is not proven, to follow "plan 2": null where it is. */
export function unproven(proof: Proof | null): string | null {
  if (proof === null) return 'was never rehearsed as it is now'
  return proof.ok ? null : `failed its last rehearsal: ${proof.says}`
}
