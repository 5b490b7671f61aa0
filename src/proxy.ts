// Every request but an upload passes here first; uploads check the same themselves, since what passes here is cut at 10 MB.
import { type NextRequest, NextResponse } from 'next/server'
import { refusal, sessionCookie } from './app/_access.ts'
import { ownOrigin } from './app/_guard.ts'

/**
 * What a page may load (CSP Level 3): scripts by a nonce of this answer or of ours, nothing of others, in no frame. Styles are set by
 * scripts on elements, which no nonce reaches.
 */
function policyWith(nonce: string): string {
  const development = process.env.NODE_ENV === 'development' ? " 'unsafe-eval'" : ''
  return [
    "default-src 'self'",
    `script-src 'self' 'nonce-${nonce}' 'wasm-unsafe-eval'${development}`,
    "style-src 'self' 'unsafe-inline'",
    "img-src 'self' data: blob:",
    "font-src 'self' data:",
    "connect-src 'self'",
    "worker-src 'self' blob:",
    "object-src 'none'",
    "base-uri 'none'",
    "form-action 'self'",
    "frame-ancestors 'none'",
  ].join('; ')
}

const withPolicy = (answer: NextResponse, policy: string): NextResponse => {
  answer.headers.set('content-security-policy', policy)
  return answer
}

export async function proxy(request: NextRequest): Promise<NextResponse> {
  const { pathname, search } = request.nextUrl
  const nonce = crypto.randomUUID().replaceAll('-', '')
  const policy = policyWith(nonce)
  const refused = await refusal(request, pathname, request.cookies.get(sessionCookie)?.value ?? null)
  if (refused === null) {
    // The framework takes the nonce for its own scripts from the policy of the request.
    const headers = new Headers(request.headers)
    headers.set('content-security-policy', policy)
    return withPolicy(NextResponse.next({ request: { headers } }), policy)
  }
  const { status, message, hint } = refused
  if (pathname.startsWith('/api/')) return withPolicy(NextResponse.json({ message, detail: '', hint }, { status }), policy)
  if (status === 403) return withPolicy(new NextResponse(`${message}\n${hint}`, { status }), policy)
  // The address people use, which a proxy in front may hide from the server.
  const signIn = new URL('/sign-in', ownOrigin(request.headers.get('host') ?? '') ?? request.nextUrl.origin)
  if (pathname !== '/') signIn.searchParams.set('to', `${pathname}${search}`)
  return withPolicy(NextResponse.redirect(signIn), policy)
}

export const config = { matcher: ['/((?!api/scripts|_next/static).*)'] }
