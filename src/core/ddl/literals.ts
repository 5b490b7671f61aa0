// What a quoted name or a string literal stands for.
import type { Lexis } from './lexis.ts'

/** The name inside its quotes. */
export function unquote(raw: string): string {
  if (raw.startsWith('[') || raw.startsWith('@')) return raw.slice(1, -1)
  if (/^[uU]&/.test(raw)) return unescapeUnicode(unquote(raw.slice(2)))
  const quote = raw[0] as string
  return raw.slice(1, -1).replaceAll(quote + quote, quote)
}

const unescapeUnicode = (text: string) =>
  text.replace(/\\(?:\\|([0-9a-fA-F]{4})|\+([0-9a-fA-F]{6}))/g, (_, four: string | undefined, six: string | undefined) =>
    four !== undefined || six !== undefined ? String.fromCodePoint(Number.parseInt((four ?? six) as string, 16)) : '\\',
  )

const escapes: Readonly<Record<string, string>> = { n: '\n', t: '\t', r: '\r', b: '\b', f: '\f', '0': '\0' }

/** E'…' in PostgreSQL (manual 4.1.2.2), every string in MySQL (manual 9.1.1). */
const unescapeBackslash = (text: string) =>
  text.replace(/\\(?:x([0-9a-fA-F]{1,2})|u([0-9a-fA-F]{4})|([\s\S]))/g, (_, hex?: string, four?: string, other?: string) =>
    other === undefined ? String.fromCharCode(Number.parseInt((hex ?? four) as string, 16)) : (escapes[other] ?? other),
  )

/** The value of a string literal as it is written. */
export function stringValue(raw: string, lexis: Lexis): string {
  if (raw.startsWith('$')) {
    const tag = raw.slice(0, raw.indexOf('$', 1) + 1)
    return raw.slice(tag.length, raw.length - tag.length)
  }
  const at = raw.search(/['"]/)
  const prefix = raw.slice(0, at).toUpperCase()
  const quote = raw[at] as string
  const body = raw.slice(at + 1, -1).replaceAll(quote + quote, quote)
  if (prefix === 'E' || (prefix === '' && lexis.backslashEscapes)) return unescapeBackslash(body)
  return prefix === 'U&' ? unescapeUnicode(body) : body
}
