// A declared type of SQLite → what its values most likely are. SQLite keeps any value anywhere; the affinity only prefers.
import type { Neutral } from '../neutral.ts'

/** By words people use, then by the rules of affinity in their order ("Datatypes In SQLite", 3.1). */
const rules: readonly (readonly [RegExp, Exclude<Neutral['kind'], 'named' | 'list' | 'other'>])[] = [
  [/^BOOL/, 'boolean'],
  [/^(DATETIME|TIMESTAMP)/, 'local datetime'],
  [/^DATE/, 'date'],
  [/^TIME/, 'time'],
  [/^UUID/, 'uuid'],
  [/^JSON/, 'json'],
  [/BIGINT|INT8|UNSIGNED BIG INT/, 'bigint'],
  [/INT/, 'integer'],
  [/CHAR|CLOB|TEXT|STRING/, 'text'],
  [/BLOB|BINARY|^$/, 'bytes'],
  [/REAL|FLOA|DOUB/, 'float'],
  [/DEC|NUM/, 'decimal'],
]

export function neutralType(type: string): Neutral {
  const upper = type.toUpperCase()
  const kind = rules.find(([rule]) => rule.test(upper))?.[1]
  return kind === undefined ? { kind: 'other', type } : { kind }
}
