import type { Portion, Trial, TrialPath, WaysCompared } from '../../core/trial/index.ts'
import type { Answer } from '../common/api.ts'

/** Rows, and the ways to read them where they were compared. */
export interface TrialAnswer {
  readonly trial: Trial
  readonly compared: WaysCompared | null
}

/** Asks a file that is open in the browser. */
export type AskFile = (path: TrialPath, portion: Portion, compare: boolean) => Promise<Answer<TrialAnswer>>
