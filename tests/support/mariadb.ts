// A private MariaDB without network, in a folder that is removed afterwards: to see what it makes of a script.
import { execFileSync, spawn } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync } from 'node:fs'
import { tmpdir, userInfo } from 'node:os'
import { join } from 'node:path'

export interface MariaDb {
  /** Loads a script into a fresh database; errors of single statements do not stop it. Gives what the client complained of. */
  readonly load: (database: string, path: string) => string
  readonly rows: (sql: string) => readonly (readonly string[])[]
  readonly stop: () => Promise<void>
}

export async function startMariaDb(): Promise<MariaDb> {
  const dir = mkdtempSync(join(tmpdir(), 'pelvok-mariadb-'))
  const data = join(dir, 'data')
  const socket = join(dir, 's')
  const { username } = userInfo()
  const common = ['--no-defaults', `--datadir=${data}`, `--user=${username}`]
  execFileSync('mariadb-install-db', [...common, '--auth-root-authentication-method=normal', '--skip-test-db'], { stdio: 'ignore' })
  const server = spawn(
    'mariadbd',
    [...common, `--socket=${socket}`, '--skip-networking', `--pid-file=${join(dir, 'pid')}`, `--log-error=${join(dir, 'log')}`],
    { stdio: 'ignore' },
  )
  const ended = new Promise<void>((resolve) => server.on('exit', () => resolve()))
  const client = (args: readonly string[], input?: Buffer) =>
    execFileSync('mariadb', ['--no-defaults', `--socket=${socket}`, '-uroot', ...args], {
      input,
      encoding: 'utf8',
      stdio: ['pipe', 'pipe', 'pipe'],
      maxBuffer: 1 << 28,
    })
  const until = Date.now() + 300_000
  for (;;) {
    try {
      client(['-e', 'select 1'])
      break
    } catch (error) {
      if (Date.now() > until || server.exitCode !== null) throw error
      await new Promise((resolve) => setTimeout(resolve, 200))
    }
  }
  const unescaped = (cell: string) => cell.replace(/\\([ntr0\\])/g, (_, c: string) => ({ n: '\n', t: '\t', r: '\r', '0': '\0', '\\': '\\' })[c] ?? c)
  return {
    load: (database, path) => {
      client(['-e', `create database \`${database}\` character set utf8mb4`])
      try {
        client(['--force', '--default-character-set=utf8mb4', database], readFileSync(path))
        return ''
      } catch (error) {
        return String((error as { stderr?: string }).stderr ?? error)
      }
    },
    rows: (sql) =>
      client(['-N', '-B', '-e', sql])
        .split('\n')
        .filter((l) => l !== '')
        .map((l) => l.split('\t').map(unescaped)),
    stop: async () => {
      server.kill('SIGTERM')
      await ended
      rmSync(dir, { recursive: true, force: true })
    },
  }
}
