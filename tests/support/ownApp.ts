// A Pelvok of one test's own, with an empty store: for what would get in the way of the others.
import { type ChildProcess, execFileSync, spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { eventually } from './app.ts'
import { makeDatabase } from './server.ts'

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
  /** Boots once more; what it says on the way, and its exit status. */
  readonly boot: (...args: readonly string[]) => { readonly status: number; readonly said: string }
  readonly end: () => Promise<void>
}

/** `env`: more of the environment, where its own port may stand as `PORT`. */
export async function ownApp(env: Readonly<Record<string, string>> = {}): Promise<OwnApp> {
  const store = await makeDatabase()
  const dir = mkdtempSync(join(tmpdir(), 'pelvok-own-'))
  const port = await freePort()
  const more = Object.fromEntries(Object.entries(env).map(([k, v]) => [k, v.replace('PORT', String(port))]))
  const own = {
    ...process.env,
    DATABASE_URL: store.url,
    PELVOK_KEY_FILE: join(dir, 'key'),
    PELVOK_DEMO_URL: '',
    PELVOK_DEMO_PREVIEW_URL: '',
    NEXT_TELEMETRY_DISABLED: '1',
    NODE_ENV: 'production' as const,
    ...more,
  }
  const boot: OwnApp['boot'] = (...args) => {
    try {
      execFileSync(process.execPath, ['dist/boot.js', ...args], { env: own, stdio: ['ignore', 'ignore', 'pipe'] })
      return { status: 0, said: '' }
    } catch (error) {
      const { status, stderr } = error as { status: number; stderr: Buffer }
      return { status, said: String(stderr) }
    }
  }
  boot()
  const web: ChildProcess = spawn(
    process.execPath,
    ['--import', './dist/address.js', 'node_modules/next/dist/bin/next', 'start', '-H', '127.0.0.1', '-p', String(port)],
    {
      env: own,
      stdio: 'ignore',
    },
  )
  const url = `http://127.0.0.1:${port}`
  await eventually('the web server', async () => (await fetch(url).catch(() => null)) !== null)
  return {
    url,
    database: store.name,
    boot,
    end: async () => {
      const ended = new Promise((resolve) => web.once('exit', resolve))
      web.kill()
      await ended
      await store.drop()
      rmSync(dir, { recursive: true, force: true })
    },
  }
}
