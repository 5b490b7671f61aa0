// Texts inside emitted TypeScript.

/** A string literal in single quotes. */
export function quoteText(text: string): string {
  return `'${text
    .replace(/[\\']/g, '\\$&')
    .replace(/\n/g, '\\n')
    .replace(/\r/g, '\\r')
    .replace(/\u2028/g, '\\u2028')
    .replace(/\u2029/g, '\\u2029')}'`
}

/** A name as a member of a type or an object: in quotes where it is no identifier. */
export const memberName = (name: string): string => (/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(name) ? name : quoteText(name))

/** A doc comment of one or more lines, indented; nothing a database comment holds can end it early. */
export function docComment(lines: readonly string[], indent: string): string {
  const safe = lines.flatMap((l) => l.split(/\r?\n/)).map((l) => l.replaceAll('*/', '* /').trimEnd())
  if (safe.length === 1) return `${indent}/** ${safe[0]} */\n`
  return `${indent}/**\n${safe.map((l) => `${indent} *${l === '' ? '' : ` ${l}`}\n`).join('')}${indent} */\n`
}

/** The name with its indefinite article. */
export const article = (name: string): string => `${/^[AEIOU]/i.test(name) ? 'an' : 'a'} ${name}`

/** `['a', 'b']` */
export const textList = (texts: readonly string[]): string => `[${texts.map(quoteText).join(', ')}]`

/** Words that no variable can be called (ECMA-262, 12.7.2, and strict mode), and those that emitted methods use themselves. */
const notLocal = new Set(
  `await break case catch class const continue debugger default delete do else enum export extends false finally for function if implements import in
   instanceof interface let new null package private protected public return static super switch this throw true try typeof var void while with yield
   arguments eval undefined before displaced member members db select v`.split(/\s+/),
)

/** A property's name as that of a variable. */
export const localName = (property: string): string => (notLocal.has(property) ? `${property}Value` : property)
