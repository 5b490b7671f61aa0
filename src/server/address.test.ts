import { createServer, get } from 'node:http'
import type { AddressInfo } from 'node:net'
import { afterEach, describe, expect, it } from 'vitest'
import { forwardedFor, proxiesOf } from './address.ts'

describe('whom a request was forwarded for', () => {
  it.each([
    ['203.0.113.9', '198.51.100.1', undefined, '203.0.113.9'],
    ['203.0.113.9', undefined, undefined, '203.0.113.9'],
    ['127.0.0.1', '198.51.100.1', undefined, '198.51.100.1'],
    ['::ffff:127.0.0.1', '198.51.100.1, 198.51.100.2', undefined, '198.51.100.1, 198.51.100.2'],
    ['127.0.0.1', '198.51.100.1', 'none', '127.0.0.1'],
    ['10.0.0.2', '198.51.100.1', '10.0.0.2, 10.0.0.3', '198.51.100.1'],
    ['10.0.0.4', '198.51.100.1', '10.0.0.2, 10.0.0.3', '10.0.0.4'],
  ])('from %s, said %s, proxies %s: %s', (remote, said, proxies, expected) => expect(forwardedFor(remote, said, proxiesOf(proxies))).toBe(expected))

  afterEach(() => {
    delete process.env['PELVOK_PROXY']
  })
  it.each([
    [undefined, '198.51.100.1'],
    ['none', '127.0.0.1'],
  ])('is what a server hears, with the proxies %s', async (proxies, expected) => {
    if (proxies !== undefined) process.env['PELVOK_PROXY'] = proxies
    const server = createServer((request, response) => response.end(String(request.headers['x-forwarded-for'])))
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
    const { port } = server.address() as AddressInfo
    const heard = await new Promise<string>((resolve) => {
      get({ port, host: '127.0.0.1', headers: { 'x-forwarded-for': '198.51.100.1' } }, (answer) => answer.on('data', (d) => resolve(String(d))))
    })
    server.close()
    expect(heard).toBe(expected)
  })
})
