// A plan as SQL scripts that psql or any client runs, and the folder that holds them.
import { type Catalog, canonicalText } from '../catalog/index.ts'
import { describeHazard, type Plan, type Step, searchPathSetting } from './plan.ts'

const plural = (n: number, word: string) => `${n} ${word}${n === 1 ? '' : 's'}`
const oneLine = (text: string) => text.replace(/\s+/g, ' ')

/** Pinned for the script: names are written with their schema, function bodies are not run, texts are standard. */
const settings = (plan: Plan) => [
  searchPathSetting(plan),
  'SET LOCAL check_function_bodies = off;',
  'SET LOCAL standard_conforming_strings = on;',
  'SET LOCAL client_min_messages = warning;',
]

function header(plan: Plan, direction: 'up' | 'down', revision: string | null): readonly string[] {
  return [
    `-- ${plan.title}, ${direction}: ${plural(plan.steps.length, 'step')}, one transaction.`,
    `-- From ${plan.from}`,
    `-- to   ${plan.to}`,
    ...(revision === null ? [] : [`-- Revision ${revision}`]),
    ...(plan.notSupported.length === 0
      ? []
      : ['-- Not supported yet, and so not made:', ...plan.notSupported.map((u) => `--   ${oneLine(`${u.kind} ${u.identity}`)}`)]),
  ]
}

function stepText(step: Step, statements: readonly string[]): string {
  const hazards = step.hazards.map((h) => `-- Hazard: ${oneLine(describeHazard(h))}\n`).join('')
  return `-- ${step.number}. ${oneLine(step.object)}\n${hazards}${statements.join('\n')}`
}

/** Materialized views are filled under the reader's own search path, as the functions they call may rely on it. */
function withSearchPath(step: Step, statements: readonly string[]): readonly string[] {
  return step.kind === 'refresh' ? ['SET LOCAL search_path = DEFAULT;', ...statements] : statements
}

export function upScript(plan: Plan, revision: string | null): string {
  return [
    [...header(plan, 'up', revision), '', 'BEGIN;', ...settings(plan)].join('\n'),
    ...plan.steps.map((s) => stepText(s, withSearchPath(s, s.up))),
    'COMMIT;\n',
  ].join('\n\n')
}

export function downScript(plan: Plan, revision: string | null): string {
  const steps = plan.steps.toReversed().filter((s) => s.down.length > 0)
  return [
    [...header(plan, 'down', revision), '', 'BEGIN;', ...settings(plan)].join('\n'),
    ...steps.map((s) => stepText({ ...s, hazards: [] }, s.down)),
    'COMMIT;\n',
  ].join('\n\n')
}

/** The files of a plan's folder by name, except the gzipped catalog, which the caller makes from `catalogText`. */
export function planFiles(
  plan: Plan,
  expected: Catalog,
  revision: string | null,
): { readonly folder: string; readonly files: Readonly<Record<string, string>>; readonly catalogText: string } {
  return {
    folder: `0001-${plan.title}`,
    files: {
      'up.sql': upScript(plan, revision),
      'down.sql': downScript(plan, revision),
      'plan.json': `${JSON.stringify({ ...plan, revision }, null, 2)}\n`,
    },
    catalogText: canonicalText(expected),
  }
}
