import type { NextConfig } from 'next'

const config: NextConfig = {
  serverExternalPackages: ['pg', 'pg-boss', 'pino'],
  poweredByHeader: false,
  devIndicators: false,
  // Ours; run by tsc over the whole tree with the strict settings of tsconfig.json.
  typescript: { ignoreBuildErrors: true },
}

export default config
