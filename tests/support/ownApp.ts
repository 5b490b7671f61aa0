// A Pelvok with a store, a web server and a worker of its own: every file of browser tests has one (`ownAppSetup.ts`), and so has what
// would get in the way of the others in its file.
import { type ChildProcess, execFileSync, spawn } from 'node:child_process'
import { mkdtempSync, openSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { makeDatabase } from './server.ts'
import { eventually } from './wait.ts'

const freePort = (): Promise<number> =>
  new Promise((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number }
      server.close(() => resolve(port))
    })
  })

export interface OwnApp {
  readonly url: string
  /** Of its store. */
  readonly database: string
  /** What it was started with, beyond the environment of the tests. */
  readonly env: Readonly<Record<string, string>>
  readonly web: ChildProcess
  /** Another web server on the same store, and another worker. */
  readonly anotherWeb: () => Promise<{ readonly url: string; readonly web: ChildProcess }>
  readonly anotherWorker: () => ChildProcess
  /** Boots once more; what it says on the way, and its exit status. */
  readonly boot: (...args: readonly string[]) => { readonly status: number; readonly said: string }
  readonly end: () => Promise<void>
}

interface Wish {
  /** More of the environment, where its own port may stand as `PORT`. */
  readonly env?: Readonly<Record<string, string>>
  /** The address under which it reaches its store, given the store's own: a door before it, perhaps. */
  readonly through?: (url: string) => string
  /** With the demo project, and a worker that surveys it. */
  readonly whole?: boolean
  /** What it logs is kept under this name. */
  readonly log?: string
}

const endOf = async (child: ChildProcess): Promise<void> => {
  if (child.exitCode !== null || child.signalCode !== null) return
  const ended = new Promise((resolve) => child.once('exit', resolve))
  child.kill()
  // A guard: what does not hear is ended all the same.
  const guard = setTimeout(() => child.kill('SIGKILL'), 30_000)
  await ended
  clearTimeout(guard)
}

export async function ownApp({ env = {}, through = (url) => url, whole = false, log }: Wish = {}): Promise<OwnApp> {
  const store = await makeDatabase()
  const dir = mkdtempSync(join(tmpdir(), 'pelvok-own-'))
  const port = await freePort()
  const more = Object.fromEntries(Object.entries(env).map(([k, v]) => [k, v.replace('PORT', String(port))]))
  const given = {
    DATABASE_URL: through(store.url),
    PELVOK_KEY_FILE: join(dir, 'key'),
    PELVOK_OUT: join(dir, 'code'),
    ...(whole ? {} : { PELVOK_DEMO_URL: '', PELVOK_DEMO_PREVIEW_URL: '' }),
    NEXT_TELEMETRY_DISABLED: '1',
    NODE_ENV: 'production' as const,
    ...more,
  }
  const own = { ...process.env, ...given }
  const boot: OwnApp['boot'] = (...args) => {
    try {
      execFileSync(process.execPath, ['dist/boot.js', ...args], { env: { ...own, DATABASE_URL: store.url }, stdio: ['ignore', 'ignore', 'pipe'] })
      return { status: 0, said: '' }
    } catch (error) {
      const { status, stderr } = error as { status: number; stderr: Buffer }
      return { status, said: String(stderr) }
    }
  }
  boot()
  const logTo = (what: string) => (log === undefined ? 'ignore' : openSync(join(process.env['PELVOK_TEST_OUT'] ?? dir, `${log}.${what}.log`), 'w'))
  const children: ChildProcess[] = []
  const start = (what: string, args: readonly string[]) => {
    const out = logTo(what)
    const child = spawn(process.execPath, [...args], { env: own, stdio: ['ignore', out, out] })
    children.push(child)
    return child
  }
  const webAt = async (at: number, what: string) => {
    const web = start(what, ['--import', './dist/address.js', 'node_modules/next/dist/bin/next', 'start', '-H', '127.0.0.1', '-p', String(at)])
    const url = `http://127.0.0.1:${at}`
    await eventually('the web server', async () => (await fetch(url).catch(() => null)) !== null, 300)
    return { url, web }
  }
  if (whole) start('worker', ['dist/worker.js'])
  const { url, web } = await webAt(port, 'web')
  return {
    url,
    database: store.name,
    env: given,
    web,
    anotherWeb: async () => webAt(await freePort(), `web${children.length}`),
    anotherWorker: () => start(`worker${children.length}`, ['dist/worker.js']),
    boot,
    end: async () => {
      await Promise.all(children.map(endOf))
      await store.drop()
      rmSync(dir, { recursive: true, force: true })
    },
  }
}
