// Every request but an upload passes here first; uploads check the same themselves, since what passes here is cut at 10 MB.
import { type NextRequest, NextResponse } from 'next/server'
import { foreign } from './app/_guard.ts'

export function proxy(request: NextRequest): NextResponse {
  const reason = foreign(request)
  return reason === null ? NextResponse.next() : new NextResponse(reason, { status: 403 })
}

export const config = { matcher: ['/((?!api/scripts).*)'] }
