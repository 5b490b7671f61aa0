export * from './objectDdl.ts'
export * from './quote.ts'
export * from './tableDdl.ts'
export * from './types.ts'
