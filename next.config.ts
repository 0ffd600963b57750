import type { NextConfig } from 'next';

const config: NextConfig = {
  serverExternalPackages: ['pg', 'pg-boss', 'pino'],
  poweredByHeader: false,
  devIndicators: false,
  reactStrictMode: true,
};

export default config;
