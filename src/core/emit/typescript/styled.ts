// How a project wants its files: indentation, ends of lines and of imports.
import type { TypescriptSettings } from '../../model/index.ts'
import { withoutControls } from '../../text/scan.ts'

const indents = { '2 spaces': '  ', '4 spaces': '    ', tab: '\t' } as const

/**
 * Texts are made in one way and laid out as a project says. What would show a line otherwise than it runs is escaped wherever it stands, in a
 * string, a template or a comment (Unicode TR 36, 3.1): so is a carriage return, which the language reads as a line feed in a template
 * (ECMAScript, 12.9.6).
 */
export function styledText(made: string, s: TypescriptSettings): string {
  const text = withoutControls(made).replaceAll('\r', '\\r')
  if (s.indent === '2 spaces' && s.lineEnds === 'LF' && s.imports === '.js') return text
  const end = s.imports === 'nothing' ? '' : s.imports
  const laid = text
    .replace(/^(?: {2})+/gm, (spaces) => indents[s.indent].repeat(spaces.length / 2))
    .replace(/^((?:import|export) .* from '\.[^']*)\.js'$/gm, `$1${end}'`)
  return s.lineEnds === 'LF' ? laid : laid.replaceAll('\n', '\r\n')
}
