export * from './changes.ts'
export * from './renames.ts'
