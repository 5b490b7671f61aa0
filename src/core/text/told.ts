// What went wrong though nothing is broken, in words for whoever asked: they cross threads, and reach the page through an error boundary.

/** What happened, to what exactly, and what to do; empty where there is nothing to say. */
export interface Words {
  readonly message: string
  readonly detail: string
  readonly hint: string
}

const mark = 'told:'

/** `status` is what an answer over HTTP has (RFC 9110, 15). */
export class Told extends Error {
  /** The one field of an error that the framework passes on to a browser. */
  readonly digest: string

  constructor(
    readonly words: Words,
    readonly status: number,
  ) {
    super(words.message)
    this.name = 'Told'
    this.digest = mark + JSON.stringify(words)
  }
}

/** Also one that another copy of this module made: a framework may load it several times in one process. */
export const isTold = (error: unknown): error is Told => error instanceof Error && toldBy((error as { readonly digest?: string }).digest) !== null

/** The words that a digest holds; null where it is none of ours. */
export function toldBy(digest: string | undefined): Words | null {
  if (!digest?.startsWith(mark)) return null
  try {
    const words: unknown = JSON.parse(digest.slice(mark.length))
    return isWords(words) ? words : null
  } catch {
    return null
  }
}

const isWords = (value: unknown): value is Words =>
  typeof value === 'object' && value !== null && ['message', 'detail', 'hint'].every((k) => typeof (value as Record<string, unknown>)[k] === 'string')
