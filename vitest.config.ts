import { readFileSync } from 'node:fs'
import { defineConfig } from 'vitest/config'

/** `.sql` files are texts, as in scripts/build.mjs. */
const sqlText = { name: 'sql-text', load: (id: string) => (id.endsWith('.sql') ? `export default ${JSON.stringify(readFileSync(id, 'utf8'))}` : null) }

export default defineConfig({
  plugins: [sqlText],
  oxc: { jsx: { runtime: 'automatic' } },
  test: {
    projects: [
      {
        extends: true,
        test: {
          name: 'pure',
          sequence: { groupOrder: 0 },
          include: ['src/**/*.test.ts', 'tests/property/**/*.test.ts', 'tests/golden/**/*.test.ts'],
          // Minutes in processes of its own: beside the servers, not before them.
          exclude: ['tests/property/awkward.test.ts'],
          testTimeout: 900_000,
        },
      },
      {
        extends: true,
        test: {
          name: 'server',
          sequence: { groupOrder: 1 },
          include: ['tests/differential/**/*.test.ts', 'tests/property/awkward.test.ts'],
          expect: { poll: { timeout: 180_000 } },
          testTimeout: 900_000,
          hookTimeout: 900_000,
          maxWorkers: 2,
        },
      },
      {
        extends: true,
        test: {
          name: 'browser',
          sequence: { groupOrder: 2 },
          include: ['tests/e2e/**/*.test.ts'],
          setupFiles: ['tests/support/ownAppSetup.ts'],
          testTimeout: 900_000,
          hookTimeout: 900_000,
          expect: { poll: { timeout: 180_000 } },
          fileParallelism: false,
          maxWorkers: 1,
        },
      },
    ],
  },
})
