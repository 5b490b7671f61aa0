// One stream of a project's events for all that follow them on a page. It comes back by itself when it breaks, and says so meanwhile.
import type { ProjectEvent } from './job.ts'

type Listener = (event: ProjectEvent) => void

interface Stream {
  readonly listeners: Set<Listener>
  readonly watchers: Set<(lost: boolean) => void>
  source: EventSource
  again: ReturnType<typeof setTimeout> | null
  lost: boolean
}

const streams = new Map<string, Stream>()
const firstWait = 1000
const longestWait = 10_000

function open(projectId: string, stream: Stream, wait: number): EventSource {
  const source = new EventSource(`/api/projects/${projectId}/events`)
  const tell = (lost: boolean) => {
    if (stream.lost === lost) return
    stream.lost = lost
    for (const watch of stream.watchers) watch(lost)
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
  const stream: Stream = { listeners: new Set(), watchers: new Set(), again: null, lost: false } as unknown as Stream
  stream.source = open(projectId, stream, firstWait)
  streams.set(projectId, stream)
  return stream
}

function closeUnheard(projectId: string, stream: Stream): void {
  if (stream.listeners.size + stream.watchers.size > 0 || streams.get(projectId) !== stream) return
  streams.delete(projectId)
  if (stream.again !== null) clearTimeout(stream.again)
  stream.source.close()
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

/** Be told when the stream breaks and when it is back. */
export function watchConnection(projectId: string, watch: (lost: boolean) => void): () => void {
  const stream = streamOf(projectId)
  stream.watchers.add(watch)
  if (stream.lost) watch(true)
  return () => {
    stream.watchers.delete(watch)
    setTimeout(() => closeUnheard(projectId, stream), 0)
  }
}
