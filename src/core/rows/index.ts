export * from './inclusionSql.ts'
export * from './readRows.ts'
export * from './rowEvidence.ts'
