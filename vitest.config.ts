import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['core/**/*.spec.ts', 'cli/**/*.spec.ts', 'contract/**/*.spec.ts', 'server/**/*.spec.ts', 'web/src/**/*.spec.ts', 'demo/**/*.spec.ts'],
    setupFiles: ['scripts/seed.setup.ts'],
    globalSetup: ['scripts/seed.global.ts'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
    // Tests with real processes may be starved on a shared machine; a second try is named in the report.
    retry: process.env.CI ? 1 : 0,
  },
});
