/** Asked again so long after the server did not answer, or its store was away, in milliseconds. */
const again = 2000

/**
 * What the server keeps gzipped under a hash, unpacked here and parsed. `waits`: while the server or its store is away, which the page says.
 * Throws where there is no such thing.
 */
export async function fetched<T>(url: string, what: string, waits = true): Promise<T> {
  const response = await fetch(url).catch(() => null)
  if (waits && (response === null || response.status === 503)) {
    await new Promise((resolve) => setTimeout(resolve, again))
    return fetched(url, what)
  }
  if (!response?.ok) throw new Error(`the ${what} could not be fetched (${response?.status ?? 'no answer'})`)
  if (!response.body) throw new Error(`the ${what} came empty`)
  return JSON.parse(await new Response(response.body.pipeThrough(new DecompressionStream('gzip'))).text()) as T
}
