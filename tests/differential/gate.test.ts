// The gate of the command line: outputs wait for open findings, row evidence comes from a file, and patterns choose what takes part.
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { cli, makeDatabase } from '../support/server.ts'

const dir = mkdtempSync(join(tmpdir(), 'pelvok-gate-'))
const at = (name: string) => join(dir, name)
const schema = `create table bay (id int primary key, label text not null);
create table crate (id int primary key, bay_id int not null references bay, lid int, note text);
create table lid (id int primary key);
insert into bay values (1, 'north'), (2, 'south');
insert into lid select n from generate_series(1, 30) n;
insert into crate select n, 1, n, null from generate_series(1, 30) n;`
const open = 'reference:public.crate(lid)'
let db: Awaited<ReturnType<typeof makeDatabase>>
beforeAll(async () => {
  db = await makeDatabase(schema)
})
afterAll(async () => {
  await db.drop()
  rmSync(dir, { recursive: true })
})
const emit = (...more: readonly string[]) => cli(['emit', db.url, '--target', 'typescript', '--out', at('code'), ...more])
const manifest = () =>
  JSON.parse(readFileSync(join(at('code'), 'pelvok.manifest.json'), 'utf8')) as { readonly taken?: readonly string[]; readonly revision: string }

describe('while a finding is open that changes what comes out', () => {
  it('nothing is written, and each is listed', () => {
    const r = emit()
    expect([r.status, r.out]).toEqual([1, ''])
    expect(r.err).toMatch(new RegExp(`^open, 0\\.\\d\\d {2}${open.replace(/[()]/g, '\\$&')}: `, 'm'))
    expect(r.err).toContain('one finding is open that changes what comes out; nothing was written')
    expect(cli(['notation', db.url])).toMatchObject({ status: 1, out: '', err: expect.stringContaining('--take') })
    expect(cli(['findings', db.url])).toMatchObject({ status: 1, out: expect.stringContaining(open) })
    expect(cli(['findings', db.url, '--take']).status).toBe(0)
  })

  it('its proposal is taken where that is said, and the manifest says which', () => {
    expect(emit('--take').status).toBe(0)
    expect(manifest().taken).toEqual([open])
    // What was taken then is no reason to call the folder stale now.
    expect(emit('--check')).toMatchObject({ status: 0, out: expect.stringContaining('"open": []') })
    expect(cli(['notation', db.url, '--take'])).toMatchObject({ status: 0, out: expect.stringContaining('entity Crate') })
  })

  it('a folder made before it was open is not up to date', () => {
    const { taken: _, ...before } = manifest()
    writeFileSync(join(at('code'), 'pelvok.manifest.json'), JSON.stringify(before))
    const r = emit('--check')
    expect([r.status, JSON.parse(r.out)]).toEqual([1, expect.objectContaining({ upToDate: false, open: [open] })])
    expect(emit('--check', '--take').status).toBe(0)
  })
})

describe('what rows say', () => {
  it('goes into a file and settles from there, the same each time', () => {
    expect(cli(['rows', db.url, '--out', at('rows.json')])).toMatchObject({ status: 0, out: '' })
    expect(JSON.parse(readFileSync(at('rows.json'), 'utf8'))).toMatchObject({ format: 'pelvok.rows/1', unread: [] })
    expect(cli(['findings', db.url, '--rows-file', at('rows.json'), '--json', '--take']).out).toContain(
      'every value of lid is one of public.lid(id): 30 rows with 30 values',
    )
    expect(emit('--rows-file', at('rows.json'), '--take').status).toBe(0)
    expect(manifest().revision).toContain('rows')
    expect(emit('--rows-file', at('rows.json'), '--check')).toMatchObject({ status: 0 })
    expect(emit('--check').status).toBe(1)
    expect(cli(['notation', db.url, '--rows-file', at('rows.json'), '--take']).out).toContain('lid')
  })

  it.each([
    ['a file that is not there', ['--rows-file', at('none.json')], 'there is no'],
    ['a file that is none', ['--rows-file', at('other.json')], 'does not say what rows say'],
    ['both at once', ['--rows', '--rows-file', at('rows.json')], 'Give one of them'],
  ])('%s is refused', (_, more, says) => {
    writeFileSync(at('other.json'), '{"format": "pelvok.rows/1"}')
    expect(emit(...more)).toMatchObject({ status: 2, err: expect.stringContaining(says) })
  })
})

describe('patterns', () => {
  const notation = (...more: readonly string[]) => cli(['notation', db.url, '--take', ...more]).out
  it('choose tables and columns', () => {
    expect(notation('--only', 'bay')).toMatch(/entity Bay(?![\s\S]*entity)/)
    expect(notation('--without', 'public.c*')).not.toContain('entity Crate')
    const some = notation('--only', 'crate.bay_id', '--only', 'BAY', '--without', 'bay.label')
    expect(some).toMatch(/bayId = bay_id/)
    expect([some.includes('note'), some.includes('label'), some.includes('entity Lid'), /entity Crate[\s\S]*\bid +: integer/.test(some)]).toEqual([
      false,
      false,
      false,
      true,
    ])
  })
  it('that match nothing are refused', () =>
    expect(cli(['findings', db.url, '--only', 'crates'])).toMatchObject({ status: 2, err: expect.stringContaining('called "crates"') }))
})
