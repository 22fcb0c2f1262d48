import type { NextConfig } from 'next';

const config: NextConfig = {
  poweredByHeader: false,
  // Server and page are on one machine: squeezing what goes between them takes longer than sending it.
  compress: false,
  devIndicators: false,
  serverExternalPackages: ['better-sqlite3'],
};

export default config;
