import { followProject } from '../../../../../server/feed.ts'
import { log } from '../../../../../server/log.ts'
import { refusal } from '../../../../_access.ts'
import { sessionToken } from '../../../../_identity.ts'

export const dynamic = 'force-dynamic'

/** A stream of server-sent events (HTML standard, 9.2): changes of the project's jobs and ledger. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const [{ id }, token] = await Promise.all([params, sessionToken()])
  const encoder = new TextEncoder()
  const stream = new ReadableStream<Uint8Array>({
    start(controller) {
      const send = (text: string) => {
        if (!request.signal.aborted) controller.enqueue(encoder.encode(text))
      }
      send(': open\n\n')
      // A comment now and then tells a proxy or a sleeping laptop that the stream lives.
      const gone = new AbortController()
      const beat = setInterval(() => {
        send(': beat\n\n')
        // Whoever signed out, or was removed, hears no more.
        void refusal(request, new URL(request.url).pathname, token).then(
          (refused) => refused && gone.abort(),
          () => gone.abort(),
        )
      }, 20_000)
      followProject(id, AbortSignal.any([request.signal, gone.signal]), (event) => send(`data: ${JSON.stringify(event)}\n\n`))
        .catch((error: unknown) => log.error({ message: error instanceof Error ? error.message : String(error) }, 'events'))
        .finally(() => {
          clearInterval(beat)
          try {
            controller.close()
          } catch {
            // The browser closed it first.
          }
        })
    },
  })
  return new Response(stream, { headers: { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' } })
}
