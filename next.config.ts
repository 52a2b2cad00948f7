import type { NextConfig } from 'next';

const config: NextConfig = {
  poweredByHeader: false,
  reactStrictMode: true,
  serverExternalPackages: ['better-sqlite3', 'pdfkit', 'pino'],
  // Statements are drawn with a font that stands in node_modules.
  outputFileTracingIncludes: { '/payouts/**': ['./node_modules/@expo-google-fonts/figtree/**/*.ttf'] },
  experimental: { serverActions: { bodySizeLimit: '1mb' } },
};

export default config;
