export * from './lineage.ts'
