// Loaded before the web server (node --import): a request says that it was forwarded for somebody only where a proxy says so. Anybody
// can send the header; the framework passes on what it is given.
import { type IncomingMessage, Server } from 'node:http'

const ofThisMachine = ['127.0.0.1', '::1']

/** Addresses whose word is taken: PELVOK_PROXY, with commas between them; a proxy on this machine where it is not set. */
export const proxiesOf = (given: string | undefined): readonly string[] =>
  given === undefined || given.trim() === '' ? ofThisMachine : given.split(',').map((a) => a.trim())

/** An IPv4 address as such, also where a socket for both kinds gave it (RFC 4291, 2.5.5.2). */
const plain = (address: string): string => (address.startsWith('::ffff:') ? address.slice('::ffff:'.length) : address)

/** What X-Forwarded-For is to say of a request: what a proxy said, and else where it came from. */
export const forwardedFor = (remote: string, said: string | undefined, proxies: readonly string[]): string =>
  said !== undefined && proxies.includes(plain(remote)) ? said : plain(remote)

const { emit } = Server.prototype
Server.prototype.emit = function (this: Server, event: string | symbol, ...args: unknown[]): boolean {
  if (event === 'request') {
    const { headers, socket } = args[0] as IncomingMessage
    headers['x-forwarded-for'] = forwardedFor(
      socket.remoteAddress ?? '',
      headers['x-forwarded-for'] as string | undefined,
      proxiesOf(process.env['PELVOK_PROXY']),
    )
  }
  return (emit as (this: Server, event: string | symbol, ...args: unknown[]) => boolean).call(this, event, ...args)
}
