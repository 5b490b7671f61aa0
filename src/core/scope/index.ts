export * from './apply.ts'
export * from './neighbours.ts'
export * from './propose.ts'
export * from './scope.ts'
