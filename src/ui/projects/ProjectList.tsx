import Link from 'next/link'
import { amount } from '../../core/text/amount.ts'
import { timeText } from '../common/time.ts'

export interface ProjectCard {
  readonly id: string
  readonly name: string
  readonly source: string | null
  readonly surveyedAt: string | null
  readonly relations: number | null
  readonly entries: number
  readonly createdBy: string
  /** Null where that is not known. */
  readonly waits: number | null
  /** Entry that the last seal was made at; null before the first. */
  readonly sealed: number | null
  readonly plan: { readonly number: number; readonly title: string } | null
  /** Null where no environment was looked at. */
  readonly drift: number | null
}

interface Props {
  readonly projects: readonly ProjectCard[]
  /** May whoever looks at it make one? */
  readonly mayAdd: boolean
}

function waitsText(p: ProjectCard) {
  if (p.surveyedAt === null) return 'not surveyed yet'
  if (p.waits === null) return null
  return p.waits === 0 ? (
    <span className="text-settled">nothing waits</span>
  ) : (
    <span className="font-semibold text-needs">{amount(p.waits, 'question waits', 'questions wait')}</span>
  )
}

/** How far the review is, what was planned last, and what differs elsewhere. */
function standing(p: ProjectCard) {
  const since = p.sealed === null ? 0 : p.entries - p.sealed
  return (
    <>
      <span>
        {p.sealed === null
          ? `${amount(p.entries, 'entry', 'entries')}, not sealed yet`
          : since === 0
            ? `sealed at ${p.sealed}`
            : `sealed at ${p.sealed}, ${amount(since, 'entry', 'entries')} since`}
      </span>
      {p.plan ? (
        <span className="break-words">
          last plan <span className="db">{String(p.plan.number).padStart(4, '0')}</span> {p.plan.title}
        </span>
      ) : null}
      {p.drift === null ? null : p.drift === 0 ? (
        <span>no drift</span>
      ) : (
        <span className="text-needs">▲ {amount(p.drift, 'difference')} in its environments</span>
      )}
    </>
  )
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
              <Link
                href={`/p/${p.id}/${p.surveyedAt === null ? 'source' : 'review'}`}
                className="grid grid-cols-[minmax(0,1fr)_auto] gap-x-6 gap-y-0.5 px-2 py-4 hover:bg-card"
              >
                <span className="font-serif text-lg font-semibold break-words">{p.name}</span>
                <span className="text-right">{waitsText(p)}</span>
                <span className="db truncate text-soft">{p.source}</span>
                <span className="text-right text-soft">
                  {p.surveyedAt === null ? `made by ${p.createdBy}` : `${amount(p.relations ?? 0, 'relation')}, read ${timeText(p.surveyedAt)}`}
                </span>
                {p.surveyedAt === null ? null : <span className="col-span-full mt-1 flex flex-wrap gap-x-4 text-soft">{standing(p)}</span>}
              </Link>
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}
