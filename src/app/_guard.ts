// Who may talk to Pelvok: browsers that opened it under an address of this machine, or under the one it was told it has.

const loopback = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/

/** The address people open Pelvok under, where it is not only on loopback: PELVOK_URL. Null where it is not set or no URL. */
function ownUrl(): URL | null {
  const given = process.env['PELVOK_URL'] ?? ''
  return URL.canParse(given) ? new URL(given) : null
}

/** Origin of the address a request came to; null where that is none of ours. */
export function ownOrigin(host: string): string | null {
  if (loopback.test(host)) return `http://${host}`
  const own = ownUrl()
  return own?.host === host ? own.origin : null
}

/**
 * Why a request is refused; null where it is not. A foreign Host header means a name that was made to resolve to this machine (DNS
 * rebinding); a foreign Origin on a request that changes something means another site's page sent it (Fetch standard, 3.2).
 */
export function foreign(request: { readonly method: string; readonly headers: Headers }): string | null {
  const own = ownOrigin(request.headers.get('host') ?? '')
  if (own === null) return 'Pelvok does not answer under this address: only on loopback, and under PELVOK_URL where that is set.'
  const site = request.headers.get('sec-fetch-site')
  const reads = request.method === 'GET' || request.method === 'HEAD'
  // What a browser marks as coming from another site is a link that somebody followed, or nothing of ours (Fetch Metadata, 2.2 and 2.3).
  if (site === 'cross-site' && !(reads && request.headers.get('sec-fetch-mode') === 'navigate')) return 'This request comes from another site.'
  if (reads) return null
  const origin = request.headers.get('origin')
  return origin !== null && origin !== own ? 'This request comes from another site.' : null
}
