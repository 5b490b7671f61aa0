// Plan folders: writing one, and reading it back whole.
import { existsSync, mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { gunzipSync, gzipSync } from 'node:zlib'
import { type Catalog, canonicalText, decodeCatalog, hashText } from '../core/catalog/index.ts'
import { decodePlan, downScript, type Plan, planFiles, upScript } from '../core/change/index.ts'
import { badInput } from './exit.ts'

export function writePlan(dir: string, plan: Plan, expected: Catalog, revision: string): string {
  const { folder, files, catalogText } = planFiles(plan, expected, revision)
  const path = join(dir, folder)
  mkdirSync(path, { recursive: true })
  for (const [name, text] of Object.entries(files)) writeFileSync(join(path, name), text)
  writeFileSync(join(path, 'catalog.json.gz'), gzipSync(catalogText))
  return path
}

export interface ReadPlan {
  readonly plan: Plan
  readonly expected: Catalog
}

/** DIR itself, or the one NNNN-title folder in it. Refuses a folder whose SQL is not what plan.json says, or whose catalog is another one. */
export function readPlan(dir: string): ReadPlan {
  if (!existsSync(dir)) throw badInput(`there is no folder "${dir}"`, 'Make one with "pelvok plan --from empty --to SOURCE --out DIR".')
  const inside = readdirSync(dir).filter((name) => /^\d{4}-/.test(name))
  if (!existsSync(join(dir, 'plan.json')) && inside.length > 1)
    throw badInput(`"${dir}" holds ${inside.length} plans`, 'Only a baseline can be rehearsed so far: name its folder.')
  const path = existsSync(join(dir, 'plan.json')) ? dir : join(dir, inside[0] ?? '')
  try {
    const { plan, revision } = decodePlan(JSON.parse(readFileSync(join(path, 'plan.json'), 'utf8')))
    const text = gunzipSync(readFileSync(join(path, 'catalog.json.gz'))).toString('utf8')
    const expected = decodeCatalog(JSON.parse(text))
    if (hashText(canonicalText(expected)) !== plan.to) throw badInput(`catalog.json.gz in "${path}" is not the one plan.json leads to`, 'Make the plan again.')
    for (const [name, script] of [
      ['up.sql', upScript(plan, revision)],
      ['down.sql', downScript(plan, revision)],
    ] as const) {
      if (readFileSync(join(path, name), 'utf8') !== script)
        throw badInput(
          `${name} in "${path}" was changed by hand`,
          'Rehearsing edited SQL is not built yet: make the plan again, or run the edited file yourself.',
        )
    }
    return { plan, expected }
  } catch (error) {
    if (error instanceof Error && error.name === 'ExitError') throw error
    throw badInput(
      `"${path}" is not a plan folder`,
      'It needs up.sql, down.sql, plan.json and catalog.json.gz, as "pelvok plan --out" writes them.',
      error instanceof Error ? `${error.message.split('\n')[0]}.` : '',
    )
  }
}
