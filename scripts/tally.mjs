// The last line of npm test: what all runners together passed and failed. A file that could not be loaded, and a runner that
// ended badly without naming a test, count as a failure.
import { existsSync, readFileSync } from 'node:fs'

// Arguments: what passed and failed before, then the exit status and the JSON report of each runner.
const [passedBefore, failedBefore, ...runs] = process.argv.slice(2)
let passed = Number(passedBefore)
let failed = Number(failedBefore)
let skipped = 0
for (let i = 0; i < runs.length; i += 2) {
  const [status, report] = runs.slice(i, i + 2)
  const own = { passed: 0, failed: 0 }
  if (existsSync(report)) {
    const result = JSON.parse(readFileSync(report, 'utf8'))
    own.passed = result.numPassedTests
    own.failed = result.numFailedTests + result.testResults.filter((f) => f.status === 'failed' && f.assertionResults.length === 0).length
    skipped += result.numPendingTests + (result.numTodoTests ?? 0)
  }
  if (own.failed === 0 && (status !== '0' || own.passed === 0)) own.failed = 1
  passed += own.passed
  failed += own.failed
}
console.log(`${passed} passed, ${failed} failed${skipped > 0 ? `, ${skipped} skipped` : ''}`)
process.exitCode = failed > 0 ? 1 : 0
