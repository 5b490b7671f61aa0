// The server side over HTTP and in the store: projects, ledger, jobs, secrets, archives.
import { execFileSync } from 'node:child_process'
import { existsSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { gunzipSync, gzipSync, strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import pg from 'pg'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { hashText } from '../../src/core/catalog/index.ts'
import { connect } from '../../src/engines/postgres/connect.ts'
import { appUrl, call, eventually, makeProject, seal } from '../support/app.ts'
import { admin, adminUrl, cli, loadScript, locationOf, makeDatabase, rowsOf } from '../support/server.ts'

const password = 'Kx7-very-secret-Qz'
let project = ''
let db: Awaited<ReturnType<typeof makeDatabase>>
let sourceUrl = ''
const role = `secret_reader_${process.pid}`
const store = process.env['DATABASE_URL'] as string

async function inStore<T>(sql: string, values: readonly unknown[] = []): Promise<readonly T[]> {
  const client = new pg.Client({ connectionString: store })
  await client.connect()
  try {
    return (await client.query(sql, [...values])).rows as T[]
  } finally {
    await client.end()
  }
}

beforeAll(async () => {
  db = await makeDatabase()
  loadScript(db.url, 'demo/schema.sql')
  await admin('postgres', `create role ${role} login password '${password}' in role pg_read_all_data`)
  sourceUrl = `postgresql://${role}:${password}@${db.location.host}:${db.location.port}/${db.name}?sslmode=disable`
  project = await makeProject('Server tests', sourceUrl)
})
afterAll(async () => {
  await db.drop()
  await admin('postgres', `drop role ${role}`)
})

const asAda = { cookie: 'pelvok-name=Ada' }
const asBo = { cookie: 'pelvok-name=Bo' }
type Entries = { readonly entries: readonly { readonly seq: number; readonly by: string }[] }
const rename = (value: string, subject = 'field.hive(apiary_id)', facet = 'reference.inverseName') => ({
  kind: 'edit',
  edit: { facet, subject, value },
  note: null,
})
const append = (entry: unknown, seen: number, headers = asAda) =>
  call<Entries & { message: string }>(`/api/projects/${project}/ledger`, { entries: [entry], seen }, headers)
const revert = (seq: number) => call<Entries & { message: string }>(`/api/projects/${project}/ledger/revert`, { seq }, asAda)
const head = async () => (await call<Entries>(`/api/projects/${project}/ledger`)).body.entries.length

describe('ledger over HTTP', () => {
  it('appends, signs, numbers without gaps, and takes back', async () => {
    const first = await append(rename('boxes'), 0)
    expect(first.body.entries).toMatchObject([{ seq: 1, by: 'Ada' }])
    expect((await append(rename('colonies'), 1)).body.entries[0]?.seq).toBe(2)
    expect(await revert(1)).toMatchObject({ status: 422, body: { message: expect.stringContaining('entry 2 by Ada builds on entry 1') } })
    expect((await revert(2)).status).toBe(200)
    expect((await revert(2)).body.message).toContain('taken back already')
    expect(await head()).toBe(3)
  })

  it('two people on the same facet are a conflict, on another they are not; nothing is overwritten', async () => {
    const seen = await head()
    expect((await append(rename('a1'), seen, asBo)).status).toBe(200)
    expect(await append(rename('a2'), seen, asAda)).toMatchObject({ status: 409, body: { message: expect.stringContaining('Bo changed the same thing') } })
    expect((await append(rename('home', undefined, 'reference.ownName'), seen, asAda)).status).toBe(200)
    expect(await head()).toBe(seen + 2)
  })

  it('twenty at once are put in a row', async () => {
    const seen = await head()
    const replies = await Promise.all(
      Array.from({ length: 20 }, (_, i) =>
        call(`/api/projects/${project}/ledger`, { entries: [{ kind: 'note', subject: 'entity:field.hive', text: `note ${i}` }], seen }),
      ),
    )
    expect(replies.every((r) => r.status === 200)).toBe(true)
    const rows = await inStore<{ seq: number }>('select seq from pelvok.ledger where project_id = $1 order by seq', [project])
    expect(rows.map((r) => r.seq)).toEqual(rows.map((_, i) => i + 1))
  })

  it.each([
    ['a name that is no identifier', rename('two words'), /letters, digits and underscores/],
    ['a name that is reserved', rename('constructor'), /keeps this name/],
    ['a name that is taken', rename('name'), /already has a property called name/],
    ['a class name that is taken', rename('Hive', 'field.queen', 'entity.name'), /already a class called Hive/],
    ['a class name in lower case', rename('hive', 'field.queen', 'entity.name'), /capital letter/],
    ['an entry of a kind that has its own way in', { kind: 'revert', reverts: 1 }, /own way in/],
    ['an entry that is none', { kind: 'rule' }, /entries/],
  ])('%s is refused, and nothing is kept', async (_, entry, says) => {
    const before = await head()
    const reply = await append(entry, before)
    expect(reply.status).toBeGreaterThanOrEqual(400)
    expect(reply.body.message).toMatch(says)
    expect(await head()).toBe(before)
  })

  it('nothing is sealed or given while something is open that changes what comes out', async () => {
    const shut = { status: 409, body: { message: expect.stringContaining('findings are open that change what comes out') } }
    expect(await call(`/api/projects/${project}/seal`, {}, asAda)).toMatchObject(shut)
    expect((await append({ kind: 'take', findings: [{ id: 'x', fingerprint: '' }], edits: [], note: null }, await head())).status).toBe(422)
    for (const path of ['code.zip', 'plan.zip?which=baseline', 'plan.md?which=draft'])
      expect(await call(`/api/projects/${project}/${path}`)).toMatchObject({
        ...shut,
        body: { ...shut.body, hint: expect.stringContaining('take the proposals') },
      })
    expect(await call(`/api/projects/${project}/plans`, { which: 'baseline', title: 'x' }, asAda)).toMatchObject(shut)
    expect((await call(`/api/projects/${project}/plans/steps?number=1`)).status).toBe(404)
  })

  it('what is proposed is taken as it stands in one entry that lists it, and not where the list is short of what is open', async () => {
    const at = `/api/projects/${project}`
    const { items } = (await call<{ items: readonly { id: string; says: string }[] }>(`${at}/gate`)).body
    expect(items.length).toBeGreaterThan(5)
    const [left, ...rest] = items.map((i) => i.id)
    expect(await call(`${at}/take`, { findings: rest, note: null }, asAda)).toMatchObject({
      status: 409,
      body: { message: '1 more finding is open by now' },
    })
    const before = await head()
    expect((await call(`${at}/take`, { findings: [...rest, left, 'reference:no.such(one)'], note: 'for a first look' }, asAda)).status).toBe(200)
    const [entry] = (await call<{ entries: readonly { findings: readonly { id: string }[]; note: string }[] }>(`${at}/ledger?after=${before}`)).body.entries
    expect(entry?.note).toBe('for a first look')
    expect(entry?.findings.map((f) => f.id).toSorted()).toEqual(items.map((i) => i.id).toSorted())
    expect((await call<{ items: readonly unknown[] }>(`${at}/gate`)).body.items).toEqual([])
    // Not sealed yet: no output.
    expect(await call(`${at}/code.zip`)).toMatchObject({ status: 409, body: { message: expect.stringContaining('is not sealed') } })
    await revert(before + 1)
    expect((await call<{ items: readonly unknown[] }>(`${at}/gate`)).body.items).toHaveLength(items.length)
  })

  it('sealing settles once and names the position', async () => {
    await seal(project, asAda)
    const sealed = await call<{ ledger: number }>(`/api/projects/${project}/seal`, {}, asAda)
    expect(sealed.body.ledger).toBe(await head())
    expect((await call<{ ledger: number }>(`/api/projects/${project}/seal`, {}, asAda)).body.ledger).toBe(sealed.body.ledger)
    expect((await inStore<{ n: number }>('select count(*)::int as n from pelvok.revision where project_id = $1', [project]))[0]?.n).toBe(1)
    expect((await fetch(`${appUrl}/api/projects/${project}/code.zip`)).status).toBe(200)
  })

  it('goes out and comes in by the command line', async () => {
    const out = join(process.env['PELVOK_TEST_OUT'] as string, 'exported.ledger.jsonl')
    expect(cli(['ledger', 'export', '--project', project, '--out', out]).status).toBe(0)
    const second = await makeProject('Server tests, second', sourceUrl)
    expect(cli(['ledger', 'import', out, '--project', second]).err).toContain(`${await head()} entries added`)
    expect(cli(['ledger', 'export', '--project', second]).out).toBe(readFileSync(out, 'utf8'))
    expect(cli(['ledger', 'import', out, '--project', second]).err).toContain('0 entries added')
    const changed = readFileSync(out, 'utf8').replace('boxes', 'crates')
    writeFileSync(out, changed)
    expect(cli(['ledger', 'import', out, '--project', second])).toMatchObject({
      status: 2,
      err: expect.stringContaining('entry 1 of the project is another one'),
    })
  })
})

describe('archives', () => {
  it('findings are served under the key of what they follow from, as they would be inferred, and under no other', async () => {
    const page = (await call<string>(`/p/${project}/review`)).body
    const key = /findings\\?":\\?"([0-9a-f]{32})/.exec(page)?.[1]
    const response = await fetch(`${appUrl}/api/projects/${project}/findings/${key}`)
    expect([response.status, response.headers.get('cache-control')]).toEqual([200, expect.stringContaining('immutable')])
    const served = JSON.parse(strFromU8(gunzipSync(new Uint8Array(await response.arrayBuffer())))) as readonly { readonly id: string }[]
    expect(served.length).toBeGreaterThan(100)
    expect(new Set(served.map((f) => f.id)).size).toBe(served.length)
    expect((await call(`/api/projects/${project}/findings/${'0'.repeat(32)}`)).status).toBe(404)
  })

  it('the snapshot’s bytes have the hash they are named by', async () => {
    const [row] = await inStore<{ hash: string }>('select hash from pelvok.survey where project_id = $1 order by id desc limit 1', [project])
    const response = await fetch(`${appUrl}/api/snapshots/${row?.hash}`)
    expect(hashText(strFromU8(gunzipSync(new Uint8Array(await response.arrayBuffer()))))).toBe(row?.hash)
    expect(response.headers.get('cache-control')).toContain('immutable')
  })

  it('code and baseline come as zips, the same bytes for the same revision', async () => {
    for (const [what, file] of [
      ['code', 'entities/Hive.ts'],
      ['plan', '0001-baseline/up.sql'],
    ] as const) {
      const get = async () => new Uint8Array(await (await fetch(`${appUrl}/api/projects/${project}/${what}.zip?which=baseline`)).arrayBuffer())
      const bytes = await get()
      expect(Buffer.from(bytes).equals(Buffer.from(await get()))).toBe(true)
      expect(Object.keys(unzipSync(bytes))).toContain(file)
      writeFileSync(join(process.env['PELVOK_TEST_OUT'] as string, `${what}.zip`), bytes)
      for (const [name, content] of Object.entries(unzipSync(bytes)))
        writeFileSync(join(process.env['PELVOK_TEST_OUT'] as string, `${what}-${name.replaceAll('/', '-')}`), content)
    }
  })
})

describe('who may ask', () => {
  it('a foreign Host or Origin is refused', async () => {
    const status = (headers: string[]) =>
      Number(
        execFileSync(
          'curl',
          ['-s', '-o', '/dev/null', '-w', '%{http_code}', ...headers.flatMap((h) => ['-H', h]), `${appUrl}/api/projects/${project}/seal`, '-X', 'POST'],
          { encoding: 'utf8' },
        ),
      )
    expect(status(['Host: evil.example'])).toBe(403)
    expect(status(['Origin: http://evil.example'])).toBe(403)
    expect(status([`Origin: ${appUrl}`])).toBe(200)
  })
  it('a project that is not there is not found', async () => {
    expect((await call('/p/nope/review')).status).toBe(404)
    expect((await call('/api/projects/nope/jobs', { kind: 'survey' })).status).toBe(404)
  })
})

describe('scripts', () => {
  const open = async (query: string, body: BodyInit, headers: Readonly<Record<string, string>> = {}) => {
    const response = await fetch(`${appUrl}/api/scripts?${query}`, { method: 'POST', body, headers })
    return {
      status: response.status,
      body: (await response.json()) as { message: string; hint: string; report?: { dialect: string; understood: number; counts: [string, number][] } },
    }
  }

  it('a zip of several is read in order of their names', async () => {
    const files = {
      '10-more.sql': 'CREATE TABLE crate (bay_id int REFERENCES bay);',
      '2-first.sql': 'CREATE TABLE bay (id serial PRIMARY KEY);',
      'read.me': 'no',
    }
    const zip = zipSync(Object.fromEntries(Object.entries(files).map(([n, t]) => [n, strToU8(t)])))
    const { status, body } = await open('file=two.zip', new Uint8Array(zip))
    expect(status).toBe(200)
    expect(body.report).toMatchObject({ dialect: 'PostgreSQL', understood: 2 })
    expect(body.report?.counts).toContainEqual(['foreign keys', 1])
  })

  it('a gzipped one is read as what is in it, and a cut one refused', async () => {
    const packed = gzipSync(strToU8('CREATE TABLE bay (id serial PRIMARY KEY);'))
    expect((await open('file=a.sql.gz', new Uint8Array(packed))).body.report).toMatchObject({ dialect: 'PostgreSQL', understood: 1 })
    expect(await open('file=a.sql.gz', new Uint8Array(packed.slice(0, 30)))).toMatchObject({
      status: 422,
      body: { message: 'a.sql.gz is cut off or no gzip that can be opened' },
    })
  })

  it('the dialect that is chosen counts', async () => {
    expect((await open('file=a.sql&dialect=mysql:5.7', 'CREATE TABLE a (x int);')).body.report?.dialect).toBe('MySQL 5.7')
    expect((await open('file=a.sql&dialect=cobol', 'CREATE TABLE a (x int);')).status).toBe(400)
  })

  it.each([
    ['nothing', '', 'no table was found in a.sql'],
    ['bytes', '\u0000\u0001\u0002', 'no table was found in a.sql'],
    ['a broken zip', 'PK\u0003\u0004nothing', 'a.sql is no zip that can be opened'],
  ])('%s is refused', async (_, text, message) => {
    const { status, body } = await open('file=a.sql', text)
    expect([status, body.message]).toEqual([status === 400 ? 400 : 422, text === '' ? body.message : message])
  })

  it('more than 100 MB is refused with the command to run', async () => {
    const line = new TextEncoder().encode(`-- ${'x'.repeat(1 << 20)}\n`)
    let sent = 0
    const body = new ReadableStream({
      pull(controller) {
        sent += 1
        if (sent > 101) controller.close()
        else controller.enqueue(line)
      },
    })
    const response = await fetch(`${appUrl}/api/scripts?file=big.sql`, { method: 'POST', body, duplex: 'half' } as RequestInit)
    expect(response.status).toBe(422)
    expect(await response.json()).toMatchObject({ message: 'this is more than 100 MB', hint: expect.stringContaining('pelvok survey big.sql') })
  })

  it('from another site they are refused, though they pass no proxy', async () => {
    expect((await open('file=a.sql', 'CREATE TABLE a (x int);', { origin: 'http://evil.example' })).status).toBe(403)
  })
})

describe('jobs', () => {
  const job = async (id: number) =>
    (await inStore<{ state: string; error: string | null; result: string | null }>('select state, error, result from pelvok.job where id = $1', [id]))[0]
  const start = async (kind: string) => (await call<{ id: number }>(`/api/projects/${project}/jobs`, { kind })).body.id

  it('a rehearsal proves the baseline', async () => {
    const { id } = (await call<{ id: number }>(`/api/projects/${project}/rehearse`, { which: 'baseline', rows: false })).body
    await eventually('the rehearsal', async () => (await job(id))?.state === 'done')
    expect(JSON.parse((await job(id))?.result ?? '')).toMatchObject({ rehearsal: { ok: true } })
  })

  it('a page that was rendered before a job ended hears of the end when it begins to listen', async () => {
    const ending = new AbortController()
    const response = await fetch(`${appUrl}/api/projects/${project}/events`, { signal: ending.signal })
    const reader = response.body?.pipeThrough(new TextDecoderStream()).getReader()
    let heard = ''
    while (!heard.includes('"type":"job"')) heard += (await reader?.read())?.value ?? ''
    ending.abort()
    expect(heard).toContain('"state":"done"')
  })

  it('cancelling ends the statement on the server; two seconds later there is none', async () => {
    const locker = await connect(db.location)
    await locker.query('begin; lock table pg_catalog.pg_description in access exclusive mode')
    const running = async () =>
      (
        await rowsOf<{ n: number }>('postgres', `select count(*)::int as n from pg_stat_activity where datname = $1 and usename = $2 and state = 'active'`, [
          db.name,
          role,
        ])
      )[0]?.n
    const id = await start('survey')
    await eventually('the statement', async () => (await running()) === 1)
    await call(`/api/jobs/${id}/cancel`, {})
    await eventually('its end', async () => (await job(id))?.state === 'cancelled', 2)
    expect(await running()).toBe(0)
    await locker.end()
  })

  it('a source that is gone fails the job with the cause and the next thing to do', async () => {
    const lost = await makeDatabase('create table t ()')
    const id = await makeProject('A source that goes', lost.url)
    await lost.drop()
    const jobId = (await call<{ id: number }>(`/api/projects/${id}/jobs`, { kind: 'survey' })).body.id
    await eventually('the failure', async () => (await job(jobId))?.state === 'failed')
    expect(JSON.parse((await job(jobId))?.error ?? '')).toMatchObject({
      message: `there is no database "${lost.name}" on ${lost.location.host}:${lost.location.port}`,
      detail: expect.stringContaining('Databases that exist'),
    })
  })

  it('a job whose worker died is failed when its lease has run out', async () => {
    const rows = await inStore<{ id: number }>(
      `insert into pelvok.job (project_id, kind, state, by, lease_until) values ($1, 'survey', 'running', 'Ada', now() - interval '1 second') returning id::int`,
      [project],
    )
    const id = rows[0]?.id as number
    await eventually('the sweep', async () => (await job(id))?.state === 'failed', 15)
    expect((await job(id))?.error).toContain('interrupted')
  })
})

describe('new project', () => {
  it.each([
    ['a wrong password', () => sourceUrl.replace(password, 'wrong'), /password for .* is wrong/],
    ['an unknown database', () => sourceUrl.replace(db.name, 'nowhere'), /there is no database "nowhere"/],
    ['a wrong port', () => sourceUrl.replace(`:${db.location.port}/`, ':1/'), /nothing accepts connections/],
    ['refused TLS', () => sourceUrl.replace('disable', 'require'), /does not offer TLS/],
    ['an unknown host', () => sourceUrl.replace('127.0.0.1', 'no-such-host.invalid'), /host name .* is not known/],
    ['no URL', () => 'hello', /cannot be read/],
    ['a variable that is not set', () => 'env:PELVOK_SOURCE_NOT_SET', /PELVOK_SOURCE_NOT_SET is not set/],
    ['a variable that is not for sources', () => 'env:DATABASE_URL', /DATABASE_URL is not for sources/],
    ['a variable of others', () => 'env:HOME', /HOME is not for sources/],
    ['Pelvok’s own store', () => process.env['DATABASE_URL'] ?? '', /this is Pelvok’s own store/],
    ['Pelvok’s own store under another name', () => (process.env['DATABASE_URL'] ?? '').replace('127.0.0.1', 'localhost'), /this is Pelvok’s own store/],
  ])('with %s is refused with its own message, and nothing is kept', async (_, url, says) => {
    const before = await inStore('select 1 from pelvok.project')
    const reply = await call<{ message: string; hint: string }>('/api/projects', { name: 'x', source: { by: 'url', url: url() } })
    expect(reply.status).toBe(422)
    expect(reply.body.message).toMatch(says)
    expect(reply.body.hint).not.toBe('')
    expect(await inStore('select 1 from pelvok.project')).toHaveLength(before.length)
  })
  it('fields are checked one by one', async () => {
    const reply = await call<{ message: string }>('/api/projects', {
      name: 'x',
      source: { by: 'fields', host: 'h', port: 'abc', user: 'u', password: '', database: 'd', tls: 'prefer' },
    })
    expect(reply).toMatchObject({ status: 400, body: { message: expect.stringContaining('port') } })
  })
  it('can be tested first', async () => {
    const l = locationOf(sourceUrl)
    const reply = await call<{ steps: readonly { step: string; state: string; says: string }[] }>('/api/test-source', {
      by: 'fields',
      host: l.host,
      port: String(l.port),
      user: l.user,
      password: l.password,
      database: l.database,
      tls: 'disable',
    })
    expect(reply.body.steps.map((s) => `${s.step} ${s.state}`)).toEqual([
      'host passed',
      'port passed',
      'TLS passed',
      'login passed',
      'database passed',
      'privileges passed',
    ])
  })
  it('by a variable keeps the variable’s name and no secret', async () => {
    const made = await makeProject('By variable', 'env:PELVOK_SOURCE_DEMO')
    expect(await inStore('select location, secret from pelvok.source where project_id = $1', [made])).toEqual([
      { location: { variable: 'PELVOK_SOURCE_DEMO' }, secret: null },
    ])
  })
  it('by a variable that is not set offers one like it, of those that may be named', async () => {
    const reply = await call<{ detail: string; hint: string }>('/api/test-source', { by: 'url', url: 'env:PELVOK_SOURCE_DEMMO' })
    expect([reply.status, reply.body.detail, reply.body.hint]).toEqual([
      422,
      expect.stringContaining('There is PELVOK_SOURCE_DEMO.'),
      expect.stringContaining('env:PELVOK_SOURCE_DEMO'),
    ])
  })
})

describe('deleting a project', () => {
  it('takes its name, and takes all it kept: what nobody else has goes as well', async () => {
    const id = await makeProject('To be forgotten', sourceUrl)
    const [{ hash } = { hash: '' }] = await inStore<{ hash: string }>('select hash from pelvok.survey where project_id = $1', [id])
    expect(hash).not.toBe('')
    const wrong = await call<{ message: string; hint: string }>(`/api/projects/${id}/remove`, { typed: 'Something else' })
    expect([wrong.status, wrong.body.message]).toEqual([409, 'that is not the name of the project'])
    expect((await call(`/api/projects/${id}/remove`, { typed: 'To be forgotten' })).status).toBe(200)
    for (const table of ['project', 'source', 'survey', 'ledger', 'job', 'plan', 'environment', 'proof'])
      expect(await inStore(`select 1 from pelvok.${table} where ${table === 'project' ? 'id' : 'project_id'} = $1`, [id]), table).toEqual([])
    // The snapshot stays, since another project was read from the same database.
    expect(await inStore('select 1 from pelvok.snapshot where hash = $1', [hash])).toHaveLength(1)
    expect((await call(`/api/projects/${id}/remove`, { typed: 'To be forgotten' })).status).toBe(409)
  })
})

describe('every answer', () => {
  it.each(['/', '/api/nothing', '/_next/static/nothing.js', '/no-such-page', '/api/scripts'])(
    'of %s says what may be loaded, by whom, and that it stands in no frame',
    async (path) => {
      const { headers } = await fetch(`${appUrl}${path}`, { redirect: 'manual' })
      expect(headers.get('content-security-policy')).toMatch(/frame-ancestors 'none'/)
      expect([headers.get('x-content-type-options'), headers.get('referrer-policy')]).toEqual(['nosniff', 'same-origin'])
    },
  )
  it('has a nonce of its own, which every script of a page has', async () => {
    const [first, second] = await Promise.all([fetch(appUrl), fetch(appUrl)])
    const nonceOf = (r: Response) => /script-src [^;]*'nonce-([0-9a-f]+)'/.exec(r.headers.get('content-security-policy') ?? '')?.[1]
    expect(nonceOf(first)).not.toBe(nonceOf(second))
    const scripts = [...(await first.text()).matchAll(/<script([^>]*)>/g)].map((m) => m[1] ?? '')
    expect(scripts.length).toBeGreaterThan(3)
    expect(scripts.filter((s) => !s.includes(`nonce="${nonceOf(first)}"`))).toEqual([])
  })
  it('to what a browser marks as from another site is a refusal', async () => {
    const marked = (headers: Record<string, string>) =>
      fetch(`${appUrl}/api/name`, { method: 'POST', body: '{}', headers: { 'content-type': 'application/json', ...headers } })
    expect((await marked({ 'sec-fetch-site': 'cross-site' })).status).toBe(403)
    expect((await marked({ 'sec-fetch-site': 'same-origin' })).status).not.toBe(403)
  })
})

describe('the scope', () => {
  const scope = (subject: string, value: 'in' | 'out') => ({ kind: 'scope', edits: [{ facet: 'scope', subject, value }], note: null })
  it('is an entry of the ledger: the code loses what is left out, the plan does not, and taking it back brings it back', async () => {
    const answer = await append(scope('field.hive', 'out'), await head())
    expect(answer.status).toBe(200)
    const code = async () => {
      await seal(project, asAda)
      return Object.keys(unzipSync(new Uint8Array(await (await fetch(`${appUrl}/api/projects/${project}/code.zip`)).arrayBuffer())))
    }
    expect(await code()).not.toContain('entities/field/Hive.ts')
    const plan = unzipSync(new Uint8Array(await (await fetch(`${appUrl}/api/projects/${project}/plan.zip?which=baseline`)).arrayBuffer()))
    expect(strFromU8(plan['0001-baseline/up.sql'] as Uint8Array)).toContain('CREATE TABLE field.hive ')
    expect((await revert(answer.body.entries[0]?.seq as number)).status).toBe(200)
    expect((await code()).some((f) => f.endsWith('/Hive.ts'))).toBe(true)
  })
  it.each([
    ['field.hive(id)', 'part of the primary key'],
    ['field.nowhere', 'there is no field.nowhere'],
  ])('refuses %s', async (subject, says) => {
    expect(await append(scope(subject, 'out'), await head())).toMatchObject({ status: 422, body: { message: expect.stringContaining(says) } })
  })
})

describe('secrets', () => {
  it('the source’s password is in no row, job, log or file of a full run', async () => {
    const tables = await inStore<{ name: string }>(
      `select quote_ident(table_schema) || '.' || quote_ident(table_name) as name from information_schema.tables where table_schema in ('pelvok', 'pelvok_queue') and table_type = 'BASE TABLE'`,
    )
    expect(tables.length).toBeGreaterThan(8)
    for (const t of tables) {
      const rows = await inStore<{ row: string }>(`select t::text as row from ${t.name} t`)
      expect(
        rows.filter((r) => r.row.includes(password) || r.row.includes(Buffer.from(password).toString('hex'))),
        t.name,
      ).toEqual([])
    }
    const out = process.env['PELVOK_TEST_OUT'] as string
    const files = readdirSync(out, { recursive: true, encoding: 'utf8' })
      .map((f) => join(out, f))
      .filter((f) => statSync(f).isFile())
    expect(files.length).toBeGreaterThan(10)
    for (const f of files) expect(readFileSync(f, 'latin1').includes(password), f).toBe(false)
    for (const path of ['', '/source', '/review', '/code', '/plan', '/ledger'])
      expect((await call<string>(`/p/${project}${path}`)).body).not.toContain(password)
  })

  it('the key is outside the database and readable by its owner only', () => {
    const key = process.env['PELVOK_KEY_FILE'] as string
    expect(existsSync(key)).toBe(true)
    expect(statSync(key).mode & 0o777).toBe(0o600)
    expect(adminUrl).not.toBe('')
  })
})
