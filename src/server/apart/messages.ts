// What the web server and a project's thread say to each other.
import type { Words } from '../../core/text/told.ts'

export type ToThread =
  | { readonly call: number; readonly name: string; readonly args: readonly unknown[] }
  /** Nobody waits for it any more. */
  | { readonly abort: number }

/** Stands in a call for the signal that an abort of it sets off. */
export const signalMark = { pelvok: 'signal' } as const
export const isSignalMark = (value: unknown): boolean =>
  typeof value === 'object' && value !== null && (value as { pelvok?: unknown }).pelvok === signalMark.pelvok

export type Outcome =
  | { readonly is: 'done'; readonly value: unknown }
  | { readonly is: 'told'; readonly words: Words; readonly status: number }
  | { readonly is: 'aborted' }
  | { readonly is: 'fault'; readonly message: string; readonly stack: string }

export interface FromThread {
  readonly call: number
  readonly outcome: Outcome
}
