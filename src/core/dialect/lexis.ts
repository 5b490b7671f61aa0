// The tokens of each dialect, for texts that a catalog keeps: views, routines, defaults.
import type { Dialect } from '../catalog/index.ts'
import type { Lexis } from '../ddl/lexis.ts'
import { mysqlLexis } from './mysql/lexis.ts'
import { defaultServer } from './mysql/server.ts'
import { postgresLexis } from './postgres/lexis.ts'
import { sqliteLexis } from './sqlite/lexis.ts'

const lexes: Readonly<Record<Dialect, Lexis>> = { postgresql: postgresLexis, sqlite: sqliteLexis, mysql: mysqlLexis(defaultServer) }

export const lexisOf = (dialect: Dialect): Lexis => lexes[dialect]
