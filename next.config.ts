import type { NextConfig } from 'next';

/** Cross-origin isolation gives the page shared memory, which the audio thread reads samples and events from. */
const headers = [
  { key: 'Cross-Origin-Opener-Policy', value: 'same-origin' },
  { key: 'Cross-Origin-Embedder-Policy', value: 'require-corp' },
  { key: 'Cross-Origin-Resource-Policy', value: 'same-origin' },
  { key: 'X-Content-Type-Options', value: 'nosniff' },
  { key: 'Referrer-Policy', value: 'no-referrer' },
];

const config: NextConfig = {
  poweredByHeader: false,
  // Server and page are on one machine: squeezing what goes between them takes longer than sending it.
  compress: false,
  devIndicators: false,
  serverExternalPackages: ['better-sqlite3'],
  headers: async () => [{ source: '/:path*', headers }],
};

export default config;
