// What the values of a column are, by the engine that spells its type.
import type { Catalog } from '../catalog/index.ts'
import * as mysql from './mysql/types.ts'
import type { Neutral } from './neutral.ts'
import * as postgres from './postgres/types.ts'
import * as sqlite from './sqlite/types.ts'

type IsNamed = (t: { readonly schema: string; readonly name: string }) => boolean

const readers = {
  postgresql: postgres.neutralType,
  mysql: (type: string) => mysql.neutralType(type),
  sqlite: (type: string) => sqlite.neutralType(type),
} as const satisfies Record<Catalog['dialect'], (type: string, isNamed: IsNamed) => Neutral>

export const neutralType = (dialect: Catalog['dialect'], type: string, isNamed: IsNamed): Neutral => readers[dialect](type, isNamed)
