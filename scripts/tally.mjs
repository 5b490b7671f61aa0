// The last line of npm test: what all runners together passed and failed. A file that could not be loaded, and a runner that
// ended badly without naming a test, count as a failure.
import { existsSync, readFileSync } from 'node:fs'

const [passedBefore, failedBefore, status, report] = process.argv.slice(2)
let passed = Number(passedBefore)
let failed = Number(failedBefore)
let skipped = 0
if (report && existsSync(report)) {
  const result = JSON.parse(readFileSync(report, 'utf8'))
  passed += result.numPassedTests
  failed += result.numFailedTests + result.testResults.filter((f) => f.status === 'failed' && f.assertionResults.length === 0).length
  skipped = result.numPendingTests + (result.numTodoTests ?? 0)
}
const named = failed > Number(failedBefore)
if (!named && (status !== '0' || passed === Number(passedBefore))) failed += 1
console.log(`${passed} passed, ${failed} failed${skipped > 0 ? `, ${skipped} skipped` : ''}`)
process.exitCode = failed > 0 ? 1 : 0
