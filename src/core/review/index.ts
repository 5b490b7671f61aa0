export * from './detail.ts'
export * from './docket.ts'
export * from './review.ts'
