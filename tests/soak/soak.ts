// npm run soak: ten reviewers on two web servers give two thousand rulings; in the middle one server is killed and another takes its place.
// At the end every ruling that was answered as kept stands once, all reviewers know the same ledger, and the servers take no more memory than before.

import type { ChildProcess } from 'node:child_process'
import { readFileSync } from 'node:fs'
import { type Follower, follower } from '../support/follower.ts'
import { ownApp } from '../support/ownApp.ts'
import { rowsOf } from '../support/server.ts'
import { eventually } from '../support/wait.ts'

const reviewers = 10
const rulings = Number(process.argv[2] ?? 2000)
const schema = readFileSync('../shared/large/a.sql', 'utf8')

/** Resident memory in MB (proc(5), status). */
const memory = (child: ChildProcess): number => Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${child.pid}/status`, 'utf8'))?.[1] ?? 0) / 1024

const app = await ownApp()
const second = await app.anotherWeb()
let servers = [{ url: app.url, web: app.web }, second]
const made = await fetch(`${app.url}/api/scripts?${new URLSearchParams({ name: 'Soak', dialect: 'postgresql', file: 'a.sql', project: '' })}`, {
  method: 'POST',
  body: schema,
})
const { project } = (await made.json()) as { project: string }
const names = [...schema.matchAll(/create table "(\w+)"\."(\w+)"/gi)].map((m) => `${m[1]}.${m[2]}`)
console.log(`${reviewers} reviewers, ${rulings} rulings on ${names.length} tables; two web servers`)

const kept: { readonly seq: number; readonly value: string }[] = []
const followers: Follower[] = []
let given = 0

async function reviewer(n: number): Promise<void> {
  let at = n % 2
  const url = () => (servers[at % servers.length] as (typeof servers)[number]).url
  const own = follower(project, url())
  followers.push(own)
  const mine = names.filter((_, i) => i % reviewers === n)
  while (given < rulings) {
    given += 1
    const value = `R${n}Of${given}`
    // Each has tables of their own: two who name the same one otherwise are asked, which is tested elsewhere.
    const subject = mine[given % mine.length]
    const body = { entries: [{ kind: 'edit', edit: { facet: 'entity.name', subject, value }, note: null }], seen: own.ledger.size }
    const answer = await fetch(`${url()}/api/projects/${project}/ledger`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', cookie: `pelvok-name=Reviewer${n}` },
      body: JSON.stringify(body),
    }).catch(() => null)
    if (answer?.ok) {
      const { entries } = (await answer.json()) as { entries: readonly { seq: number }[] }
      for (const e of entries) kept.push({ seq: e.seq, value })
    } else {
      if (answer) console.log(`refused: ${answer.status} ${await answer.text()}`)
      // The server is gone: on to the other; whether it kept the ruling before it went is seen in the ledger.
      at += 1
      own.move(url())
    }
  }
}

const settled = { first: 0, last: 0 }
async function killOne(): Promise<void> {
  await eventually('a quarter', async () => given >= rulings / 4, 3600)
  settled.first = memory(second.web)
  await eventually('the middle', async () => given >= rulings / 2, 3600)
  app.web.kill('SIGKILL')
  console.log(`one web server killed after ${given} rulings`)
  servers = [second]
  servers = [second, await app.anotherWeb()]
}
const started = performance.now()
await Promise.all([...Array.from({ length: reviewers }, (_, n) => reviewer(n)), killOne()])
const seconds = (performance.now() - started) / 1000
const stored = await rowsOf<{ seq: number; body: string }>(app.database, 'select seq, body from pelvok.ledger where project_id = $1 order by seq', [project])
await eventually('all reviewers', async () => followers.every((f) => f.ledger.size === stored.length), 600).catch(() => {})
settled.last = memory(second.web)

const faults: string[] = []
stored.forEach((row, i) => {
  if (row.seq !== i + 1) faults.push(`a gap before ${row.seq}`)
})
const values = new Map(stored.map((r) => [r.seq, (JSON.parse(r.body) as { edit: { value: string } }).edit.value]))
for (const k of kept) if (values.get(k.seq) !== k.value) faults.push(`${k.value} was answered as entry ${k.seq}, which says ${values.get(k.seq)}`)
if (new Set(values.values()).size !== values.size) faults.push('a ruling stands twice')
followers.forEach((f, n) => {
  if (f.ledger.size !== stored.length) faults.push(`reviewer ${n} knows ${f.ledger.size} of ${stored.length} entries`)
})
const texts = followers.map((f) =>
  [...f.ledger]
    .sort(([a], [b]) => a - b)
    .map(([, text]) => text)
    .join('\n'),
)
if (new Set(texts).size !== 1) faults.push('reviewers know different ledgers')
console.log(`${stored.length} entries, ${kept.length} answered, ${(stored.length / seconds).toFixed(0)} a second`)
console.log(
  `memory of the server that stayed: ${settled.first.toFixed(0)} MB after a quarter, ${settled.last.toFixed(0)} MB at the end (${(settled.last / settled.first).toFixed(2)})`,
)
if (settled.last > settled.first * 1.5 + 50) faults.push('memory grew')
for (const f of followers) f.end()
await app.end()
console.log(faults.length === 0 ? 'whole and alike' : faults.slice(0, 20).join('\n'))
process.exit(faults.length === 0 ? 0 : 1)
