// Somebody who follows a project as a browser does, by its stream of events, and asks for what was missed.
interface LedgerEvent {
  readonly type: 'ledger'
  readonly entries: readonly { readonly seq: number; readonly by: string }[]
  readonly head: number
}

export interface Follower {
  /** The ledger as it is known here, by seq. */
  readonly ledger: ReadonlyMap<number, string>
  /** Follows at another server from now on. */
  readonly move: (url: string) => void
  readonly end: () => void
}

/** Comes back, to the server it is to be at then, whenever its stream ends. */
export function follower(project: string, at: string, headers: Readonly<Record<string, string>> = {}): Follower {
  const ledger = new Map<number, string>()
  let url = at
  let stop = new AbortController()
  let over = false
  const take = (entries: LedgerEvent['entries']) => {
    for (const e of entries) ledger.set(e.seq, JSON.stringify(e))
  }
  const missed = async (head: number): Promise<void> => {
    if (ledger.size >= head) return
    // Without gaps: what is known is the beginning, or is asked for anew.
    let known = 0
    while (ledger.has(known + 1)) known += 1
    const answer = await fetch(`${url}/api/projects/${project}/ledger?after=${known}`, { headers, signal: stop.signal })
    if (answer.ok) take(((await answer.json()) as LedgerEvent).entries)
  }
  const hear = async (line: string): Promise<void> => {
    if (!line.startsWith('data: ')) return
    const event = JSON.parse(line.slice('data: '.length)) as LedgerEvent | { readonly type: 'job' }
    if (event.type !== 'ledger') return
    take(event.entries)
    await missed(event.head)
  }
  const follow = async (): Promise<void> => {
    const answer = await fetch(`${url}/api/projects/${project}/events`, { headers, signal: stop.signal })
    let rest = ''
    const body = answer.body as unknown as AsyncIterable<Uint8Array> | null
    for await (const bytes of body ?? []) {
      const lines = (rest + Buffer.from(bytes).toString('utf8')).split('\n\n')
      rest = lines.pop() ?? ''
      for (const line of lines) await hear(line)
    }
  }
  const always = async (): Promise<void> => {
    while (!over) {
      stop = new AbortController()
      await follow().catch(() => {})
      await new Promise((resolve) => setTimeout(resolve, 100))
    }
  }
  void always()
  return {
    ledger,
    move: (to) => {
      url = to
      stop.abort()
    },
    end: () => {
      over = true
      stop.abort()
    },
  }
}
