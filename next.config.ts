import type { NextConfig } from 'next';

const config: NextConfig = {
  reactStrictMode: true,
  poweredByHeader: false,
  // Type and lint checks are steps of their own in `npm test`; the build need not repeat them.
  typescript: { ignoreBuildErrors: true },
  // These keep state per process or load native code, so they must not be bundled.
  serverExternalPackages: [
    '@mikro-orm/core',
    '@mikro-orm/knex',
    '@mikro-orm/postgresql',
    '@mikro-orm/migrations',
    'knex',
    'pg',
    '@node-rs/argon2',
    'pino',
    'messageformat',
    'sharp',
    '@resvg/resvg-js',
    'pdfkit',
    'fontkit',
    'wawoff2',
    'tesseract.js',
    'file-type',
    'heic-decode',
    '@aws-sdk/client-s3',
  ],
  experimental: {
    // Class names are used: OpenAPI schemas are named after the input classes.
    serverMinification: false,
    serverActions: { bodySizeLimit: '2200kb' },
  },
  async headers() {
    return [
      {
        source: '/:path*',
        headers: [
          { key: 'X-Content-Type-Options', value: 'nosniff' },
          { key: 'Referrer-Policy', value: 'same-origin' },
        ],
      },
      // A form may stand in the page of any site.
      { source: '/((?!f/).*)', headers: [{ key: 'X-Frame-Options', value: 'DENY' }] },
    ];
  },
};

export default config;
