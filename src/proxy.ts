// Every request but an upload passes here first; uploads check the same themselves, since what passes here is cut at 10 MB.
import { type NextRequest, NextResponse } from 'next/server'
import { refusal, sessionCookie } from './app/_access.ts'
import { ownOrigin } from './app/_guard.ts'

export async function proxy(request: NextRequest): Promise<NextResponse> {
  const { pathname, search } = request.nextUrl
  const refused = await refusal(request, pathname, request.cookies.get(sessionCookie)?.value ?? null)
  if (refused === null) return NextResponse.next()
  const { status, message, hint } = refused
  if (pathname.startsWith('/api/')) return NextResponse.json({ message, detail: '', hint }, { status })
  if (status === 403) return new NextResponse(`${message}\n${hint}`, { status })
  // The address people use, which a proxy in front may hide from the server.
  const signIn = new URL('/sign-in', ownOrigin(request.headers.get('host') ?? '') ?? request.nextUrl.origin)
  if (pathname !== '/') signIn.searchParams.set('to', `${pathname}${search}`)
  return NextResponse.redirect(signIn)
}

export const config = { matcher: ['/((?!api/scripts|_next/static).*)'] }
