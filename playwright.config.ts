import { defineConfig } from '@playwright/test';
import { WEB } from './tests/e2e/places';

export default defineConfig({
  testDir: 'tests/e2e',
  globalSetup: './tests/e2e/start.ts',
  // One program and one history: the files take turns, so that each finds what the one before left.
  workers: 1,
  fullyParallel: false,
  timeout: 60_000,
  expect: { timeout: 10_000 },
  reporter: process.env.PLAYWRIGHT_JSON_OUTPUT_NAME ? [['list'], ['json']] : 'list',
  use: {
    baseURL: WEB,
    viewport: { width: 1280, height: 800 },
    // Headless Chromium would name itself a bot and be set aside.
    userAgent: 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) Chrome/141.0.0.0 Safari/537.36',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--no-sandbox',
        '--disable-gpu',
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
      ],
    },
    screenshot: 'off',
    trace: 'off',
  },
});
