// Who may talk to Pelvok: this machine's own browser, on an address of this machine.

const loopback = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/

/**
 * Why a request is refused; null where it is not. A foreign Host header means a name that was made to resolve to loopback (DNS
 * rebinding); a foreign Origin on a request that changes something means another site's page sent it (Fetch standard, 3.2).
 */
export function foreign(request: { readonly method: string; readonly headers: Headers }): string | null {
  const host = request.headers.get('host') ?? ''
  if (!loopback.test(host)) return 'Pelvok answers on loopback addresses only.'
  if (request.method === 'GET' || request.method === 'HEAD') return null
  const origin = request.headers.get('origin')
  return origin !== null && origin !== `http://${host}` ? 'This request comes from another site.' : null
}
