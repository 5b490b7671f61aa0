// The notation on the command line: written, checked, laid out, a source like others, taken into a ledger, and what a plan arrives at.
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, describe, expect, it } from 'vitest'
import { cli } from '../support/server.ts'

const work = mkdtempSync(join(tmpdir(), 'pelvok-notation-'))
afterAll(() => rmSync(work, { recursive: true }))
const at = (name: string) => join(work, name)
const put = (name: string, text: string) => {
  writeFileSync(at(name), text)
  return at(name)
}
const demo = 'demo/schema.sql'
const body = (text: string) => text.slice(text.indexOf('\n'))
const withoutRevision = (text: string) => text.replace(/snapshot [0-9a-f]{12}, ledger \d+, inference \d+/g, '')

describe('pelvok notation', () => {
  it('is a source of the same text, in one file or many', () => {
    expect(cli(['notation', demo, '--take', '--out', at('one')]).status).toBe(0)
    expect(cli(['notation', demo, '--take', '--by', 'entity', '--out', at('many')]).status).toBe(0)
    expect(readdirSync(at('many')).length).toBeGreaterThan(30)
    const text = readFileSync(join(at('one'), 'model.pelvok'), 'utf8')
    for (const source of [at('one'), at('many'), join(at('one'), 'model.pelvok')]) expect(body(cli(['notation', source]).out)).toBe(body(text))
  })

  it('gives the same code as the schema it was made of', () => {
    for (const [source, out] of [
      [demo, 'code'],
      [at('many'), 'again'],
    ] as const)
      expect(cli(['emit', source, '--target', 'typescript', '--take', '--out', at(out)]).status).toBe(0)
    const files = readdirSync(at('code'), { recursive: true, encoding: 'utf8' }).filter((f) => f.endsWith('.ts'))
    expect(files.length).toBeGreaterThan(100)
    for (const f of files)
      expect(withoutRevision(readFileSync(join(at('again'), f), 'utf8')), f).toBe(withoutRevision(readFileSync(join(at('code'), f), 'utf8')))
  })

  it('says whether a folder is what the model gives', () => {
    expect(cli(['notation', demo, '--take', '--by', 'entity', '--out', at('many'), '--check'])).toMatchObject({ status: 0 })
    const hive = join(at('many'), 'Hive.pelvok')
    writeFileSync(hive, readFileSync(hive, 'utf8').replace('entity Hive', 'entity Colony'))
    const answer = cli(['notation', demo, '--take', '--by', 'entity', '--out', at('many'), '--check'])
    expect(answer.status).toBe(1)
    expect(JSON.parse(answer.out)).toMatchObject({ upToDate: false, changed: [hive], gone: [] })
  })

  it('refuses a file with errors, all of them with their places', () => {
    const answer = cli(['relate', put('bad.pelvok', 'notation 1 for postgresql\nentity = table x\nentity Bay = table s.bay\n  id : txet\n  key (idd)\n')])
    expect(answer.status).toBe(2)
    expect(answer.err).toContain('bad.pelvok:2:8: a class name was expected, not "="')
    expect(answer.err).toContain('bad.pelvok:4:8: PostgreSQL has no type txet; did you mean text or inet?')
    expect(answer.err).toContain('bad.pelvok:5:7: s.bay has no column idd; did you mean id?')
  })
})

describe('pelvok format', () => {
  it('lays out, tells, and leaves what has errors', () => {
    mkdirSync(at('loose'))
    const loose = put('loose/a.pelvok', 'notation 1 for postgresql\nentity   Bay=table s.bay # ours\n  id:bigint\n')
    expect(cli(['format', at('loose'), '--check']).status).toBe(1)
    expect(cli(['format', at('loose')]).status).toBe(0)
    expect(readFileSync(loose, 'utf8')).toBe('notation 1 for postgresql\n\nentity Bay = table s.bay  # ours\n  id : bigint\n')
    expect(cli(['format', at('loose'), '--check']).status).toBe(0)
    writeFileSync(loose, 'entity\n')
    expect(cli(['format', loose]).status).toBe(2)
    expect(readFileSync(loose, 'utf8')).toBe('entity\n')
  })
})

describe('pelvok edits', () => {
  const edit = () =>
    put(
      'edit.pelvok',
      'notation 1 for postgresql\nentity Colony = table field.hive\n  weightKg = weight_kg : some decimal(6,2), optional\n  createdBy at most one Keeper by (created_by), enforced\n',
    )

  it('tells what a text changes, and adds it to a ledger once', () => {
    const ledger = at('review.jsonl')
    const shown = cli(['edits', edit(), '--of', demo])
    expect(shown.status).toBe(1)
    expect(shown.out).toContain('field.hive: Hive -> Colony')
    expect(shown.out).toContain('field.hive(weight_kg): nothing -> a new column of type numeric(6,2)  (database, planned)')
    expect(cli(['edits', edit(), '--of', demo, '--ledger', ledger, '--write']).status).toBe(0)
    const again = cli(['edits', edit(), '--of', demo, '--ledger', ledger])
    expect(again).toMatchObject({ status: 0, out: '' })
    expect(cli(['notation', demo, '--take', '--ledger', ledger]).out).toContain('entity Colony = table field.hive')
  })

  it('takes nothing back that came into the ledger after the text was made', () => {
    const ledger = at('later.jsonl')
    const whole = put('whole.pelvok', cli(['notation', demo, '--take']).out)
    writeFileSync(ledger, '')
    expect(cli(['edits', edit(), '--of', demo, '--ledger', ledger, '--write']).status).toBe(0)
    // The text of before says Hive, as the review did then.
    expect(cli(['edits', whole, '--of', demo, '--ledger', ledger])).toMatchObject({ status: 0, out: '' })
    writeFileSync(whole, readFileSync(whole, 'utf8').replaceAll('entity Hive =', 'entity Beehive ='))
    const entry = readFileSync(ledger, 'utf8').replaceAll(/"by":"[^"]*"/g, '"by":"Jonas"')
    writeFileSync(ledger, entry)
    const refused = cli(['edits', whole, '--of', demo, '--ledger', ledger, '--write'])
    expect(refused.status).toBe(1)
    expect(refused.err).toContain('Jonas changed the same thing since this text was made (entry 1)')
    expect(readFileSync(ledger, 'utf8')).toBe(entry)
  })

  it('is what a plan arrives at: what it does not state stays', () => {
    const plan = cli(['plan', '--from', demo, '--to', edit()])
    expect(plan.status).toBe(0)
    expect(plan.out).toContain('ALTER TABLE field.hive ADD COLUMN weight_kg numeric(6,2);')
    expect(plan.out).toContain('FOREIGN KEY (created_by) REFERENCES coop.bk_keeper(keeper_no)')
    expect(plan.out).not.toMatch(/DROP/)
    expect(cli(['plan', '--from', at('one'), '--to', demo]).status).toBe(2)
    expect(cli(['plan', '--from', 'empty', '--to', at('one')]).out).toContain('CREATE TABLE field.hive (')
  })
})
