// How a command ends when it does not end well.
import type { Wording } from '../engines/postgres/index.ts'

/** Ends a command: 1 the answer is "no", 2 bad usage or input, 3 the source failed, 70 a fault of ours (EX_SOFTWARE of sysexits(3head)). */
export class ExitError extends Error {
  constructor(
    readonly status: 1 | 2 | 3 | 70,
    readonly wording: Wording,
  ) {
    super(wording.message)
    this.name = 'ExitError'
  }
}

export const badInput = (message: string, hint: string, detail = ''): ExitError => new ExitError(2, { message, detail, hint })
