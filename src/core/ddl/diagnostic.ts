// What reading a script has to tell beside the structure: code, place, facts. Wording in one function, severity in one table.
import type { Complaint } from './draft.ts'
import type { TextPlace } from './reader.ts'

export type ScriptDiagnostic =
  | (Complaint & { readonly place: TextPlace })
  | { readonly code: 'unreadable'; readonly place: TextPlace; readonly expected: string; readonly text: string }
  | { readonly code: 'template'; readonly place: TextPlace; readonly holes: readonly string[] }

export type ScriptCode = ScriptDiagnostic['code']

export const scriptSeverity = {
  unreadable: 'error',
  'unknown-object': 'error',
  'missing-target': 'error',
  'already-there': 'error',
  'unknown-type': 'warning',
  'not-read': 'warning',
  'refused-by-server': 'error',
  'ignored-by-server': 'warning',
  template: 'info',
} as const satisfies Record<ScriptCode, 'error' | 'warning' | 'info'>

/** One line without position: the caller prints that. */
export function describeScriptDiagnostic(d: ScriptDiagnostic): string {
  switch (d.code) {
    case 'unreadable':
      return `not read: ${d.expected}`
    case 'unknown-object':
      return `there is no ${d.what} "${d.name}" here`
    case 'missing-target':
      return `there is no table "${d.table}", to which ${d.of}(${d.columns.join(', ')}) refers`
    case 'already-there':
      return `${d.what} "${d.name}" is there already; the first one stands`
    case 'unknown-type':
      return `the type ${d.name} of ${d.column} is not known; it is kept as it is written`
    case 'not-read':
      return `${d.what} ${d.name} is kept by name only`
    case 'ignored-by-server':
      return `the server reads ${d.what} ${d.name} and makes nothing of it; neither do we`
    case 'refused-by-server':
      return `the server refuses ${d.what} ${d.name}: ${d.because}`
    case 'template':
      return `the script is a template; these places were gone over: ${d.holes.join(' ')}`
    default:
      return unreachable(d)
  }
}

function unreachable(d: never): never {
  throw new Error(`a diagnostic of no known code: ${JSON.stringify(d)}`)
}

/** `file:line:column: severity: text`, and the statement's beginning where it was not read. */
export function scriptDiagnosticLine(d: ScriptDiagnostic): string {
  const { file, line, column } = d.place
  const text = d.code === 'unreadable' ? `: ${d.text.replace(/\s+/g, ' ').slice(0, 100)}` : ''
  return `${file}:${line}:${column}: ${scriptSeverity[d.code]}: ${describeScriptDiagnostic(d)}${text}`
}
