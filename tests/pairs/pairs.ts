// npm run pairs -- --rounds N --seed S: plans between random schemas, proven on a real server. Prints the mix; exit 1 where one does not hold.
import { runPair } from '../support/pairs.ts'

const option = (name: string, fallback: number) => {
  const at = process.argv.indexOf(`--${name}`)
  return at < 0 ? fallback : Number(process.argv[at + 1])
}
const rounds = option('rounds', 300)
const first = option('seed', 1)
const mix = new Map<string, number>()
let focused = 0
let steps = 0
let failed = 0
for (let i = 0; i < rounds; i += 1) {
  const seed = first + i
  try {
    const r = await runPair(seed)
    for (const k of r.kinds) mix.set(k, (mix.get(k) ?? 0) + 1)
    focused += r.focused ? 1 : 0
    steps += r.steps
    if (r.problems.length > 0) {
      failed += 1
      process.stdout.write(
        `seed ${seed} (${r.kinds.join(', ')}):\n${r.problems
          .slice(0, 6)
          .map((p) => `    ${p}\n`)
          .join('')}`,
      )
    }
  } catch (error) {
    failed += 1
    process.stdout.write(`seed ${seed}: ${(error as Error).stack?.split('\n').slice(0, 4).join('\n')}\n`)
  }
}
process.stdout.write(
  `${[...mix]
    .sort((a, b) => b[1] - a[1])
    .map(([k, n]) => `${n} ${k}`)
    .join(', ')}\n`,
)
process.stdout.write(`${rounds} pairs both ways, ${focused} with all changes on one table, ${steps} steps: ${rounds - failed} hold, ${failed} do not\n`)
process.exitCode = failed > 0 ? 1 : 0
