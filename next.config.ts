import type { NextConfig } from 'next';

const config: NextConfig = {
  poweredByHeader: false,
  reactStrictMode: true,
  serverExternalPackages: ['geoip-country', 'better-sqlite3', 'pdfkit', 'pino'],
  // Statements are drawn with a font that stands in node_modules.
  outputFileTracingIncludes: { '/payouts/**': ['./node_modules/@expo-google-fonts/figtree/**/*.ttf'] },
  // Types are checked by ./brivet test; a build need not do it again.
  typescript: { ignoreBuildErrors: true },
  // What src/proxy.ts passes on is cut at this size, so it must not be below what the doors behind it take.
  experimental: { serverActions: { bodySizeLimit: '12mb' }, proxyClientMaxBodySize: '13mb' },
};

export default config;
