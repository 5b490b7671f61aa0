// One stream of a project's events for a whole browser, whatever number of tabs: one tab leads and holds it, and passes on what it says. A
// browser has six connections to a server (RFC 9112, 9.4). The stream comes back by itself when it breaks, and the page says so meanwhile.
import type { ProjectEvent } from './job.ts'

type Listener = (event: ProjectEvent) => void

/** What tabs say to each other. */
type Said =
  | { readonly type: 'event'; readonly event: ProjectEvent }
  | { readonly type: 'lost'; readonly lost: boolean }
  /** How do things stand? Answered by the one that leads. */
  | { readonly type: 'come' }

interface Stream {
  readonly listeners: Set<Listener>
  readonly channel: BroadcastChannel | null
  /** Ends the wait for leading, or the lead. */
  readonly left: AbortController
  /** Of the tab that leads. */
  source: EventSource | null
  again: ReturnType<typeof setTimeout> | null
  lost: boolean
  /** What tells somebody who comes how things stand: the last of each job, and the head of the ledger. */
  readonly standing: Map<string, ProjectEvent>
}

const streams = new Map<string, Stream>()
/** Who is told whether a project's stream is broken; they open none. */
const watchers = new Map<string, Set<(lost: boolean) => void>>()
const firstWait = 1000
const longestWait = 10_000

function setLost(projectId: string, stream: Stream, lost: boolean): void {
  if (stream.lost === lost) return
  stream.lost = lost
  for (const watch of watchers.get(projectId) ?? []) watch(lost)
}

/** Of a ledger only where it ends is kept: whoever comes asks for what they miss. */
const kept = (event: ProjectEvent): ProjectEvent => (event.type === 'ledger' ? { ...event, entries: [] } : event)
const keyOf = (event: ProjectEvent): string => (event.type === 'ledger' ? 'ledger' : event.job.kind)

function hear(stream: Stream, event: ProjectEvent): void {
  stream.standing.set(keyOf(event), kept(event))
  for (const listener of stream.listeners) listener(event)
}

const say = (stream: Stream, said: Said) => stream.channel?.postMessage(said)

/** Opens the stream, as the one tab that does. */
function lead(projectId: string, stream: Stream, wait = firstWait): void {
  const source = new EventSource(`/api/projects/${projectId}/events`)
  stream.source = source
  const tell = (lost: boolean) => {
    say(stream, { type: 'lost', lost })
    setLost(projectId, stream, lost)
  }
  source.onopen = () => tell(false)
  source.onmessage = (message) => {
    const event = JSON.parse(message.data as string) as ProjectEvent
    say(stream, { type: 'event', event })
    hear(stream, event)
  }
  source.onerror = () => {
    tell(true)
    // An answer that is no stream closes it for good (HTML standard, 9.2.3): it is opened anew.
    if (source.readyState !== EventSource.CLOSED || stream.left.signal.aborted) return
    stream.again = setTimeout(() => lead(projectId, stream, Math.min(wait * 2, longestWait)), wait)
  }
}

/** Leads once no other tab does: whoever holds the lock does (Web Locks API). Where there are no locks, at once. */
function leadInTurn(projectId: string, stream: Stream): void {
  const name = `pelvok-events ${projectId}`
  const { signal } = stream.left
  if (stream.channel === null) return lead(projectId, stream)
  const until = new Promise<void>((resolve) => signal.addEventListener('abort', () => resolve(), { once: true }))
  navigator.locks
    .request(name, { signal }, () => {
      if (!signal.aborted) lead(projectId, stream)
      return until
    })
    .catch(() => {
      // Left before it was its turn.
    })
}

function streamOf(projectId: string): Stream {
  const known = streams.get(projectId)
  if (known) return known
  // Locks exist in secure contexts only: elsewhere each tab has its own stream.
  const channel = 'locks' in navigator ? new BroadcastChannel(`pelvok-events ${projectId}`) : null
  const stream: Stream = { listeners: new Set(), channel, left: new AbortController(), source: null, again: null, lost: false, standing: new Map() }
  streams.set(projectId, stream)
  if (channel) {
    channel.onmessage = ({ data }: MessageEvent<Said>) => {
      if (data.type === 'event') hear(stream, data.event)
      else if (data.type === 'lost') setLost(projectId, stream, data.lost)
      else if (stream.source !== null) {
        say(stream, { type: 'lost', lost: stream.lost })
        for (const event of stream.standing.values()) say(stream, { type: 'event', event })
      }
    }
    say(stream, { type: 'come' })
  }
  leadInTurn(projectId, stream)
  return stream
}

function closeUnheard(projectId: string, stream: Stream): void {
  if (stream.listeners.size > 0 || streams.get(projectId) !== stream) return
  streams.delete(projectId)
  if (stream.again !== null) clearTimeout(stream.again)
  stream.left.abort()
  stream.source?.close()
  stream.channel?.close()
  setLost(projectId, stream, false)
}

/** Hear a project's events until the function that is given back is called. How things stand is told first. */
export function follow(projectId: string, listener: Listener): () => void {
  const stream = streamOf(projectId)
  stream.listeners.add(listener)
  // What the page's other views have heard already.
  for (const event of stream.standing.values()) listener(event)
  return () => {
    stream.listeners.delete(listener)
    // Not at once: one view of the page may go just before the next one comes.
    setTimeout(() => closeUnheard(projectId, stream), 0)
  }
}

/** Be told when the stream breaks and when it is back; on a page that follows nothing there is none. */
export function watchConnection(projectId: string, watch: (lost: boolean) => void): () => void {
  const all = watchers.get(projectId) ?? new Set()
  watchers.set(projectId, all.add(watch))
  if (streams.get(projectId)?.lost) watch(true)
  return () => {
    all.delete(watch)
  }
}
