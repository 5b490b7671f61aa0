// Threads of projects: each project in use has one of its own, so that what takes long or does not end in one stops no other. The web
// server itself computes nothing.
import { join } from 'node:path'
import { Worker } from 'node:worker_threads'
import { Told } from '../../core/text/told.ts'
import { log } from '../log.ts'
import { type FromThread, type Outcome, signalMark, type ToThread } from './messages.ts'

/** Projects that can be worked on at once. */
const most = 6
/** One that nobody asks anything is let go, with all it keeps in memory. */
const idleFor = 10 * 60_000

/** Seconds that a thread may compute without coming up for air; PELVOK_TIME_LIMIT. */
export function timeLimit(): number {
  const given = Number(process.env['PELVOK_TIME_LIMIT'] ?? '')
  return given > 0 ? given : 60
}

interface Waiting {
  readonly resolve: (value: unknown) => void
  readonly reject: (error: Error) => void
}

interface Thread {
  readonly key: string
  readonly worker: Worker
  readonly calls: Map<number, Waiting>
  readonly beat: Int32Array
  /** Calls that have it, also those that are not sent yet. */
  held: number
  seen: { readonly count: number; readonly at: number }
  lastAsked: number
  /** Why it was ended; null while it runs. */
  ended: Error | null
}

class Fault extends Error {
  constructor(message: string, stack: string) {
    super(message)
    this.stack = stack
  }
}

export class Threads {
  readonly #threads = new Map<string, Thread>()
  readonly #queue: (() => void)[] = []
  readonly #file: string
  readonly #megabytes: number
  #next = 1

  /** `file`: the thread's program; `megabytes`: what each may take of memory. */
  constructor(file: string, megabytes = 2048) {
    this.#file = file
    this.#megabytes = megabytes
    setInterval(() => this.#watch(), 500).unref()
  }

  /**
   * Runs a case in the thread of `key`. Throws Told where the case does, or where it takes too long or too much memory; an AbortError
   * where a signal among the arguments aborts.
   */
  async call(key: string, name: string, args: readonly unknown[], transfer: readonly ReadableStream[] = []): Promise<unknown> {
    const thread = await this.#threadOf(key)
    const call = this.#next++
    const signal = args.find((a) => a instanceof AbortSignal) as AbortSignal | undefined
    const abort = () => thread.worker.postMessage({ abort: call } satisfies ToThread)
    signal?.addEventListener('abort', abort, { once: true })
    try {
      signal?.throwIfAborted()
      if (thread.ended) throw thread.ended
      return await new Promise((resolve, reject) => {
        if (thread.calls.size === 0) thread.seen = { count: Atomics.load(thread.beat, 0), at: performance.now() }
        thread.calls.set(call, { resolve, reject })
        thread.lastAsked = performance.now()
        thread.worker.postMessage({ call, name, args: args.map((a) => (a instanceof AbortSignal ? signalMark : a)) } satisfies ToThread, [
          ...transfer,
        ] as unknown as Parameters<Worker['postMessage']>[1])
      })
    } finally {
      signal?.removeEventListener('abort', abort)
      thread.calls.delete(call)
      thread.held -= 1
      thread.lastAsked = performance.now()
      if (thread.held === 0) this.#queue.shift()?.()
    }
  }

  /** Ends the thread of a key that is not asked again. */
  end(key: string): void {
    const thread = this.#threads.get(key)
    if (thread) this.#stop(thread, new Error('it was ended'))
  }

  async #threadOf(key: string): Promise<Thread> {
    for (;;) {
      const thread = this.#threads.get(key) ?? (this.#threads.size < most || this.#letOneGo() ? this.#start(key) : null)
      if (thread) {
        thread.held += 1
        return thread
      }
      await new Promise<void>((resolve) => {
        this.#queue.push(resolve)
      })
    }
  }

  #letOneGo(): boolean {
    const idle = [...this.#threads.values()].filter((t) => t.held === 0).sort((a, b) => a.lastAsked - b.lastAsked)[0]
    if (idle) this.#stop(idle, new Error('it was ended'))
    return idle !== undefined
  }

  #start(key: string): Thread {
    const shared = new SharedArrayBuffer(4)
    // Not one of the application's own files: it is built beside it, and found at run time.
    const worker = new Worker(/* turbopackIgnore: true */ this.#file, {
      workerData: { beat: shared },
      resourceLimits: { maxOldGenerationSizeMb: this.#megabytes },
    })
    worker.unref()
    const thread: Thread = {
      key,
      worker,
      calls: new Map(),
      beat: new Int32Array(shared),
      held: 0,
      seen: { count: 0, at: performance.now() },
      lastAsked: performance.now(),
      ended: null,
    }
    this.#threads.set(key, thread)
    worker.on('message', (m: FromThread) => settle(thread.calls.get(m.call), m.outcome))
    worker.on('error', (error: Error & { code?: string }) => {
      if (error.code !== 'ERR_WORKER_OUT_OF_MEMORY') log.error({ message: error.message, stack: error.stack ?? null, key }, 'thread')
      this.#stop(thread, error.code === 'ERR_WORKER_OUT_OF_MEMORY' ? tooMuch(this.#megabytes) : error)
    })
    worker.on('exit', () => this.#stop(thread, new Error('the thread of this project ended')))
    return thread
  }

  /** Ends threads that count no further, and those that nobody asked for long. */
  #watch(): void {
    const now = performance.now()
    for (const t of this.#threads.values()) {
      const count = Atomics.load(t.beat, 0)
      if (count !== t.seen.count) t.seen = { count, at: now }
      if (t.calls.size > 0 && now - t.seen.at > timeLimit() * 1000) {
        log.error({ key: t.key, seconds: timeLimit() }, 'a thread took too long')
        this.#stop(t, tooLong())
      } else if (t.held === 0 && now - t.lastAsked > idleFor) this.#stop(t, new Error('it was ended'))
    }
  }

  #stop(thread: Thread, why: Error): void {
    if (this.#threads.get(thread.key) === thread) this.#threads.delete(thread.key)
    thread.ended ??= why
    void thread.worker.terminate()
    for (const { reject } of thread.calls.values()) reject(why)
    thread.calls.clear()
    this.#queue.shift()?.()
  }
}

function settle(waiting: Waiting | undefined, m: Outcome): void {
  if (!waiting) return
  if (m.is === 'done') waiting.resolve(m.value)
  else if (m.is === 'told') waiting.reject(new Told(m.words, m.status))
  else if (m.is === 'aborted') waiting.reject(new DOMException('This operation was aborted', 'AbortError'))
  else waiting.reject(new Fault(m.message, m.stack))
}

const tooLong = () =>
  new Told(
    {
      message: `this took longer than ${timeLimit()} seconds and was ended`,
      detail: 'Other projects are not held up by it, and nothing that was entered is lost.',
      hint: 'Take part of the schema out under Scope, or start Pelvok with a larger PELVOK_TIME_LIMIT (in seconds).',
    },
    503,
  )

const tooMuch = (megabytes: number) =>
  new Told(
    {
      message: `this took more than ${megabytes} MB of memory and was ended`,
      detail: 'Other projects are not held up by it, and nothing that was entered is lost.',
      hint: 'Take part of the schema out under Scope.',
    },
    503,
  )

const kept = Symbol.for('pelvok.threads')

/** Those of this process: however often the framework loads this module, there is one set of threads. */
export function threads(): Threads {
  const holder = globalThis as { [kept]?: Threads }
  holder[kept] ??= new Threads(join(process.cwd(), 'dist', 'thread.js'))
  return holder[kept]
}
