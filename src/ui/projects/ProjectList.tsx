import Link from 'next/link'
import { timeText } from '../common/time.ts'

export interface ProjectCard {
  readonly id: string
  readonly name: string
  readonly source: string | null
  readonly surveyedAt: string | null
  readonly relations: number | null
  readonly entries: number
  readonly createdBy: string
}

interface Props {
  readonly projects: readonly ProjectCard[]
  /** May whoever looks at it make one? */
  readonly mayAdd: boolean
}

export function ProjectList({ projects, mayAdd }: Props) {
  return (
    <div className="mx-auto max-w-4xl px-6 py-8">
      <div className="flex items-baseline gap-4">
        <h1 className="text-2xl">Projects</h1>
        <span className="text-soft">one project per database</span>
        {mayAdd ? (
          <Link href="/projects/new" className="btn btn-sm btn-primary ml-auto">
            New project
          </Link>
        ) : null}
      </div>
      {projects.length === 0 ? (
        <p className="mt-8 font-serif text-lg">
          {mayAdd ? 'No project yet. Make one from a database, a script or a file; it is only read.' : 'No project yet. An owner can make one.'}
        </p>
      ) : (
        <ul className="mt-5 border-t border-ink">
          {projects.map((p) => (
            <li key={p.id} className="border-b border-rule">
              {/* Straight to its stage: whoever goes on at once would be called back by a redirect that comes later. */}
              <Link href={`/p/${p.id}/${p.surveyedAt === null ? 'source' : 'review'}`} className="grid grid-cols-[1fr_auto] gap-x-6 px-2 py-4 hover:bg-card">
                <span className="font-serif text-lg font-semibold">{p.name}</span>
                <span className="text-right">{p.relations === null ? 'not surveyed yet' : `${p.relations} relations`}</span>
                <span className="db text-soft">{p.source}</span>
                <span className="text-right text-soft">
                  {p.surveyedAt === null ? `made by ${p.createdBy}` : `read ${timeText(p.surveyedAt)} · ledger ${p.entries}`}
                </span>
              </Link>
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}
