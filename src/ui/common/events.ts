// One stream of a project's events for all that follow them on a page. It comes back by itself when it breaks, and says so meanwhile.
import type { ProjectEvent } from './job.ts'

type Listener = (event: ProjectEvent) => void

interface Stream {
  readonly listeners: Set<Listener>
  source: EventSource
  again: ReturnType<typeof setTimeout> | null
  lost: boolean
}

const streams = new Map<string, Stream>()
/** Who is told whether a project's stream is broken; they open none, as a browser has few connections (RFC 9112, 9.4). */
const watchers = new Map<string, Set<(lost: boolean) => void>>()
const firstWait = 1000
const longestWait = 10_000

function open(projectId: string, stream: Stream, wait: number): EventSource {
  const source = new EventSource(`/api/projects/${projectId}/events`)
  const tell = (lost: boolean) => {
    if (stream.lost === lost) return
    stream.lost = lost
    for (const watch of watchers.get(projectId) ?? []) watch(lost)
  }
  source.onopen = () => {
    // What came while it was broken is asked for; jobs the server tells of by itself.
    if (stream.lost) for (const hear of stream.listeners) hear({ type: 'ledger' })
    tell(false)
  }
  source.onmessage = (message) => {
    const event = JSON.parse(message.data as string) as ProjectEvent
    for (const hear of stream.listeners) hear(event)
  }
  source.onerror = () => {
    tell(true)
    // An answer that is no stream closes it for good (HTML standard, 9.2.3): it is opened anew.
    if (source.readyState !== EventSource.CLOSED) return
    stream.again = setTimeout(() => {
      stream.source = open(projectId, stream, Math.min(wait * 2, longestWait))
    }, wait)
  }
  return source
}

function streamOf(projectId: string): Stream {
  const known = streams.get(projectId)
  if (known) return known
  const stream: Stream = { listeners: new Set(), again: null, lost: false } as unknown as Stream
  stream.source = open(projectId, stream, firstWait)
  streams.set(projectId, stream)
  return stream
}

function closeUnheard(projectId: string, stream: Stream): void {
  if (stream.listeners.size > 0 || streams.get(projectId) !== stream) return
  streams.delete(projectId)
  if (stream.again !== null) clearTimeout(stream.again)
  stream.source.close()
  if (stream.lost) for (const watch of watchers.get(projectId) ?? []) watch(false)
}

/** Hear a project's events until the function that is given back is called. */
export function follow(projectId: string, hear: Listener): () => void {
  const stream = streamOf(projectId)
  stream.listeners.add(hear)
  return () => {
    stream.listeners.delete(hear)
    // Not at once: one view of the page may go just before the next one comes.
    setTimeout(() => closeUnheard(projectId, stream), 0)
  }
}

/** Be told when the page's stream breaks and when it is back; on a page that follows nothing there is none. */
export function watchConnection(projectId: string, watch: (lost: boolean) => void): () => void {
  const all = watchers.get(projectId) ?? new Set()
  watchers.set(projectId, all.add(watch))
  if (streams.get(projectId)?.lost) watch(true)
  return () => {
    all.delete(watch)
  }
}
