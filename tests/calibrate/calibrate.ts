// npm run calibrate: fits the weights of undeclared references on the open corpus with its keys removed, and says how well they do on
// applications they never saw. `--write` puts them into src/core/infer/undeclared/weights.ts; `--misses APPLICATION` (or `all`) lists what went wrong there.
import { writeFileSync } from 'node:fs'
import { compositeQuestions } from '../../src/core/infer/undeclared/composite.ts'
import { factNames, facts, priors, type Weights } from '../../src/core/infer/undeclared/facts.ts'
import { type Ground, groundOf } from '../../src/core/infer/undeclared/ground.ts'
import type { Candidate, Question } from '../../src/core/infer/undeclared/question.ts'
import { habitFacts, score } from '../../src/core/infer/undeclared/score.ts'
import { singleQuestions } from '../../src/core/infer/undeclared/singles.ts'
import { judgeReferences, readCases } from './cases.ts'
import { pairKey, readSamples, type Sample } from './corpus.ts'
import { type Example, fit } from './fit.ts'

/** Chosen so that applications left out do best; the figure hardly moves between 0.005 and 0.03. */
const ridge = 0.01

interface Prepared extends Sample {
  readonly ground: Ground
  readonly questions: readonly Question[]
  readonly examples: readonly Example[]
}

interface Passes {
  readonly first: Weights
  readonly second: Weights
}

const keyOf = (c: Candidate) =>
  pairKey(
    c.child.name,
    c.columns.map((x) => x.name),
    c.target.relation.name,
    c.targetColumns.map((x) => x.name),
  )

/** Twins of one application share its weight, and an application of many columns does not drown the others. */
function prepare(samples: readonly Sample[]): readonly Prepared[] {
  const asked = samples.map((s) => {
    const g = groundOf(
      s.catalog,
      s.catalog.relations.filter((r) => r.kind !== 'partition'),
    )
    return { ...s, ground: g, questions: [...singleQuestions(g), ...compositeQuestions(g)] }
  })
  return asked.map((s) => {
    const twins = asked.filter((t) => t.application === s.application)
    const weight = 1 / Math.sqrt(twins.reduce((n, t) => n + t.questions.length, 0) * twins.length)
    const truthOf = (q: Question) => q.candidates.findIndex((c) => s.truth.has(keyOf(c)))
    return { ...s, examples: s.questions.map((q) => ({ facts: q.candidates.map((c) => c.facts), truth: truthOf(q), weight })) }
  })
}

function train(samples: readonly Prepared[]): Passes {
  const first = fit(
    samples.flatMap((s) => s.examples),
    priors,
    ridge,
  )
  const withHabits = samples.flatMap((s) => {
    const habits = habitFacts(s.questions, s.ground, first)
    return s.examples.map((e, i): Example => ({ ...e, facts: e.facts.map((f, j) => new Map([...f, ...(habits[i]?.[j] ?? [])])) }))
  })
  return { first, second: fit(withHabits, first, ridge) }
}

/** How sure each pair is. */
function predict(s: Prepared, w: Passes): ReadonlyMap<string, number> {
  const found = new Map<string, number>()
  score(s.questions, s.ground, w.first, w.second).forEach((list, i) => {
    list.forEach((x, j) => {
      const key = keyOf(s.questions[i]?.candidates[j] as Candidate)
      found.set(key, Math.max(found.get(key) ?? 0, x.confidence))
    })
  })
  return found
}

interface Measure {
  readonly hits: number
  readonly kept: number
  readonly truth: number
  readonly f1: number
  readonly brier: number
}

function measure(s: Sample, found: ReadonlyMap<string, number>): Measure {
  const kept = [...found].filter(([, p]) => p >= 0.5).map(([k]) => k)
  const hits = kept.filter((k) => s.truth.has(k)).length
  const seen = new Set([...[...found].filter(([, p]) => p >= 0.1).map(([k]) => k), ...s.truth])
  const brier = [...seen].reduce((n, k) => n + ((found.get(k) ?? 0) - (s.truth.has(k) ? 1 : 0)) ** 2, 0) / (seen.size || 1)
  return { hits, kept: kept.length, truth: s.truth.size, f1: f1(hits, kept.length, s.truth.size), brier }
}

const f1 = (hits: number, kept: number, truth: number) => (hits === 0 ? 0 : (2 * hits) / (kept + truth))
const mean = (list: readonly number[]) => list.reduce((a, b) => a + b, 0) / (list.length || 1)

function report(title: string, samples: readonly Prepared[], found: readonly ReadonlyMap<string, number>[], listed: string | null): void {
  const measures = samples.map((s, i) => measure(s, found[i] as ReadonlyMap<string, number>))
  console.log(`\n${title}`)
  samples.forEach((s, i) => {
    const m = measures[i] as Measure
    console.log(
      `  ${s.name.padEnd(24)} truth ${String(m.truth).padStart(3)}  found ${String(m.hits).padStart(3)}  wrong ${String(m.kept - m.hits).padStart(3)}  F1 ${m.f1.toFixed(3)}  Brier ${m.brier.toFixed(3)}`,
    )
    if (listed === 'all' || s.application === listed) misses(s, found[i] as ReadonlyMap<string, number>)
  })
  const applications = [...new Set(samples.map((s) => s.application))]
  const byApplication = applications.map((a) => mean(measures.filter((_, i) => samples[i]?.application === a).map((m) => m.f1)))
  const all = measures.reduce((a, m) => ({ hits: a.hits + m.hits, kept: a.kept + m.kept, truth: a.truth + m.truth }), { hits: 0, kept: 0, truth: 0 })
  console.log(
    `  mean by application F1 ${mean(byApplication).toFixed(3)}; pooled precision ${(all.hits / all.kept).toFixed(3)}, recall ${(all.hits / all.truth).toFixed(3)}, F1 ${f1(all.hits, all.kept, all.truth).toFixed(3)}; Brier ${mean(measures.map((m) => m.brier)).toFixed(3)}`,
  )
  console.log(`  said → right: ${reliability(samples, found)}`)
}

/** Of what is said to be about so sure, how much is right. */
function reliability(samples: readonly Sample[], found: readonly ReadonlyMap<string, number>[]): string {
  const bins = Array.from({ length: 9 }, () => ({ n: 0, said: 0, right: 0 }))
  samples.forEach((s, i) => {
    for (const [key, p] of found[i] as ReadonlyMap<string, number>) {
      const bin = bins[Math.min(8, Math.floor(p * 10) - 1)]
      if (p < 0.1 || !bin) continue
      bin.n += 1
      bin.said += p
      bin.right += s.truth.has(key) ? 1 : 0
    }
  })
  return bins
    .filter((b) => b.n > 0)
    .map((b) => `${(b.said / b.n).toFixed(2)} → ${(b.right / b.n).toFixed(2)} (${b.n})`)
    .join('  ')
}

function misses(s: Sample, found: ReadonlyMap<string, number>): void {
  for (const key of s.truth) if ((found.get(key) ?? 0) < 0.5) console.log(`      missed ${key}  ${found.get(key)?.toFixed(2) ?? 'no candidate'}`)
  for (const [key, p] of found) if (p >= 0.5 && !s.truth.has(key)) console.log(`      wrong  ${key}  ${p.toFixed(2)}`)
}

/** The made-up schemas of one cause each, by the weights that stand: nothing is fitted on them. */
function reportCases(): void {
  const judged = readCases().map((c) => ({ name: c.name, ...judgeReferences(c, true) }))
  const total = (of: (j: (typeof judged)[number]) => number) => judged.reduce((n, j) => n + of(j), 0)
  console.log(
    `\nmade-up schemas, by the weights that stand: ${total((j) => j.found.size)} found, ${total((j) => j.missed.size)} missed, ${total((j) => j.wrong.size)} wrong`,
  )
  for (const j of judged) {
    for (const [text, p] of j.missed) console.log(`  ${j.name} missed ${text} ${p?.toFixed(2) ?? 'no candidate'}`)
    for (const [text, p] of j.wrong) console.log(`  ${j.name} wrong  ${text} ${p.toFixed(2)}`)
  }
}

function written(w: Passes): string {
  const table = (pass: Weights) =>
    ['base' as const, ...factNames].map((n) => `    ${/^\w+$/.test(n) ? n : `'${n}'`}: ${Number(pass[n].toFixed(2))},`).join('\n')
  return `// What facts are worth, fitted by \`npm run calibrate -- --write\`. Do not edit by hand: change the priors in facts.ts and fit again.
import type { Weights } from './facts.ts'

/** The first pass looks at each question by itself; the second knows what the first found in the whole schema. */
export const weights: { readonly first: Weights; readonly second: Weights } = {
  first: {
${table(w.first)}
  },
  second: {
${table(w.second)}
  },
}
`
}

/** The page that lists every fact: what it says, what it was judged to be worth, and what it is worth now. */
function evidencePage(w: Passes): string {
  const view = { table: '*table*', columns: '*columns*', target: '*target*', targetColumns: '*key*', role: '*words*', types: '*types*', counted: '' }
  const number = (n: number) => `${n < 0 ? '−' : '+'}${Math.abs(n).toFixed(2)}`
  return `# Evidence for undeclared references

Written by \`npm run calibrate -- --write\`. Weights are log-odds at full strength: what a candidate's facts are worth is summed up, from a starting
point of ${number(w.second.base)}, and its confidence is its share among all answers to the question, "refers to none of them" included at zero. How it is
used stands in [relationships](relationships.md).

| fact | says | judged | fitted |
|---|---|---|---|
${factNames.map((n) => `| ${n} | ${facts[n].says(view)} | ${number(priors[n])} | ${number(w.second[n])} |`).join('\n')}
`
}

function main(args: readonly string[]): void {
  const at = args.indexOf('--misses')
  const listed = at < 0 ? null : (args[at + 1] ?? null)
  const folder = process.env['PELVOK_CORPUS'] ?? '../shared/corpus'
  const samples = prepare(readSamples(folder))
  console.log(
    `${samples.length} schemas of ${new Set(samples.map((s) => s.application)).size} applications, ${samples.reduce((n, s) => n + s.truth.size, 0)} keys`,
  )
  report(
    'by judgement alone',
    samples,
    samples.map((s) => predict(s, { first: priors, second: priors })),
    null,
  )
  const whole = train(samples)
  report(
    'fitted, on what they were fitted on',
    samples,
    samples.map((s) => predict(s, whole)),
    null,
  )
  const without = new Map([...new Set(samples.map((s) => s.application))].map((a) => [a, train(samples.filter((s) => s.application !== a))]))
  report(
    'fitted on all other applications: the figure that counts',
    samples,
    samples.map((s) => predict(s, without.get(s.application) as Passes)),
    listed,
  )
  reportCases()
  if (!args.includes('--write')) return
  writeFileSync('src/core/infer/undeclared/weights.ts', written(whole))
  writeFileSync('docs/guide/evidence.md', evidencePage(whole))
}

main(process.argv.slice(2))
