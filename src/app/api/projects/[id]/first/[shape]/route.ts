import { apart } from '../../../../../../server/apart/index.ts'
import { keptFirst } from '../../../../../../server/first.ts'
import { shaped } from '../../_shaped.ts'

/** What is shown of a review first. */
export const GET = (_: Request, { params }: { params: Promise<{ id: string; shape: string }> }): Promise<Response> =>
  shaped(params, async (id, shape) => (await keptFirst(id, shape)) ?? apart.makeFirst(id, shape))
