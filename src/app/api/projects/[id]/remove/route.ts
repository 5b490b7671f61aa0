import { removal, removeProject } from '../../../../../server/projects.ts'
import { outcome } from '../../../_http.ts'

export const POST = async (request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> => {
  const { id } = await params
  return outcome(request, removal, ({ typed }) => removeProject(id, typed))
}
