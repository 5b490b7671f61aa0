// The command line: the same work without a browser.
import { mkdirSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { gzipSync } from 'node:zlib'
import { Command } from 'commander'
import { canonicalText } from '../core/catalog/index.ts'
import { baselinePlan, planFiles } from '../core/change/index.ts'
import { badInput, ExitError, readSource } from './source.ts'

const progress = (line: string) => {
  if (process.stderr.isTTY) process.stderr.write(`\r\x1b[K${line}`)
}
const list = (value: string, before: string[]) => [...before, value]

const program = new Command('pelvok')
  .description('Turns an existing schema into decisions, and decisions into code and migrations that are proven.')
  .version('0.1.0')

program
  .command('survey')
  .argument('<source>', 'postgresql:// URL, env:NAME or a snapshot file')
  .option('--schema <name>', 'read this schema only (may be repeated)', list, [])
  .option('--out <file>', 'write to a file instead of standard output')
  .description('read the catalog and print its structure as JSON')
  .action(async (source: string, o: { schema: string[]; out?: string }) => {
    const { catalog } = await readSource(source, o.schema.length > 0 ? o.schema : null, progress)
    const text = canonicalText(catalog)
    if (o.out) writeFileSync(o.out, text)
    else process.stdout.write(text)
  })

program
  .command('plan')
  .requiredOption('--from <source>', 'only "empty" so far: the baseline')
  .requiredOption('--to <source>', 'the schema to arrive at')
  .option('--out <dir>', 'write the folder 0001-baseline/ there instead of printing up.sql')
  .description('an ordered migration')
  .action(async (o: { from: string; to: string; out?: string }) => {
    if (o.from !== 'empty') throw badInput('a plan between two schemas is not built yet', 'Use --from empty for the baseline.')
    const { catalog } = await readSource(o.to, null, progress)
    const result = baselinePlan(catalog)
    if (!result.ok)
      throw new ExitError(1, {
        message: `objects need each other in a cycle: ${result.problem.members.join(' -> ')}`,
        detail: '',
        hint: 'Break the cycle in the source.',
      })
    const { folder, files, catalogText } = planFiles(result.plan, catalog, null)
    if (!o.out) process.stdout.write(files['up.sql'] ?? '')
    else {
      const dir = join(o.out, folder)
      mkdirSync(dir, { recursive: true })
      for (const [name, text] of Object.entries(files)) writeFileSync(join(dir, name), text)
      writeFileSync(join(dir, 'catalog.json.gz'), gzipSync(catalogText))
    }
  })

program.exitOverride()
try {
  await program.parseAsync()
} catch (error) {
  const code = (error as { code?: string }).code ?? ''
  if (error instanceof ExitError) {
    const { message, detail, hint } = error.wording
    process.stderr.write(`pelvok: ${message}\n${detail ? `  ${detail}\n` : ''}  ${hint}\n`)
    process.exitCode = error.status
  } else if (code.startsWith('commander.')) {
    process.exitCode = code === 'commander.helpDisplayed' || code === 'commander.version' || code === 'commander.help' ? 0 : 2
  } else throw error
}
