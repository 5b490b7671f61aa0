export * from './survey.ts'
