import type { NextConfig } from 'next';

const config: NextConfig = {
  poweredByHeader: false,
  reactStrictMode: true,
  serverExternalPackages: ['geoip-country', 'better-sqlite3', 'pdfkit', 'pino'],
  // Statements are drawn with a font that stands in node_modules.
  outputFileTracingIncludes: { '/payouts/**': ['./node_modules/@expo-google-fonts/figtree/**/*.ttf'] },
  // Types are checked by ./brivet test; a build need not do it again.
  typescript: { ignoreBuildErrors: true },
  experimental: { serverActions: { bodySizeLimit: '12mb' } },
};

export default config;
