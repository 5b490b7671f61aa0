// How the values of one column become those of another type, where somebody said so.

/** Expressions over the column both ways; `misfit` is true for values that do not fit, as a condition on the alias t, or null where all do. */
export interface Conversion {
  readonly up: string
  readonly down: string
  readonly misfit: string | null
}

/** By the key of the column. */
export type Conversions = ReadonlyMap<string, Conversion>
