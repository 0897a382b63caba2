import { defineConfig } from '@playwright/test';
import { randomUUID } from 'node:crypto';

// The same in every process of this run.
process.env.UNDERLOCK_E2E_RUN ??= randomUUID();

/**
 * Two at a time, each in a house of its own; within a house the demo's people meet in one database, so a test relies on
 * nobody else's.
 */
export default defineConfig({
  testDir: '.',
  testMatch: '*.spec.ts',
  workers: 2,
  fullyParallel: false,
  timeout: 420_000, // a whole path with a dozen axe runs on a slow, shared machine
  expect: { timeout: 30_000 },
  reporter: [['line'], ['json', { outputFile: '../test-results/e2e.json' }]],
  outputDir: '../test-results/e2e',
  use: {
    actionTimeout: 30_000,
    navigationTimeout: 60_000,
    locale: 'en-GB',
    timezoneId: 'Europe/Lisbon',
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium-headless-shell',
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
  },
});
