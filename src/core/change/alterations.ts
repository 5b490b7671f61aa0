import * as pg from '../dialect/postgres/index.ts'
import { type Alteration, comment, fieldsApart, inPlace, lock, same, within } from './alteration.ts'
import { alterColumn } from './alterColumn.ts'
import { alterHanging } from './alterHanging.ts'
import { alterComposite, alterEnum, alterExtension, alterRoutine, alterTableShell, alterView } from './alterObjects.ts'
import type { Ground } from './needs.ts'
import type { HangingPart, Part } from './parts.ts'
import type { Hazard } from './plan.ts'
import { partText } from './statements.ts'

/** The alterations that lead from one part to the other of the same key; null where it has to be made anew. */
export function alterations(a: Part, b: Part, ga: Ground, gb: Ground): readonly Alteration[] | null {
  if (a.kind !== b.kind) return null
  const fields = fieldsApart(a.value, b.value)
  switch (a.kind) {
    case 'schema': {
      const to = b as typeof a
      return [inPlace(a, to, (x, y) => comment(`SCHEMA ${pg.quoteIdent(a.value.name)}`, x, y))]
    }
    case 'extension':
      return alterExtension(a, b as typeof a)
    case 'enum':
      return alterEnum(a, b as typeof a)
    case 'domain': {
      const to = b as typeof a
      if (fields.includes('type') || fields.includes('collation')) return null
      const read: readonly Hazard[] = [{ code: 'reads-all', object: partText(a), because: 'its rules are tested on every column that has it' }]
      return [inPlace(a, to, pg.domainChange, [], fields.includes('checks') || fields.includes('nullable') ? read : [])]
    }
    case 'composite':
      return alterComposite(a, b as typeof a)
    case 'range':
      return within(fields, ['comment']) ? [inPlace(a, b as typeof a, (x, y) => comment(`TYPE ${pg.quoteAddress(a.value)}`, x, y))] : null
    case 'object':
      return within(fields, ['comment']) ? [inPlace(a, b as typeof a, (x, y) => comment(pg.definedName(a.value), x, y))] : null
    case 'sequence':
      return [
        inPlace(a, b as typeof a, (x, y) => [
          ...(same(x.options, y.options) ? [] : [`ALTER SEQUENCE ${pg.quoteAddress(x)} AS ${y.options.type} ${pg.allClauses(y.options)};`]),
          ...(x.unlogged === y.unlogged ? [] : [`ALTER SEQUENCE ${pg.quoteAddress(x)} SET ${y.unlogged ? 'UNLOGGED' : 'LOGGED'};`]),
          ...comment(`SEQUENCE ${pg.quoteAddress(x)}`, x, y),
        ]),
      ]
    case 'owner':
      return [inPlace(a, b as typeof a, (_, y) => pg.sequenceOwnerDdl(y as Parameters<typeof pg.sequenceOwnerDdl>[0]).up)]
    case 'routine':
      return alterRoutine(a, b as typeof a)
    case 'table':
      return alterTableShell(a, b as typeof a, ga)
    case 'view':
      return alterView(a, b as typeof a)
    case 'column':
      return alterColumn(a, b as typeof a, ga, gb)
    case 'default':
      return [
        inPlace(
          a,
          b as typeof a,
          (_, y) => [
            `ALTER ${ga.relation(a.on)?.kind === 'view' ? 'VIEW' : 'TABLE ONLY'} ${pg.quoteAddress(a.on)} ALTER COLUMN ${pg.quoteIdent(y.column)} SET DEFAULT ${pg.reparsable(y.expression.written)};`,
          ],
          [lock(a.on, 'access exclusive')],
        ),
      ]
    case 'unmodelled':
      return []
    default:
      return alterHanging(a, b as HangingPart, fields, ga, gb)
  }
}

function _unreachable(p: never): never {
  throw new Error(`a part of no known kind: ${JSON.stringify(p)}`)
}
