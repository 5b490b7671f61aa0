import { apart } from '../../../../server/apart/index.ts'
import { guarded, refuse } from '../../_http.ts'

/** A zip as a download named after the project. `gated`: made of what is sealed only. */
export const archiveResponse = (
  params: Promise<{ id: string }>,
  what: string,
  gated: boolean,
  make: (projectId: string) => Promise<Uint8Array | null>,
): Promise<Response> =>
  guarded(async () => {
    const { id } = await params
    const no = gated ? await apart.shut(id) : null
    if (no) return refuse(409, no.message, no.hint)
    const bytes = await make(id)
    if (!bytes) return refuse(409, `there is no ${what} yet`, 'Survey the source first.')
    return new Response(new Uint8Array(bytes), {
      headers: { 'content-type': 'application/zip', 'content-disposition': `attachment; filename="${id}-${what}.zip"` },
    })
  })
