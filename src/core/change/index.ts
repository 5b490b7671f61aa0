export * from './baseline.ts'
export * from './order.ts'
export * from './plan.ts'
export * from './script.ts'
