import { describe, expect, it } from 'vitest'
import { foreign } from './_guard.ts'

describe('from where', () => {
  const asks = (method: string, host: string, origin?: string) =>
    foreign({ method, headers: new Headers({ host, ...(origin === undefined ? {} : { origin }) }) }) === null
  it('loopback by any of its names, with any port; no other name, though it leads here', () => {
    for (const host of ['127.0.0.1:4280', 'localhost', '[::1]:4280']) expect(asks('GET', host)).toBe(true)
    for (const host of ['attacker.example', '127.0.0.1.attacker.example', 'localhost.attacker.example:4280', '10.0.0.5:4280', ''])
      expect(asks('GET', host)).toBe(false)
  })
  it('what changes something comes from our own pages', () => {
    expect(asks('POST', 'localhost:4280', 'http://localhost:4280')).toBe(true)
    for (const origin of ['http://localhost:9999', 'https://attacker.example', 'null']) expect(asks('POST', 'localhost:4280', origin)).toBe(false)
  })
  it('what a browser marks as from another site is refused, with or without an origin, but for a link that is followed', () => {
    const marked = (method: string, site: string, mode: string) =>
      foreign({ method, headers: new Headers({ host: 'localhost:4280', 'sec-fetch-site': site, 'sec-fetch-mode': mode }) }) === null
    expect([marked('POST', 'cross-site', 'navigate'), marked('POST', 'cross-site', 'no-cors'), marked('GET', 'cross-site', 'no-cors')]).toEqual([
      false,
      false,
      false,
    ])
    expect([marked('GET', 'cross-site', 'navigate'), marked('GET', 'same-origin', 'cors'), marked('POST', 'same-origin', 'cors')]).toEqual([true, true, true])
  })
  it('elsewhere under the one address that was said, and its scheme', () => {
    const before = process.env['PELVOK_URL']
    process.env['PELVOK_URL'] = 'https://pelvok.example/'
    try {
      expect([asks('GET', 'pelvok.example'), asks('GET', 'other.example'), asks('GET', 'localhost:4280')]).toEqual([true, false, true])
      expect([asks('POST', 'pelvok.example', 'https://pelvok.example'), asks('POST', 'pelvok.example', 'http://pelvok.example')]).toEqual([true, false])
    } finally {
      if (before === undefined) delete process.env['PELVOK_URL']
      else process.env['PELVOK_URL'] = before
    }
  })
})
