// Emitted classes through the TypeScript compiler, as strictly as people run it.
import { execFileSync } from 'node:child_process'
import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
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

/** A folder from which the packages that emitted code needs are found. */
export function codeFolder(): string {
  mkdirSync('.pelvok', { recursive: true })
  return mkdtempSync('.pelvok/code-')
}

/** `use` has one for as long as it runs. */
export async function inCodeFolder<T>(use: (dir: string) => T | Promise<T>): Promise<T> {
  const dir = codeFolder()
  try {
    return await use(dir)
  } finally {
    rmSync(dir, { recursive: true, force: true })
  }
}

/** The files of folders, at once: what they share is read once. Throws with what the compiler says. */
export function compile(...dirs: readonly string[]): void {
  try {
    execFileSync('node_modules/.bin/tsc', [...strict, ...dirs.map((dir) => join(dir, 'index.ts'))], { encoding: 'utf8', stdio: 'pipe' })
  } catch (error) {
    throw new Error((error as { stdout?: string }).stdout?.slice(0, 4000) ?? String(error))
  }
}

/** Writes the files of a model into a folder. */
export function writeFiles(dir: string, files: readonly EmittedFile[]): void {
  for (const f of files) {
    mkdirSync(dirname(join(dir, f.path)), { recursive: true })
    writeFileSync(join(dir, f.path), f.text)
  }
}
