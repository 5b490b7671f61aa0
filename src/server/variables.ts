// Variables of the environment that people may name for a source: env:NAME. Whoever starts Pelvok says which; all others are its own affair.

/** Names that begin so are for this. */
export const sourcePrefix = 'PELVOK_SOURCE_'

/** Names that whoever starts Pelvok allows besides, with commas between. */
const listed = (): ReadonlySet<string> => new Set((process.env['PELVOK_ALLOW_ENV'] ?? '').split(',').map((n) => n.trim()))

/** What Pelvok itself is run with is never a source, whatever a list says. */
const own: ReadonlySet<string> = new Set(['DATABASE_URL', 'PELVOK_SCRATCH_URL', 'PELVOK_KEY_FILE'])

/** May somebody who uses Pelvok name this variable? */
export const mayName = (name: string): boolean => !own.has(name) && (name.startsWith(sourcePrefix) || listed().has(name))

/** Names that may be used and are set, in order. */
export const variablesToName = (): readonly string[] =>
  Object.keys(process.env)
    .filter((n) => mayName(n) && process.env[n])
    .sort()
