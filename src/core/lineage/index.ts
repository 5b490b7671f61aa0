export * from './changes.ts'
export * from './renames.ts'
export * from './surveyLine.ts'
