// How a project's code is laid out in one target language: folders, package, style. Letter case is a naming rule.
import { z } from 'zod'

const folder = z
  .string()
  .max(60)
  .regex(/^[\w-]+$/, 'a folder has letters, digits, _ and - only')
const packageName = z
  .string()
  .max(214)
  .regex(/^(@[a-z0-9][\w.-]*\/)?[a-z0-9][\w.-]*$/, 'a package has small letters, digits, - and ., with @scope/ before it or not')

export const typescriptSettings = z.strictObject({
  /** The folder of files that are written anew each time, beside those that people write in. */
  base: folder,
  /** Null: no package.json. */
  packageName: packageName.nullable(),
  indent: z.enum(['2 spaces', '4 spaces', 'tab']),
  lineEnds: z.enum(['LF', 'CRLF']),
  /** What imports of the files' own end with. */
  imports: z.enum(['.js', '.ts', 'nothing']),
})
export type TypescriptSettings = z.infer<typeof typescriptSettings>

export const plainSettings: TypescriptSettings = { base: 'base', packageName: null, indent: '2 spaces', lineEnds: 'LF', imports: '.js' }

/** What is in force: the last entry about it that counts. `active`: see `activeEntries`. */
export const settingsOf = (active: readonly { readonly kind: string; readonly settings?: TypescriptSettings }[]): TypescriptSettings =>
  active.findLast((e) => e.kind === 'settings')?.settings ?? plainSettings

const words: { readonly [K in keyof TypescriptSettings]: (value: TypescriptSettings[K]) => string } = {
  base: (v) => `what is rewritten stands in ${v}/`,
  packageName: (v) => (v === null ? 'no package.json' : `package ${v}`),
  indent: (v) => `indented by ${v === 'tab' ? 'a tab' : v}`,
  lineEnds: (v) => `lines end with ${v}`,
  imports: (v) => `imports end with ${v}`,
}

/** Settings as a sentence. */
export const settingsText = (s: TypescriptSettings): string =>
  [words.base(s.base), words.packageName(s.packageName), words.indent(s.indent), words.lineEnds(s.lineEnds), words.imports(s.imports)].join(', ')
