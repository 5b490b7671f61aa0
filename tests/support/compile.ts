// Emitted classes through the TypeScript compiler, as strictly as people run it.
import { execFileSync } from 'node:child_process'
import { mkdirSync, writeFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import type { EmittedFile } from '../../src/core/emit/typescript/index.ts'

const strict = [
  '--strict',
  '--noUncheckedIndexedAccess',
  '--exactOptionalPropertyTypes',
  '--noUnusedLocals',
  '--noUnusedParameters',
  '--noEmit',
  '--skipLibCheck',
  '--target',
  'es2022',
  '--module',
  'nodenext',
  '--typeRoots',
  '/nonexistent',
]

/** Throws with what the compiler says. */
export function compile(dir: string): void {
  execFileSync('node_modules/.bin/tsc', [...strict, join(dir, 'index.ts')], { encoding: 'utf8', stdio: 'pipe' })
}

/** Writes the files of a model into a folder. */
export function writeFiles(dir: string, files: readonly EmittedFile[]): void {
  for (const f of files) {
    mkdirSync(dirname(join(dir, f.path)), { recursive: true })
    writeFileSync(join(dir, f.path), f.text)
  }
}
