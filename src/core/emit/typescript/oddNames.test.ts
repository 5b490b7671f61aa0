// Names and texts that would show emitted code otherwise than it runs, or have nothing in them that a name could be made of.
import ts from 'typescript'
import { describe, expect, it } from 'vitest'
import { baselinePlan, upScript } from '../../change/index.ts'
import { readScript } from '../../ddl/index.ts'
import { postgresScript } from '../../dialect/postgres/script.ts'
import { review } from '../../review/index.ts'
import { emitTypeScript } from './index.ts'

describe('odd names are emitted as code that shows what it does', () => {
  it.each(['#', '%', '\nx', 'a\rb', 'a\u202eb', '\r\n', ' ', '`$\u007b1}`', "it's", '*/', '\u2066x'])('%j', (name) => {
    const q = `"${name.replaceAll('"', '""')}"`
    const text = `create table ${q} (id int primary key, ${q} text default 'a\u202eb'); comment on column ${q}.${q} is 'x\u202ey\r\nz */';`
    const { catalog, diagnostics } = readScript([{ name: 'a.sql', text }], postgresScript)
    expect(diagnostics).toEqual([])
    const r = review(catalog, '0'.repeat(64) as never, [])
    for (const f of emitTypeScript(r.model, r.revision)) {
      expect(f.text).not.toMatch(/[\u061c\u200e\u200f\u202a-\u202e\u2066-\u2069\r]/)
      if (f.path.endsWith('.ts')) expect(ts.transpileModule(f.text, { reportDiagnostics: true }).diagnostics).toEqual([])
    }
    const plan = baselinePlan(catalog)
    expect(plan.ok).toBe(true)
    if (plan.ok)
      expect(
        upScript(plan.plan, null)
          .split('\n')
          .filter((l) => l.startsWith('--') && /[\u202a-\u202e\u2066-\u2069]/.test(l)),
      ).toEqual([])
  })
})
