// Folders of plans in a repository: a chain that is looked at without a database, and nothing written over.
import { appendFileSync, cpSync, mkdtempSync, readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeEach, describe, expect, it } from 'vitest'
import { cli } from '../support/server.ts'

const root = mkdtempSync(join(tmpdir(), 'pelvok-check-'))
afterAll(() => rmSync(root, { recursive: true, force: true }))

const schemas = ['', 'width integer', 'width integer, depth integer', 'width integer, depth integer, note text'].map(
  (more) => `create table bay (id bigserial primary key${more === '' ? '' : `, ${more}`});`,
)
const script = (i: number) => {
  const path = join(root, `s${i}.sql`)
  writeFileSync(path, schemas[i] as string)
  return path
}
let n = 0
let dir = ''
/** A baseline and two plans, each made from the folder itself. */
beforeEach(() => {
  dir = join(root, `plans${n++}`)
  for (const [from, to, title] of [
    ['empty', 0, 'base'],
    [dir, 1, 'width'],
    [dir, 2, 'depth'],
  ] as const) {
    const made = cli(['plan', '--from', from, '--to', script(to), '--title', title, '--out', dir])
    expect(made.status, made.err).toBe(0)
  }
})
const check = () => cli(['check', dir])

describe('a folder of plans', () => {
  it('is a chain where each begins with what the one before leads to', () => {
    expect(readdirSync(dir)).toEqual(['0001-baseline', '0002-width', '0003-depth'])
    expect(check()).toMatchObject({ status: 0, out: expect.stringContaining('one chain') })
    expect(JSON.parse(cli(['check', dir, '--json']).out)).toEqual({ format: 'pelvok.check/1', faults: [] })
  })

  it('is none where one was numbered anew and not made again', () => {
    rmSync(join(dir, '0002-width'), { recursive: true })
    renameSync(join(dir, '0003-depth'), join(dir, '0002-depth'))
    const said = check()
    expect(said.status).toBe(1)
    expect(said.out).toContain('0002-depth does not begin with what 0001-baseline leads to: relation public.bay columns[width]')
    expect(cli(['plan', '--from', dir, '--to', script(3)])).toMatchObject({ status: 2, err: expect.stringContaining('are no chain') })
  })

  it('is none where a number is there twice, or is missing', () => {
    cpSync(join(dir, '0003-depth'), join(dir, '0003-other'), { recursive: true })
    expect(check()).toMatchObject({ status: 1, out: expect.stringContaining('0003-other has the number of 0003-depth') })
    rmSync(join(dir, '0003-other'), { recursive: true })
    renameSync(join(dir, '0003-depth'), join(dir, '0005-depth'))
    expect(check()).toMatchObject({ status: 1, out: expect.stringContaining('0005-depth follows 0002, and what is between them is not there') })
  })

  it('is told of edits, and of what cannot be read', () => {
    appendFileSync(join(dir, '0002-width', 'down.sql'), '-- by hand\n')
    expect(check()).toMatchObject({ status: 0, out: expect.stringContaining('0002-width down.sql was changed by hand') })
    writeFileSync(join(dir, '0003-depth', 'plan.json'), '{}')
    expect(check()).toMatchObject({ status: 1, out: expect.stringContaining('0003-depth') })
  })
})

describe('a plan that is there', () => {
  const baseline = (i: number) => cli(['plan', '--from', 'empty', '--to', script(i), '--title', 'base', '--out', dir])
  it('is written again where it is the same, and never over another one or an edit', () => {
    for (const folder of ['0002-width', '0003-depth']) rmSync(join(dir, folder), { recursive: true })
    expect(baseline(0).status).toBe(0)
    expect(baseline(1)).toMatchObject({ status: 2, err: expect.stringContaining('is there already, and is another plan') })
    appendFileSync(join(dir, '0001-baseline', 'up.sql'), '-- by hand\n')
    expect(baseline(0)).toMatchObject({ status: 2, err: expect.stringContaining('up.sql in it was changed by hand') })
  })
})
