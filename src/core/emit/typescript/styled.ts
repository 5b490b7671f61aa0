// How a project wants its files: indentation, ends of lines and of imports.
import type { TypescriptSettings } from '../../model/index.ts'

const indents = { '2 spaces': '  ', '4 spaces': '    ', tab: '\t' } as const

/** Texts are made in one way and laid out as a project says. */
export function styledText(text: string, s: TypescriptSettings): string {
  if (s.indent === '2 spaces' && s.lineEnds === 'LF' && s.imports === '.js') return text
  const end = s.imports === 'nothing' ? '' : s.imports
  const laid = text
    .replace(/^(?: {2})+/gm, (spaces) => indents[s.indent].repeat(spaces.length / 2))
    .replace(/^((?:import|export) .* from '\.[^']*)\.js'$/gm, `$1${end}'`)
  return s.lineEnds === 'LF' ? laid : laid.replaceAll('\n', '\r\n')
}
