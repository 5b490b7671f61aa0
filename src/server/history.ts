// Snapshots of a project over time: when each was read and by whom, and which rulings have lost their subject since.
import type { Catalog, Reading } from '../core/catalog/index.ts'
import { lostSubjects, type RenameQuestion, renameQuestion, type SurveyCard, type SurveyLine, surveyCard } from '../core/lineage/index.ts'
import type { LedgerEntry } from '../core/model/index.ts'
import { listSurveys, readProjectNow } from '../store/index.ts'
import { catalogOf } from './catalogs.ts'

/** Newest first. */
export async function readHistory(projectId: string): Promise<readonly SurveyLine[]> {
  const surveys = await listSurveys(projectId)
  return surveys.map((s, i) => {
    const reading = JSON.parse(s.reading) as Reading
    return {
      hash: s.hash,
      at: s.at.toISOString(),
      server: reading.server,
      user: reading.user,
      relations: s.relations,
      notReadable: reading.notReadable.length,
      unmodelled: s.unmodelled,
      same: surveys[i + 1]?.hash === s.hash,
    }
  })
}

/** Nothing is inferred for it: it is there also where inference does not end. Null before the first survey. */
export async function readSourceReading(projectId: string): Promise<SurveyCard | null> {
  const survey = (await readProjectNow(projectId))?.survey
  if (!survey) return null
  const catalog = await catalogOf(survey.hash)
  return surveyCard(survey.hash, survey.at.toISOString(), catalog, JSON.parse(survey.reading) as Reading)
}

/** How many different snapshots are looked into for a subject that is gone. */
const depth = 10

/** Rulings whose subject is gone, with what it may be called now: compared with the last snapshot that had it. */
async function readRenameQuestions(projectId: string, current: Catalog, entries: readonly LedgerEntry[]): Promise<readonly RenameQuestion[]> {
  let lost = lostSubjects(current, entries)
  if (lost.length === 0) return []
  const found: RenameQuestion[] = []
  const hashes = [...new Set((await listSurveys(projectId)).map((s) => s.hash))].slice(1, depth + 1)
  for (const hash of hashes) {
    const was = await catalogOf(hash)
    const answered = lost.map((l) => ({ l, q: renameQuestion(l, was, current) }))
    found.push(...answered.flatMap(({ q }) => q ?? []))
    lost = answered.filter(({ q }) => q === null).map(({ l }) => l)
    if (lost.length === 0) break
  }
  return [...found, ...lost.map((l) => ({ ...l, candidates: [] }))].sort((a, b) => (a.subject < b.subject ? -1 : 1))
}

/** For the review's page; empty before the first survey. */
export async function renameQuestionsOf(projectId: string): Promise<readonly RenameQuestion[]> {
  const now = await readProjectNow(projectId)
  if (!now?.survey || now.entries.length === 0) return []
  return readRenameQuestions(projectId, await catalogOf(now.survey.hash), now.entries)
}
