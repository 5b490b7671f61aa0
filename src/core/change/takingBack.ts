// What the way back of a plan would drop with rows in it.

import { Scanner } from '../ddl/scanner.ts'
import * as pg from '../dialect/postgres/index.ts'
import { postgresLexis } from '../dialect/postgres/lexis.ts'
import { hangs, type Part } from './parts.ts'
import type { Step } from './plan.ts'

/** A table or column that a step's way back drops, and how many rows it holds then. */
export interface BackLoss {
  readonly step: number
  /** As people say it: `table field.lane`, `column field.bay.mark`. */
  readonly object: string
  /** A query of one number: rows, or rows with a value of their own in the column. */
  readonly count: string
}

/** The table that a part says this one is a partition of. */
const parentOf = (p: Part | null, address: string): readonly string[] =>
  p?.kind === 'table' && p.value.partitionOf && pg.quoteAddress(p.value) === address ? [pg.quoteAddress(p.value.partitionOf.parent)] : []

/** The names of a statement, with its words in capitals: `DROP TABLE field.lane` → DROP, TABLE, field, lane. */
function namesOf(statement: string): readonly { readonly name: string; readonly plain: boolean }[] {
  const found: { name: string; plain: boolean }[] = []
  for (const s = new Scanner(statement, postgresLexis); s.kind !== 'end'; ) {
    if (s.kind === 'word' || s.kind === 'name') {
      const plain = s.kind === 'word'
      found.push({ name: s.name(), plain })
    } else s.next()
  }
  return found
}

/** The name behind some words of a statement, with its schema where it has one; null where they do not stand there. */
function behind(statement: string, words: readonly string[]): readonly string[] | null {
  const names = namesOf(statement)
  const said = (i: number) => (names[i]?.plain ? names[i].name.toLowerCase() : null)
  if (!words.every((w, i) => said(i) === w)) return null
  let at = words.length
  if (said(at) === 'if' && said(at + 1) === 'exists') at += 2
  if (said(at) === 'only') at += 1
  return names.slice(at).map((n) => n.name)
}

/**
 * Tables and columns that `down` of these steps drops. Rows that a step copies back are not lost with their table, and a value that a column
 * has by its default, or works out, comes again. Statements that a person has written are read as the plan's own are.
 */
export function lossesBack(steps: readonly Step[]): readonly BackLoss[] {
  const copied = steps.filter((s) => s.kind === 'rows').map((s) => s.down.join('\n'))
  return steps.flatMap((s) =>
    s.down.flatMap((statement): readonly BackLoss[] => {
      const table = behind(statement, ['drop', 'table'])
      if (table?.[0] !== undefined && table[1] !== undefined) {
        const [schema, name] = table
        const address = pg.quoteAddress({ schema, name })
        // Rows of a partition are those of its table.
        const parents = steps.flatMap((o) => o.sets.flatMap(([, p]) => parentOf(p, address)))
        const isCopied = copied.some((text) => [address, ...parents].some((a) => text.includes(`FROM ${a};`)))
        return isCopied ? [] : [{ step: s.number, object: `table ${address}`, count: `select pg_catalog.count(*) from ${address}` }]
      }
      const of = behind(statement, ['alter', 'table']) ?? behind(statement, ['alter', 'foreign', 'table'])
      const [schema, name, drop, column, last] = of ?? []
      if (schema === undefined || name === undefined || drop !== 'drop' || column !== 'column' || last === undefined) return []
      const lost = (of as readonly string[])[4] === 'if' ? (of as readonly string[])[6] : last
      return lost === undefined ? [] : columnLoss(s, { schema, name }, lost)
    }),
  )
}

function columnLoss(s: Step, table: { readonly schema: string; readonly name: string }, column: string): readonly BackLoss[] {
  const parts = s.sets.flatMap(([, p]) => (p !== null && hangs(p) && p.on.schema === table.schema && p.on.name === table.name ? [p] : []))
  const part = parts.find((p) => p.kind === 'column' && p.value.name === column)
  if (part?.kind === 'column' && (part.value.generated || part.value.identity)) return []
  const given = parts.find((p) => p.kind === 'default' && p.value.column === column)
  const text = given?.kind === 'default' ? given.value.expression.written : null
  const constant = text !== null && !text.includes('(') && !/^current_|^local/i.test(text) ? text : null
  const [address, name] = [pg.quoteAddress(table), pg.quoteIdent(column)]
  const own = constant === null ? `t.${name} is not null` : `t.${name} is distinct from (${constant})`
  return [{ step: s.number, object: `column ${address}.${name}`, count: `select pg_catalog.count(*) from ${address} t where ${own}` }]
}
