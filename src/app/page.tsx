import { waitsIn } from '../server/first.ts'
import { listProjects } from '../server/projects.ts'
import { HomeBar } from '../ui/frame/HomeBar.tsx'
import { ProjectList } from '../ui/projects/ProjectList.tsx'
import { identity, signed } from './_identity.ts'

export default async function Page() {
  const [projects, who] = await Promise.all([listProjects(), identity()])
  return (
    <>
      <HomeBar who={signed(who)} />
      <main className="flex-1 overflow-auto">
        <ProjectList
          mayAdd={who.role === null || who.role === 'owner'}
          projects={projects.map((p) => ({
            id: p.id,
            name: p.name,
            source: p.source,
            surveyedAt: p.surveyedAt?.toISOString() ?? null,
            relations: p.relations,
            entries: p.entries,
            createdBy: p.createdBy,
            waits: waitsIn(p),
            sealed: p.sealed,
            plan: p.plan,
            drift: p.drift,
          }))}
        />
      </main>
    </>
  )
}
