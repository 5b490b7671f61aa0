// Scripts for differential tests: ours, and the open corpus where it is at hand.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { readScript, type ScriptResult, type Semantics } from '../../src/core/ddl/index.ts'

const corpus = '../shared/corpus'

/** Names of the corpus' scripts for one engine, such as `kea-pg/normalized.sql`; says so and gives none where the folder is absent. */
export function corpusScripts(suffix: 'pg' | 'mysql' | 'sqlite'): readonly string[] {
  if (!existsSync(corpus)) {
    console.log(`skipped: no ${corpus} beside the project`)
    return []
  }
  return readdirSync(corpus)
    .filter((d) => d.endsWith(`-${suffix}`))
    .flatMap((d) => ['schema.sql', 'normalized.sql'].map((f) => join(d, f)))
    .filter((f) => existsSync(join(corpus, f)))
}

export const corpusPath = (script: string): string => join(corpus, script)
export const tortureOf = (engine: 'postgresql' | 'mariadb' | 'sqlite'): string => join('tests', 'scripts', `torture.${engine}.sql`)

export const readFileScript = (path: string, semantics: Semantics): ScriptResult => readScript([{ name: path, text: readFileSync(path, 'utf8') }], semantics)
