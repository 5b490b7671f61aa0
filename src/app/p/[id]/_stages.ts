// Which stages there are for a project, and why one is not.
import type { Dialect } from '../../../core/catalog/index.ts'

const engines: Readonly<Record<Dialect, string>> = { postgresql: 'PostgreSQL', mysql: 'MySQL and MariaDB', sqlite: 'SQLite' }

/** Null where plans can be made and applied. */
export const noPlansBecause = (dialect: Dialect): string | null =>
  dialect === 'postgresql' ? null : `Plans are written for PostgreSQL so far. For ${engines[dialect]}, relationships, classes and code are all here.`

/** Null where plans can be applied and watched. */
export const noWatchBecause = (dialect: Dialect): string | null =>
  dialect === 'postgresql' ? null : `Plans are applied to PostgreSQL so far, and there is nothing to watch for ${engines[dialect]}.`

/** Null where there are rows to try a path on. */
export const noTrialBecause = (dialect: Dialect, source: string | null): string | null =>
  source === 'postgresql' || dialect === 'sqlite'
    ? null
    : 'This schema came from a script, which has no rows to try a path on. A project made from a PostgreSQL database, or from an SQLite file, has them.'
