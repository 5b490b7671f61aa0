// Emitted code as it runs: compiled once and imported.
import { writeFileSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { pathToFileURL } from 'node:url'
import { build } from 'esbuild'
import type pg from 'pg'
import type { SnapshotHash } from '../../src/core/catalog/index.ts'
import { emitTypeScript } from '../../src/core/emit/typescript/index.ts'
import { decodeEntry, type EntityModel, type EntryBody } from '../../src/core/model/index.ts'
import { review } from '../../src/core/review/index.ts'
import { inCodeFolder, writeFiles } from './compile.ts'
import { postgres } from './plans.ts'

// biome-ignore lint/suspicious/noExplicitAny: what is emitted is known to the compiler of the one who uses it, not to ours
export type Module = Readonly<Record<string, any>>

/** The module of a schema's code, with `db` for what `db.ts` exports, and the model it was made from. */
export async function emitted(sql: string, bodies: readonly EntryBody[] = []): Promise<{ readonly m: Module; readonly model: EntityModel }> {
  const entries = bodies.map((body, i) => decodeEntry({ seq: i + 1, at: '2026-11-20T10:00:00Z', by: 'Mara', ...body }))
  const { model, revision } = review(postgres(sql), '0'.repeat(64) as SnapshotHash, entries)
  const m = await inCodeFolder(async (dir) => {
    const { base } = model.settings
    writeFiles(dir, emitTypeScript(model, revision))
    writeFileSync(
      join(dir, 'all.ts'),
      `export * from './index.js'\nexport * as db from './${base}/db.js'\nexport * from './${base}/work.js'\nexport * as values from './${base}/values.js'\n`,
    )
    const outfile = resolve(dir, 'all.mjs')
    await build({ entryPoints: [join(dir, 'all.ts')], bundle: true, format: 'esm', platform: 'node', packages: 'external', outfile, logLevel: 'error' })
    return (await import(pathToFileURL(outfile).href)) as Module
  })
  return { m, model }
}

/** A connection that says what was sent. */
export function counting(on: pg.Pool): { readonly on: pg.Pool; readonly sent: { text: string; values?: unknown[] }[] } {
  const sent: { text: string }[] = []
  const query = (q: { text: string }) => {
    sent.push(q)
    return on.query(q as never)
  }
  return { on: { query } as never, sent }
}
