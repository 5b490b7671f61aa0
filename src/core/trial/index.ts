export * from './path.ts'
export * from './run.ts'
export { countedTo, rowsPerLevel, type Statement, Writer } from './statements.ts'
export { type TrialPlace, type TrialView, trialView } from './view.ts'
