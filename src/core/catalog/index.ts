export * from './address.ts'
export * from './canonical.ts'
export * from './compare.ts'
export * from './types.ts'
