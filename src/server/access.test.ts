import { readdirSync, readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { mayAct, roleNeeded, servesElsewhere } from './access.ts'

/** Every handler there is, as the path it answers, with what it needs. */
const asked = readdirSync('src/app', { recursive: true, encoding: 'utf8' })
  .filter((file) => file.endsWith('/route.ts'))
  .flatMap((file) => {
    const path = `/${file.slice(0, -'/route.ts'.length)}`.replace(/\[\w+\]/g, 'x')
    return [...readFileSync(`src/app/${file}`, 'utf8').matchAll(/export (?:const|async function|function) (GET|POST|PUT|PATCH|DELETE)\b/g)].map(
      ([, method]) => `${method} ${path}: ${roleNeeded(method as string, path) ?? 'nobody'}`,
    )
  })
  .sort()

describe('who may ask for what', () => {
  it('each handler that changes something, or reads rows, is for whom it should be', () =>
    expect(asked.filter((a) => !a.startsWith('GET'))).toEqual([
      'POST /api/accounts/x: owner',
      'POST /api/accounts: owner',
      'POST /api/jobs/x/cancel: reviewer',
      'POST /api/name: owner',
      'POST /api/password: reader',
      'POST /api/projects/x/changes: reviewer',
      'POST /api/projects/x/environments/adopt: owner',
      'POST /api/projects/x/environments/apply: owner',
      'POST /api/projects/x/environments/overlook: reviewer',
      'POST /api/projects/x/environments/remove: owner',
      'POST /api/projects/x/environments/watch: reviewer',
      'POST /api/projects/x/environments: owner',
      'POST /api/projects/x/folder: reviewer',
      'POST /api/projects/x/jobs: reviewer',
      'POST /api/projects/x/ledger/import: owner',
      'POST /api/projects/x/ledger/revert: reviewer',
      'POST /api/projects/x/ledger: reviewer',
      'POST /api/projects/x/look: reviewer',
      'POST /api/projects/x/notation: reviewer',
      'POST /api/projects/x/place: reader',
      'POST /api/projects/x/plans/check: reviewer',
      'POST /api/projects/x/plans/edit: owner',
      'POST /api/projects/x/plans/forget: owner',
      'POST /api/projects/x/plans: reviewer',
      'POST /api/projects/x/rehearse: reviewer',
      'POST /api/projects/x/remove: owner',
      'POST /api/projects/x/rows: reviewer',
      'POST /api/projects/x/seal: reviewer',
      'POST /api/projects/x/settings: reviewer',
      'POST /api/projects/x/take: reviewer',
      'POST /api/projects/x/trial: reviewer',
      'POST /api/projects: owner',
      'POST /api/scripts: owner',
      'POST /api/sign-in: nobody',
      'POST /api/sign-out: reader',
      'POST /api/test-source: owner',
    ]))
  it('nothing is read by somebody who did not sign in but the way in', () => {
    expect(asked.filter((a) => a.startsWith('GET')).every((a) => a.endsWith(': reader'))).toBe(true)
    expect(
      ['/', '/p/x/review', '/accounts', '/projects/new', '/sign-in', '/sign-in/more', '/_next/image', '/anything'].map((p) => roleNeeded('GET', p)),
    ).toEqual(['reader', 'reader', 'reader', 'owner', null, 'reader', null, 'reader'])
    expect(roleNeeded('DELETE', '/api/projects/x/ledger/more')).toBe('owner')
  })
  it('an address people open it under is elsewhere too, though a proxy on this machine passes it on', () => {
    const before = process.env['PELVOK_URL']
    try {
      const at = (url: string) => {
        process.env['PELVOK_URL'] = url
        return servesElsewhere()
      }
      expect(['', 'http://127.0.0.1:4280', 'http://localhost', 'http://[::1]:4280', 'no address'].map(at)).toEqual([false, false, false, false, false])
      expect(['https://pelvok.example', 'http://10.0.0.5:4280', 'http://localhost.example'].map(at)).toEqual([true, true, true])
    } finally {
      if (before === undefined) delete process.env['PELVOK_URL']
      else process.env['PELVOK_URL'] = before
    }
  })
  it('another address than loopback is elsewhere', () => {
    const before = process.env['PELVOK_LISTEN']
    try {
      const at = (address: string) => {
        process.env['PELVOK_LISTEN'] = address
        return servesElsewhere()
      }
      expect(['', '127.0.0.1', '127.0.1.1', 'localhost', '::1'].map(at)).toEqual([false, false, false, false, false])
      expect(['0.0.0.0', '::', '10.0.0.5', 'localhost.example', '127.0.0.1.example'].map(at)).toEqual([true, true, true, true, true])
    } finally {
      if (before === undefined) delete process.env['PELVOK_LISTEN']
      else process.env['PELVOK_LISTEN'] = before
    }
  })
  it('a role may do what lower ones may', () =>
    expect((['reader', 'reviewer', 'owner'] as const).map((r) => [mayAct(r, 'reader'), mayAct(r, 'reviewer'), mayAct(r, 'owner')])).toEqual([
      [true, false, false],
      [true, true, false],
      [true, true, true],
    ]))
})
