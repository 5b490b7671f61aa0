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

/** A doc comment of one or more lines, indented; nothing a database comment holds can end it early. */
export function docComment(lines: readonly string[], indent: string): string {
  const safe = lines.flatMap((l) => l.split(/\r?\n/)).map((l) => l.replaceAll('*/', '* /').trimEnd())
  if (safe.length === 1) return `${indent}/** ${safe[0]} */\n`
  return `${indent}/**\n${safe.map((l) => `${indent} *${l === '' ? '' : ` ${l}`}\n`).join('')}${indent} */\n`
}

/** `['a', 'b']` */
export const textList = (texts: readonly string[]): string => `[${texts.map(quoteText).join(', ')}]`
