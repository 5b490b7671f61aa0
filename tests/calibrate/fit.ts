// Fits weights to questions with known answers: conditional logit with a ridge towards given weights, by Adam (Kingma and Ba, 2015,
// algorithm 1) from those weights on, whole data per step, so the same data give the same weights.
import { type FactName, type Facts, factNames, facts, type Weights } from '../../src/core/infer/undeclared/facts.ts'

export interface Example {
  readonly facts: readonly Facts[]
  /** Index of the true candidate; -1 where none is. */
  readonly truth: number
  readonly weight: number
}

const steps = 400
const rate = 0.05
/** The start of all candidates is free to move; what single facts are worth needs more to be moved. */
const baseRidge = 0.1
/** Judgements that few schemas can teach, or teach wrongly (columns that refer and nobody declared): they give way less. */
const firmRidge = 3
const isFirm = (name: string) => /tail$|^bare|\(several\)$|^role/.test(name)

export function fit(examples: readonly Example[], towards: Weights, ridge: number): Weights {
  const names = ['base', ...factNames] as const
  const at = new Map<string, number>(names.map((n, i) => [n, i]))
  const start = Float64Array.from(names, (n) => towards[n])
  const x = Float64Array.from(start)
  const stiffness = names.map((n) => (n === 'base' ? baseRidge : isFirm(n) ? firmRidge : 1))
  // Facts that the corpus hardly holds stay where they were judged, and move no others.
  const isFitted = (n: FactName) => facts[n].firm === undefined
  const data = examples.map((e) => ({ ...e, sparse: e.facts.map((f) => [...f].flatMap(([n, v]) => (isFitted(n) ? [[at.get(n) as number, v] as const] : []))) }))
  const total = data.reduce((n, d) => n + d.weight, 0)
  const mean = new Float64Array(x.length)
  const square = new Float64Array(x.length)
  for (let step = 1; step <= steps; step += 1) {
    const slope = new Float64Array(x.length)
    for (const d of data) addSlope(slope, d.sparse, d.truth, d.weight / total, x)
    for (let j = 0; j < x.length; j += 1) {
      const g = (slope[j] as number) + ridge * (stiffness[j] as number) * ((x[j] as number) - (start[j] as number))
      mean[j] = 0.9 * (mean[j] as number) + 0.1 * g
      square[j] = 0.99 * (square[j] as number) + 0.01 * g * g
      x[j] = (x[j] as number) - (rate * ((mean[j] as number) / (1 - 0.9 ** step))) / (Math.sqrt((square[j] as number) / (1 - 0.99 ** step)) + 1e-6)
    }
  }
  return Object.fromEntries(names.map((n, i) => [n, x[i]])) as Weights
}

/** Where references over several columns begin, in place of the start of those over one. */
const several = 1 + factNames.indexOf('several columns')

/** The slope of the negative log-likelihood of one question. */
function addSlope(slope: Float64Array, candidates: readonly (readonly (readonly [number, number])[])[], truth: number, weight: number, x: Float64Array): void {
  const z = candidates.map((f) => f.reduce((s, [i, v]) => s + (x[i] as number) * v, f.some(([i]) => i === several) ? 0 : (x[0] as number)))
  const top = Math.max(0, ...z)
  const e = z.map((v) => Math.exp(v - top))
  const all = Math.exp(-top) + e.reduce((a, b) => a + b, 0)
  candidates.forEach((f, c) => {
    const miss = ((e[c] as number) / all - (c === truth ? 1 : 0)) * weight
    if (!f.some(([i]) => i === several)) slope[0] = (slope[0] as number) + miss
    for (const [i, v] of f) slope[i] = (slope[i] as number) + miss * v
  })
}
