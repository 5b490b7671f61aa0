import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest'
import { isTold } from '../../core/text/told.ts'
import { Threads } from './threads.ts'

/** A thread's program that does what the call is named after, on the real ways between threads. */
const program = `
import { parentPort, workerData } from 'node:worker_threads'
const beat = new Int32Array(workerData.beat)
setInterval(() => Atomics.add(beat, 0, 1), 20)
const answer = (call, outcome) => parentPort.postMessage({ call, outcome })
const stops = new Map()
parentPort.on('message', (m) => {
  if ('abort' in m) { stops.get(m.abort)?.(); return }
  const { call, name, args } = m
  if (name === 'echo') answer(call, { is: 'done', value: args })
  else if (name === 'told') answer(call, { is: 'told', words: { message: 'no', detail: '', hint: 'ask again' }, status: 409 })
  else if (name === 'fault') answer(call, { is: 'fault', message: 'broken', stack: 'at: somewhere' })
  else if (name === 'wait') stops.set(call, () => answer(call, { is: 'aborted' }))
  else if (name === 'forever') for (;;);
  else if (name === 'exit') process.exit(3)
  else if (name === 'eat') { const all = []; for (;;) all.push(new Array(1000).fill(call)) }
})
`

const dir = mkdtempSync(join(tmpdir(), 'pelvok-threads-'))
const file = join(dir, 'thread.mjs')
beforeAll(() => writeFileSync(file, program))
afterAll(() => rmSync(dir, { recursive: true }))
afterEach(() => {
  delete process.env['PELVOK_TIME_LIMIT']
})

const failing = (work: Promise<unknown>) =>
  work.then(
    () => null,
    (error: unknown) => error,
  )

describe('threads of projects', () => {
  it('run a case, and give its answer or what it tells', async () => {
    const threads = new Threads(file)
    expect(await threads.call('a', 'echo', ['a', 1, new Uint8Array([1, 2])])).toEqual(['a', 1, new Uint8Array([1, 2])])
    const told = await failing(threads.call('a', 'told', []))
    expect(isTold(told) && [told.words.hint, told.status]).toEqual(['ask again', 409])
    expect(await failing(threads.call('a', 'fault', []))).toMatchObject({ message: 'broken', stack: 'at: somewhere' })
    threads.end('a')
  })

  it('end one that comes up no more, and tell it; others go on, and the next call gets a new one', async () => {
    process.env['PELVOK_TIME_LIMIT'] = '1'
    const threads = new Threads(file)
    const hangs = failing(threads.call('a', 'forever', []))
    const behind = failing(threads.call('a', 'echo', [1]))
    expect(await threads.call('b', 'echo', [2])).toEqual([2])
    for (const error of await Promise.all([hangs, behind])) expect(isTold(error) && error.words.message).toBe('this took longer than 1 seconds and was ended')
    process.env['PELVOK_TIME_LIMIT'] = '60'
    expect(await threads.call('a', 'echo', [3])).toEqual([3])
    for (const key of ['a', 'b']) threads.end(key)
  })

  it('tell one that takes too much memory, and one that ends', async () => {
    const threads = new Threads(file, 64)
    const error = await failing(threads.call('a', 'eat', []))
    expect(isTold(error) && error.words.message).toContain('of memory and was ended')
    expect(await failing(threads.call('a', 'exit', []))).toMatchObject({ message: 'the thread of this project ended' })
    expect(await threads.call('a', 'echo', [1])).toEqual([1])
    threads.end('a')
  })

  it('pass an abort on', async () => {
    const threads = new Threads(file)
    const stop = new AbortController()
    const waits = failing(threads.call('a', 'wait', [stop.signal]))
    await threads.call('a', 'echo', [])
    stop.abort()
    expect(await waits).toMatchObject({ name: 'AbortError' })
    threads.end('a')
  })

  it('let more projects than there are threads wait for their turn', async () => {
    const threads = new Threads(file)
    const stop = new AbortController()
    const busy = Array.from({ length: 6 }, (_, i) => failing(threads.call(`busy ${i}`, 'wait', [stop.signal])))
    const seventh = threads.call('seventh', 'echo', [7])
    const first = await Promise.race([seventh, threads.call('busy 0', 'echo', ['known'])])
    expect(first).toEqual(['known'])
    stop.abort()
    expect(await seventh).toEqual([7])
    await Promise.all(busy)
    for (let i = 0; i < 6; i++) threads.end(`busy ${i}`)
    threads.end('seventh')
  })
})
