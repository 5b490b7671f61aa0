// The open corpus as calibration sees it: catalogs without their foreign keys, and the keys they had.
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { basename, join } from 'node:path'
import type { Catalog } from '../../src/core/catalog/index.ts'
import { readScript } from '../../src/core/ddl/index.ts'
import { parseDialect, semanticsOf } from '../../src/core/dialect/guess.ts'

export interface Sample {
  readonly name: string
  /** The name without its dialect: twins are one application. */
  readonly application: string
  readonly catalog: Catalog
  /** `table|target|column>column,…`, lower case, schemas apart. */
  readonly truth: ReadonlySet<string>
}

interface TruthKey {
  readonly table: string
  readonly columns: readonly string[]
  readonly ref_table: string
  readonly ref_columns: readonly string[]
}

const bare = (t: string) => (t.split('.').at(-1) as string).toLowerCase()

/** How the checks beside the project name a reference. */
export function pairKey(table: string, columns: readonly string[], target: string, targetColumns: readonly string[]): string {
  const pairs = columns.map((c, i) => `${c}>${targetColumns[i] ?? ''}`.toLowerCase()).sort()
  return `${bare(table)}|${bare(target)}|${pairs.join()}`
}

/** Schemas of a corpus folder whose keys are all declared: those that its README lists. */
export function readSamples(folder: string): readonly Sample[] {
  const readme = readFileSync(join(folder, 'README.md'), 'utf8')
  const listed = /All declared keys[^:]*:([\s\S]*?)\n- /.exec(readme)?.[1] ?? ''
  return readdirSync(folder)
    .filter((d) => existsSync(join(folder, d, 'truth.json')) && new RegExp(`\\b${d}[,.]`).test(listed))
    .map((d) => readSample(join(folder, d)))
}

function readSample(dir: string): Sample {
  const dialect = parseDialect(readFileSync(join(dir, 'dialect'), 'utf8').trim())
  if (!dialect) throw new Error(`${dir}: no known dialect`)
  const { catalog } = readScript([{ name: 'normalized.sql', text: readFileSync(join(dir, 'normalized.sql'), 'utf8') }], semanticsOf(dialect))
  const truth = JSON.parse(readFileSync(join(dir, 'truth.json'), 'utf8')) as { readonly foreign_keys: readonly TruthKey[] }
  const name = basename(dir)
  return {
    name,
    application: name.replace(/-(pg|mysql|sqlite)$/, ''),
    catalog: { ...catalog, relations: catalog.relations.map((r) => ({ ...r, foreignKeys: [] })) },
    truth: new Set(truth.foreign_keys.map((f) => pairKey(f.table, f.columns, f.ref_table, f.ref_columns))),
  }
}
