// A finished rehearsal for people: what the plan's page shows.
export interface RehearsalView {
  readonly ok: boolean
  /** Does it speak of the snapshot that is shown now? */
  readonly current: boolean
  readonly server: string
  readonly phases: readonly {
    readonly direction: string
    readonly steps: number
    readonly milliseconds: number
    readonly differences: readonly string[]
    readonly allowed: number
  }[]
  readonly skipped: readonly string[]
  readonly notSupported: readonly string[]
  readonly failure: { readonly where: string; readonly said: string; readonly statement: string } | null
}
