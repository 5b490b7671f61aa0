import type { NextConfig } from 'next'

/** Of every answer; what a page may load is said by src/proxy.ts, with a nonce of its own each time. */
const everywhere = [
  { key: 'X-Content-Type-Options', value: 'nosniff' },
  { key: 'Referrer-Policy', value: 'same-origin' },
  { key: 'X-Frame-Options', value: 'DENY' },
]
/** Files and uploads, which no proxy sees: a worker loads scripts of ours alone, reads what we serve, and runs SQLite as WebAssembly. */
const files = { key: 'Content-Security-Policy', value: "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; connect-src 'self'; frame-ancestors 'none'" }

const config: NextConfig = {
  headers: async () => [
    { source: '/:path*', headers: everywhere },
    { source: '/_next/static/:path*', headers: [files] },
    { source: '/api/scripts/:path*', headers: [files] },
    { source: '/api/scripts', headers: [files] },
  ],
  serverExternalPackages: ['pg', 'pg-boss', 'pino'],
  // The same for the same sources, on whatever machine (scripts/lib.sh).
  generateBuildId: () => process.env['PELVOK_BUILD'] ?? null,
  poweredByHeader: false,
  devIndicators: false,
  // Ours; run by tsc over the whole tree with the strict settings of tsconfig.json.
  typescript: { ignoreBuildErrors: true },
}

export default config
