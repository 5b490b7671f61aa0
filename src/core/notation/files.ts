// A notation over several files, so that a change of one class is a change of one file.
import type { NotationFile } from './parse.ts'
import { printNotation } from './print.ts'
import type { Block, Notation } from './syntax.ts'

export const notationLayouts = ['one', 'schema', 'entity'] as const
/** Everything in one file, a file for each schema, or one for each entity. */
export type NotationLayout = (typeof notationLayouts)[number]

const fileSafe = (name: string) => name.replace(/[^\w.-]+/g, (x) => encodeURIComponent(x).replaceAll('%', '_')).replace(/^\.+/, '_')

function fileOf(b: Block, by: NotationLayout): string {
  if (by === 'one') return 'model'
  if (b.kind === 'query') return 'queries'
  if (b.kind === 'routine') return 'routines'
  if (b.kind !== 'entity') return 'types'
  const { schema, name } = b.relation.value
  if (by === 'schema') return schema === '' ? 'entities' : fileSafe(schema)
  return b.name ? fileSafe(b.name.value) : fileSafe(schema === '' ? name : `${schema}.${name}`)
}

/** Files with paths of their own, in order of their names; two names that differ in letter case only are told apart by a number. */
export function notationFiles(n: Notation, revision: string | null, by: NotationLayout): readonly NotationFile[] {
  const files = new Map<string, Block[]>()
  for (const b of n.blocks) {
    const name = fileOf(b, by)
    const own = files.get(name)
    if (own) own.push(b)
    else files.set(name, [b])
  }
  const taken = new Set<string>()
  return [...files]
    .toSorted(([a], [b]) => (a < b ? -1 : 1))
    .map(([name, blocks]) => {
      let free = name
      for (let i = 2; taken.has(free.toLowerCase()); i += 1) free = `${name}${i}`
      taken.add(free.toLowerCase())
      return { file: `${free}.pelvok`, text: printNotation({ dialect: n.dialect, blocks }, revision) }
    })
}
