export { applyMigrations } from './apply.ts'
export {
  type AppliedPlan,
  type ApplyRefusal,
  type ApplyReport,
  adoptPlan,
  applyPlans,
  type CheckAnswer,
  type PlanStatus,
  planStatus,
  preCheck,
} from './applyPlans.ts'
export { connect, testConnection } from './connect.ts'
export { describeFailure, SourceError, type Wording } from './failure.ts'
export { describeLocation, type Location, parseUrl } from './location.ts'
export { type Looked, look, readRows } from './look.ts'
export { profile } from './profile.ts'
export { describeApplyRefusal } from './refusalText.ts'
export { type Rehearsal, rehearse } from './rehearse.ts'
export { declaredLinks, plannedLinks, readSample, type Sample } from './sample.ts'
export { dropOrphans } from './scratch.ts'
export { survey, surveySummary } from './survey.ts'
export { type WalkStep, walkConnection } from './walk.ts'
