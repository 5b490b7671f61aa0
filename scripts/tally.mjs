// The last lines of npm test: what all runners together passed and failed. A file that could not be loaded, and a runner that ended
// badly without naming a test, count as a failure.
//
//   tally.mjs PASSED FAILED [STATUS REPORT]...    PASSED and FAILED: of checks before; exit status and JSON report of each runner
//   tally.mjs --again [STATUS REPORT]...          the files with a server or a browser in which something failed, a line each
//
// PELVOK_AGAIN: the report of a run of those files by themselves. What passes there counts, and is named: each such name is a fault.
import { existsSync, readFileSync } from 'node:fs'
import { relative } from 'node:path'

const read = (report) => (report !== undefined && existsSync(report) ? JSON.parse(readFileSync(report, 'utf8')) : null)
const nameOf = (file) => relative(process.cwd(), file.name)
const hasFailed = (file) => file.status === 'failed'
const mayRunAgain = (file) => /^tests\/(differential|e2e)\//.test(nameOf(file))
const failedTests = (file) => file.assertionResults.filter((t) => t.status === 'failed').map((t) => t.fullName)

function* reportsOf(list) {
  for (let i = 0; i < list.length; i += 2) yield { status: list[i], result: read(list[i + 1]) }
}

if (process.argv[2] === '--again') {
  const files = [...reportsOf(process.argv.slice(3))].flatMap(({ result }) =>
    (result?.testResults ?? []).filter((f) => hasFailed(f) && mayRunAgain(f)).map(nameOf),
  )
  for (const file of new Set(files)) console.log(file)
  process.exit(0)
}

const [passedBefore, failedBefore, ...runs] = process.argv.slice(2)
let passed = Number(passedBefore)
let failed = Number(failedBefore)
let skipped = 0
const again = new Map((read(process.env['PELVOK_AGAIN'])?.testResults ?? []).map((f) => [nameOf(f), f]))
const shaky = []
for (const { status, result } of reportsOf(runs)) {
  const own = { passed: 0, failed: 0 }
  let mended = false
  for (const first of result?.testResults ?? []) {
    const second = hasFailed(first) ? again.get(nameOf(first)) : undefined
    const file = second ?? first
    if (second && !hasFailed(second)) {
      mended = true
      const names = failedTests(first)
      shaky.push(...(names.length > 0 ? names : ['(before its tests)']).map((t) => `${nameOf(first)}: ${t}`))
    }
    for (const t of file.assertionResults) {
      if (t.status === 'passed') own.passed += 1
      else if (t.status === 'failed') own.failed += 1
      else skipped += 1
    }
    if (hasFailed(file) && failedTests(file).length === 0) own.failed += 1
  }
  if (own.failed === 0 && ((status !== '0' && !mended) || own.passed === 0)) own.failed = 1
  passed += own.passed
  failed += own.failed
}
if (shaky.length > 0) console.log(`Shaky, as they passed only when they ran once more by themselves:\n${shaky.map((s) => `  ${s}`).join('\n')}`)
console.log(`${passed} passed, ${failed} failed${skipped > 0 ? `, ${skipped} skipped` : ''}`)
process.exitCode = failed > 0 ? 1 : 0
