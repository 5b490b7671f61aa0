export * from './changes.ts'
export * from './drift.ts'
export * from './renames.ts'
export * from './surveyLine.ts'
