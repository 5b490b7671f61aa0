// CREATE AGGREGATE, put together from pg_aggregate: the server has no function that prints it (manual, CREATE AGGREGATE).
import { quoteIdent, quoteLiteral } from '../../core/dialect/postgres/index.ts'
import type { AggregateRow, RoutineRow } from './rows.ts'

const parallel: Readonly<Record<string, string>> = { s: 'SAFE', r: 'RESTRICTED', u: 'UNSAFE' }
const modify: Readonly<Record<string, string>> = { r: 'READ_ONLY', s: 'SHAREABLE', w: 'READ_WRITE' }

export function aggregateDefinition(r: RoutineRow, a: AggregateRow): string {
  const clauses: (readonly [string, string | null])[] = [
    ['SFUNC', a.transition],
    ['STYPE', a.stateType],
    ['SSPACE', a.space === 0 ? null : String(a.space)],
    ['INITCOND', a.initial === null ? null : quoteLiteral(a.initial)],
    ['FINALFUNC', a.final],
    ['FINALFUNC_EXTRA', a.finalExtra ? '' : null],
    ['FINALFUNC_MODIFY', a.final === null || a.finalModify === 'r' ? null : (modify[a.finalModify] ?? null)],
    ['COMBINEFUNC', a.combine],
    ['SERIALFUNC', a.serial],
    ['DESERIALFUNC', a.deserial],
    ['MSFUNC', a.movingTransition],
    ['MINVFUNC', a.movingInverse],
    ['MSTYPE', a.movingType],
    ['MSSPACE', a.movingSpace === 0 ? null : String(a.movingSpace)],
    ['MINITCOND', a.movingInitial === null ? null : quoteLiteral(a.movingInitial)],
    ['MFINALFUNC', a.movingFinal],
    ['MFINALFUNC_EXTRA', a.movingFinalExtra ? '' : null],
    ['MFINALFUNC_MODIFY', a.movingFinal === null || a.movingFinalModify === 'r' ? null : (modify[a.movingFinalModify] ?? null)],
    ['SORTOP', a.sort],
    ['HYPOTHETICAL', a.kind === 'h' ? '' : null],
    ['PARALLEL', a.parallel === 'u' ? null : (parallel[a.parallel] ?? null)],
  ]
  const body = clauses.flatMap(([word, value]) => (value === null ? [] : [value === '' ? `    ${word}` : `    ${word} = ${value}`]))
  return `CREATE AGGREGATE ${quoteIdent(r.schema)}.${quoteIdent(r.name)}(${r.arguments === '' ? '*' : r.arguments}) (\n${body.join(',\n')}\n)`
}
