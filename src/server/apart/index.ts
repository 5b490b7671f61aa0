// The web server's way to what computes: the same functions as in `cases.ts`, each run in the thread of the project it is about.
import type { ScriptAnswer, ScriptInput } from '../scripts.ts'
import type { Cases } from './cases.ts'
import { threads } from './threads.ts'

type ByProject = Omit<Cases, 'openScript'>

/** Where a function gives bytes, they arrive as a Uint8Array. */
export const apart = new Proxy({} as ByProject, {
  get:
    (_, name: string) =>
    (projectId: string, ...rest: readonly unknown[]) =>
      threads().call(projectId, name, [projectId, ...rest]),
})

/** What is shown first of a project that was just surveyed. Its thread goes with it: others open the review. */
export async function makeReadyApart(projectId: string): Promise<void> {
  try {
    await threads().call(projectId, 'makeReady', [projectId])
  } finally {
    threads().end(projectId)
  }
}

/** A script is nobody's project yet: it is read in a thread of its own, which goes with it. */
export async function openScriptApart(input: ScriptInput, body: ReadableStream<Uint8Array>, by: string): Promise<ScriptAnswer> {
  const key = `script ${crypto.randomUUID()}`
  try {
    return (await threads().call(key, 'openScript', [input, body, by], [body])) as ScriptAnswer
  } finally {
    threads().end(key)
  }
}
