export * from './profile.ts'
export * from './survey.ts'
