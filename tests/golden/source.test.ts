// What is in src/ works for any schema: no name of a demo object occurs there, not even in a comment.
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, it } from 'vitest'
import { decodeCatalog } from '../../src/core/catalog/index.ts'

/** Words that the code needs for other reasons: SQL's and HTTP's own. */
const commonWords = new Set(['order', 'attachment', 'field'])

describe('the source', () => {
  it('lets the web server compute nothing by itself: what does runs in the thread of a project', () => {
    const cases = [...readFileSync('src/server/apart/cases.ts', 'utf8').matchAll(/^ {2}(\w+),$/gm)].map((m) => m[1])
    expect(cases.length).toBeGreaterThan(30)
    const direct = new RegExp(`import \\{[^}]*\\b(${cases.join('|')}|baseFor|readProjectReview|resolvePlan)\\b[^}]*\\} from '[./]*server/(?!apart/)`)
    const files = readdirSync('src/app', { recursive: true, encoding: 'utf8' }).filter((f) => /\.tsx?$/.test(f))
    expect(files.filter((f) => direct.test(readFileSync(join('src/app', f), 'utf8')))).toEqual([])
  })

  it('names no object of the demo', () => {
    const c = decodeCatalog(JSON.parse(readFileSync(join(import.meta.dirname, 'coop', 'input.json'), 'utf8')))
    const names = [...c.schemas.filter((s) => s.name !== 'public'), ...c.relations, ...c.enums, ...c.domains, ...c.composites, ...c.routines, ...c.sequences]
      .map((o) => o.name)
      .filter((n) => !commonWords.has(n))
    expect(names.length).toBeGreaterThan(40)
    const pattern = new RegExp(`(?<![\\w$])(${names.join('|')})(?![\\w$])`, 'i')
    const files = readdirSync('src', { recursive: true, encoding: 'utf8' }).filter((f) => /\.(ts|tsx|css|sql)$/.test(f))
    expect(files.length).toBeGreaterThan(100)
    expect(
      files.flatMap((f) =>
        readFileSync(join('src', f), 'utf8')
          .split('\n')
          .flatMap((line, i) => (pattern.test(line) ? [`${f}:${i + 1} ${line.trim()}`] : [])),
      ),
    ).toEqual([])
  })
})
