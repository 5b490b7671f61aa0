export * from './detail.ts'
export * from './objects.ts'
export * from './occurrences.ts'
export * from './overview.ts'
