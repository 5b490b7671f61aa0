// Every request but an upload passes here first; uploads check the same themselves, since what passes here is cut at 10 MB.
import { type NextRequest, NextResponse } from 'next/server'
import { type Refused, refusal, sessionCookie } from './app/_access.ts'
import { ownOrigin } from './app/_guard.ts'
import { isTold, type Told } from './core/text/told.ts'

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

const escaped = (text: string) => text.replaceAll('&', '&amp;').replaceAll('<', '&lt;')

/** A page without anything of the framework's, which asks again by itself. */
function awayPage({ words, status }: Told): NextResponse {
  const sentence = (text: string) => escaped(text.charAt(0).toUpperCase() + text.slice(1))
  const page = `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>Pelvok</title><meta name="viewport" content="width=device-width">
<style>body{font:17px/1.5 Georgia,serif;margin:18vh auto;max-width:34rem;padding:0 1.5rem;color:#1c1a17;background:#f7f4ee}h1{font-size:1.5rem}</style></head>
<body><main><h1>${sentence(words.message)}</h1><p>${sentence(words.detail)}</p><p>${sentence(words.hint)}</p><p>This page asks again every five seconds.</p></main></body></html>`
  return new NextResponse(page, {
    status,
    headers: { 'content-type': 'text/html; charset=utf-8', refresh: '5', 'retry-after': '5', 'cache-control': 'no-store' },
  })
}

const withPolicy = (answer: NextResponse, policy: string): NextResponse => {
  answer.headers.set('content-security-policy', policy)
  // As next.config.ts has them for what is routed; an answer from here is not.
  for (const [name, value] of [
    ['x-content-type-options', 'nosniff'],
    ['referrer-policy', 'same-origin'],
    ['x-frame-options', 'DENY'],
  ] as const)
    answer.headers.set(name, value)
  return answer
}

export async function proxy(request: NextRequest): Promise<NextResponse> {
  const { pathname, search } = request.nextUrl
  const nonce = crypto.randomUUID().replaceAll('-', '')
  const policy = policyWith(nonce)
  let refused: Refused | null
  try {
    refused = await refusal(request, pathname, request.cookies.get(sessionCookie)?.value ?? null)
  } catch (error) {
    // Who may do what stands in the store: while it is away, nobody may do anything.
    if (isTold(error)) return withPolicy(pathname.startsWith('/api/') ? NextResponse.json(error.words, { status: error.status }) : awayPage(error), policy)
    throw error
  }
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
