import { apart } from '../../../../../../server/apart/index.ts'
import { keptFrame } from '../../../../../../server/first.ts'
import { shaped } from '../../_shaped.ts'

/** Where blocks and plates stand on the map of the findings with the key in `?of=`. */
export const GET = (request: Request, { params }: { params: Promise<{ id: string; shape: string }> }): Promise<Response> =>
  shaped(params, async (id, shape) => (await keptFrame(id, shape, new URL(request.url).searchParams.get('of') ?? '')) ?? apart.readFrame(id, shape))
