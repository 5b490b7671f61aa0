export * from './layout.ts'
export * from './mapInput.ts'
export * from './types.ts'
