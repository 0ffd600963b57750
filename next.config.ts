import type { NextConfig } from 'next';

const config: NextConfig = {
  serverExternalPackages: ['pg', 'pg-boss', 'pino'],
  poweredByHeader: false,
  devIndicators: false,
  reactStrictMode: true,
  // `npm test` checks types of everything, once: again here it took 130 of 211 s.
  typescript: { ignoreBuildErrors: true },
  headers: async () => [
    {
      source: '/:path*',
      headers: [
        { key: 'x-content-type-options', value: 'nosniff' },
        { key: 'referrer-policy', value: 'same-origin' },
        {
          key: 'permissions-policy',
          value: 'camera=(), geolocation=(), microphone=(), payment=(), usb=()',
        },
      ],
    },
  ],
};

export default config;
