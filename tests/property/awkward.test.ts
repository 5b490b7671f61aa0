// 100 KB of each awkward repetition to entry points that read text from outside, in a process of its own: a pattern that goes back over
// its text would stop it, and it is ended. `npm run fuzz -- --awkward` feeds all of them.
import { spawn } from 'node:child_process'
import { buildSync } from 'esbuild'
import { beforeAll, describe, expect, it } from 'vitest'
import { awkwardSchemas } from '../awkward/schemas.ts'

beforeAll(() => {
  for (const name of ['awkward', 'schemas'])
    buildSync({ entryPoints: [`tests/awkward/${name}.ts`], bundle: true, platform: 'node', format: 'esm', packages: 'external', outfile: `dist/${name}.js` })
})

/** A guard far beyond what any of them takes, for a machine ten times slower than a slow one. */
const guard = 300_000

/** What was thrown, or stopped: nothing where all of it was read or refused. */
function faultsOf(program: 'awkward' | 'schemas', entry: string): Promise<readonly string[]> {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, [`dist/${program}.js`, entry], { stdio: ['ignore', 'pipe', 'inherit'] })
    const faults: string[] = []
    let last = ''
    let rest = ''
    const end = () => {
      faults.push(`stopped: ${last}`)
      child.kill('SIGKILL')
    }
    let timer = setTimeout(end, guard)
    child.stdout.on('data', (data: Buffer) => {
      clearTimeout(timer)
      timer = setTimeout(end, guard)
      const lines = (rest + data.toString()).split('\n')
      rest = lines.pop() ?? ''
      for (const l of lines) {
        if (l.startsWith('threw')) faults.push(l)
        last = l
      }
    })
    child.once('exit', (code) => {
      clearTimeout(timer)
      if (last !== 'end' && faults.length === 0) faults.push(`ended with ${code} after ${last}`)
      resolve(faults)
    })
  })
}

describe('100 KB of each awkward repetition is read or refused', () => {
  it.each([
    'script postgresql check',
    'script postgresql view',
    'script postgresql name',
    'script mysql behind a table',
    'script sqlite default',
    'snapshot postgresql expressions',
    'notation',
    'notation entity',
    'notation layout',
    'guess',
    'csv',
    'url',
    'queries',
    'pattern',
    'printed expression',
    'listed values',
    'own code',
    'hand-written plan',
  ])('as %s', async (entry) => expect(await faultsOf('awkward', entry)).toEqual([]))
})

describe('a schema of very many of one thing is inferred from, laid out, emitted and planned', () => {
  it.each(Object.keys(awkwardSchemas))('%s', async (name) => expect(await faultsOf('schemas', name)).toEqual([]))
})
