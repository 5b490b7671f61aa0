// Every request passes here first: only this machine's own browser, on an address of this machine, may talk to Pelvok.
import { type NextRequest, NextResponse } from 'next/server'

const loopback = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/

/**
 * A foreign Host header means a name that was made to resolve to loopback (DNS rebinding); a foreign Origin on a request that
 * changes something means another site's page sent it (Fetch standard, 3.2, the Origin header). Both are refused.
 */
export function proxy(request: NextRequest): NextResponse {
  const host = request.headers.get('host') ?? ''
  if (!loopback.test(host)) return new NextResponse('Pelvok answers on loopback addresses only.', { status: 403 })
  if (request.method !== 'GET' && request.method !== 'HEAD') {
    const origin = request.headers.get('origin')
    if (origin !== null && origin !== `http://${host}`) return new NextResponse('This request comes from another site.', { status: 403 })
  }
  return NextResponse.next()
}
