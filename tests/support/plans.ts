// Plans between two scripts, told in lines.
import { type Catalog, compareCatalogs } from '../../src/core/catalog/index.ts'
import { type Changed, type ChangeOptions, changePlan, type Plan } from '../../src/core/change/index.ts'
import { readScript } from '../../src/core/ddl/index.ts'
import { parseDialect, semanticsOf } from '../../src/core/dialect/guess.ts'

const dialect = parseDialect('postgresql')

/** The catalog of a PostgreSQL script. */
export function postgres(text: string): Catalog {
  if (!dialect) throw new Error('no dialect')
  return readScript([{ name: 'a.sql', text }], semanticsOf(dialect)).catalog
}

export function planBetween(from: string | Catalog, to: string | Catalog, options: Partial<ChangeOptions> = {}): Changed {
  const result = changePlan(typeof from === 'string' ? postgres(from) : from, typeof to === 'string' ? postgres(to) : to, { title: 'change', ...options })
  if (!result.ok) throw new Error(JSON.stringify(result.problem))
  return result.changed
}

/** `table public.bay: is made [1]`, the transaction in brackets. */
export const stepsOf = (p: Plan): readonly string[] => p.steps.map((s) => `${s.object}: ${s.says} [${s.transaction ?? 'outside'}]`)

export const sqlOf = (p: Plan): readonly string[] => p.steps.flatMap((s) => s.up)

/** What differs, but for the order of columns and what follows from the rest. */
export const apart = (a: Catalog, b: Catalog): readonly string[] =>
  compareCatalogs({ ...a, unmodelled: [] }, { ...b, unmodelled: [] })
    .filter((d) => !d.field.endsWith('columns order') && !d.field.includes('dependsOn'))
    .map((d) => `${d.object} ${d.field}: ${d.was} expected, ${d.is} found`)
