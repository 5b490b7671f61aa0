// The last line of npm test: what all runners together passed and failed. A file that could not be loaded counts as a failure.
import { existsSync, readFileSync } from 'node:fs'

const [passedBefore, failedBefore, report] = process.argv.slice(2)
let passed = Number(passedBefore)
let failed = Number(failedBefore)
let skipped = 0
if (report && existsSync(report)) {
  const result = JSON.parse(readFileSync(report, 'utf8'))
  passed += result.numPassedTests
  failed += result.numFailedTests + result.testResults.filter((f) => f.status === 'failed' && f.assertionResults.length === 0).length
  skipped = result.numPendingTests + (result.numTodoTests ?? 0)
}
if (passed === 0) failed += 1
console.log(`${passed} passed, ${failed} failed${skipped > 0 ? `, ${skipped} skipped` : ''}`)
process.exitCode = failed > 0 ? 1 : 0
