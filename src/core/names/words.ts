// Identifiers → words.
import { remembered } from '../memo/memo.ts'

/**
 * The words of an identifier, lower case, in order: `zx_keeperAccount2` → zx, keeper, account2. Splits at anything that is not a
 * letter or digit, at a lower-to-upper change, and before the last capital of a run (`HTTPServer` → http, server), but not before that of a plural (`parseURLs` → parse, urls). Digits stay
 * with the word before them. An identifier without letters or digits gives no words.
 */
export const splitWords: (identifier: string) => readonly string[] = remembered((identifier) => {
  // Most names of a database are of this kind.
  if (/^[a-z0-9_]+$/.test(identifier)) return identifier.includes('_') ? identifier.split('_').filter((w) => w !== '') : [identifier]
  return identifier
    .replace(/([\p{Ll}\d])(\p{Lu})/gu, '$1 $2')
    .replace(/(\p{Lu})(?!\p{Lu}s(?!\p{Ll}))(\p{Lu}\p{Ll})/gu, '$1 $2')
    .split(/[^\p{L}\p{N}]+/u)
    .filter((w) => w !== '')
    .map((w) => w.toLowerCase())
})

/** `crate` → `Crate` */
export const capitalised = (word: string): string => word.charAt(0).toUpperCase() + word.slice(1)

/** `crate checkup` → `CrateCheckup`; a leading digit gets an underscore, no words at all give `_`. */
export function pascalCase(words: readonly string[], capital = capitalised): string {
  return legalStart(words.map((w) => capital(w)).join(''))
}

/** `crate checkup` → `crateCheckup` */
export function camelCase(words: readonly string[], capital = capitalised): string {
  return legalStart(words.map((w, i) => (i === 0 ? w : capital(w))).join(''))
}

/** `crate checkup` → `crate_checkup` */
export const snakeCase = (words: readonly string[]): string => legalStart(words.join('_'))

/** `crate checkup` → `crate-checkup`; for files only. */
export const kebabCase = (words: readonly string[]): string => legalStart(words.join('-'))

const legalStart = (name: string) => (/^\p{N}/u.test(name) ? `_${name}` : name === '' ? '_' : name)
