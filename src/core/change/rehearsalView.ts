// A finished rehearsal for people: what the plan's page shows.

/** Differences of one kind: a line for all of them with one as an example, and each of them. */
export interface DifferenceLines {
  readonly says: string
  readonly all: readonly string[]
}

export interface RehearsalView {
  readonly ok: boolean
  readonly server: string
  /** Rows it began with; null for structure only. */
  readonly rows: number | null
  /** Rows that were made up, stored at the end and read back through the emitted stores; null where there were none. */
  readonly stored: {
    readonly stored: number
    readonly compared: number
    readonly classes: number
    readonly wrong: readonly string[]
    readonly left: readonly string[]
  } | null
  readonly phases: readonly {
    readonly direction: string
    readonly steps: number
    readonly milliseconds: number
    readonly differences: readonly DifferenceLines[]
    readonly allowed: number
    /** Differences of what the plan says has no way back. */
    readonly announced: number
  }[]
  /** What each step did when it ran the first time; none of a baseline. */
  readonly steps: readonly {
    readonly step: number
    readonly milliseconds: number
    readonly locks: readonly string[] | null
    readonly rewritten: readonly string[]
    readonly differences: readonly DifferenceLines[]
  }[]
  readonly skipped: readonly string[]
  readonly notSupported: readonly string[]
  readonly failure: { readonly where: string; readonly said: string; readonly statement: string } | null
}
