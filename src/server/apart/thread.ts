// A project's own thread: it answers calls, keeps what it read in memory, and shows that it is alive by counting.
import { parentPort, workerData } from 'node:worker_threads'
import { isTold } from '../../core/text/told.ts'
import { cases } from './cases.ts'
import { type FromThread, isSignalMark, type Outcome, type ToThread } from './messages.ts'

const port = parentPort
if (!port) throw new Error('this runs in a thread of the web server')

const beat = new Int32Array((workerData as { beat: SharedArrayBuffer }).beat)
setInterval(() => Atomics.add(beat, 0, 1), 200)

const running = new Map<number, AbortController>()
const known: Readonly<Record<string, (...args: never[]) => unknown>> = cases

async function outcomeOf(name: string, args: readonly unknown[], signal: AbortSignal): Promise<Outcome> {
  const work = known[name]
  try {
    if (!work) throw new Error(`there is no case "${name}"`)
    const value = await work(...(args.map((a) => (isSignalMark(a) ? signal : a)) as never[]))
    return { is: 'done', value }
  } catch (error) {
    if (signal.aborted) return { is: 'aborted' }
    if (isTold(error)) return { is: 'told', words: error.words, status: error.status }
    return { is: 'fault', message: error instanceof Error ? error.message : String(error), stack: error instanceof Error ? (error.stack ?? '') : '' }
  }
}

port.on('message', (m: ToThread) => {
  if ('abort' in m) {
    running.get(m.abort)?.abort()
    return
  }
  const stop = new AbortController()
  running.set(m.call, stop)
  void outcomeOf(m.name, m.args, stop.signal).then((outcome) => {
    running.delete(m.call)
    port.postMessage({ call: m.call, outcome } satisfies FromThread)
  })
})
