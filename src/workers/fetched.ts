/** What the server keeps gzipped under a hash, unpacked here and parsed. Throws where it cannot be had. */
export async function fetched<T>(url: string, what: string): Promise<T> {
  const response = await fetch(url)
  if (!response.ok) throw new Error(`the ${what} could not be fetched (${response.status})`)
  if (!response.body) throw new Error(`the ${what} came empty`)
  return JSON.parse(await new Response(response.body.pipeThrough(new DecompressionStream('gzip'))).text()) as T
}
