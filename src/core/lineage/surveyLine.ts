import type { SnapshotHash } from '../catalog/index.ts'

/** One survey as people look back on it. */
export interface SurveyLine {
  readonly hash: SnapshotHash
  readonly at: string
  readonly server: string
  readonly user: string
  readonly relations: number
  /** What this user could not see, and what the format does not describe. */
  readonly notReadable: number
  readonly unmodelled: number
  /** Is the structure the one of the survey before? */
  readonly same: boolean
}
