import type { NextConfig } from 'next';

const config: NextConfig = {
  reactStrictMode: true,
  poweredByHeader: false,
  // Type and lint checks are steps of their own in `npm test`; the build need not repeat them.
  typescript: { ignoreBuildErrors: true },
  // The first keep state per process or load native code, so they must not be bundled; the others are large, and each
  // route would have a copy of its own, to be read and compiled when it is first asked for.
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
    'ajv',
    'class-transformer',
    'class-validator',
    'class-validator-jsonschema',
    'fast-xml-parser',
    'html-to-text',
    'hucre',
    'ical-generator',
    'ical.js',
    'libphonenumber-js',
    'nodemailer',
    'otpauth',
    'papaparse',
    'postal-mime',
    'prom-client',
    'rate-limiter-flexible',
    'reflect-metadata',
    'rrule-temporal',
    'smpp',
    'smtp-server',
    'talisman',
    'temporal-polyfill',
    'unhomoglyph',
    'write-excel-file',
  ],
  // The house is run where it is built, with all its packages: what each route needs of them is no question.
  outputFileTracingExcludes: { '*': ['**/*'] },
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
