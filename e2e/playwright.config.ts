import { defineConfig } from '@playwright/test';

export default defineConfig({
  testDir: '.',
  testMatch: '*.e2e.ts',
  timeout: 120_000,
  expect: { timeout: 15_000 },
  fullyParallel: false,
  workers: 1,
  // On the shared machine of the continuous run a test may be starved; what needs a second try is listed as flaky, not hidden.
  retries: process.env['CI'] ? 1 : 0,
  reporter: [['list'], ['json', { outputFile: '../test-results/e2e.json' }]],
  outputDir: '../test-results/e2e',
  use: {
    // High enough for map and deck to stand open unasked; other sizes are tried where they matter.
    viewport: { width: 1280, height: 920 },
    actionTimeout: 15_000,
    // Every test has a browser of its own: only what is about working without the server fetches the whole page beforehand.
    serviceWorkers: 'block',
    screenshot: 'only-on-failure',
    launchOptions: {
      executablePath: '/usr/bin/chromium',
      args: [
        '--use-angle=swiftshader',
        '--enable-unsafe-swiftshader',
        '--no-sandbox',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--disable-quic',
        '--no-first-run',
      ],
    },
  },
});
