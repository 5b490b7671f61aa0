// Runs the round-trip check of the shared checks, where they are there, on scripts given: the cluster is the one of the tests.
import { spawnSync } from 'node:child_process'
import { existsSync } from 'node:fs'

const check = '../shared/checks/roundtrip.mjs'
if (!existsSync(check)) {
  console.log(`${check} is not here: skipped`)
} else {
  const { status } = spawnSync(
    process.execPath,
    [check, '--server', process.env.PELVOK_TEST_SERVER ?? 'postgresql://postgres@127.0.0.1:5432', ...process.argv.slice(2)],
    { stdio: 'inherit' },
  )
  process.exitCode = status ?? 1
}
