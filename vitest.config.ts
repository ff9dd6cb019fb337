import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    include: ['core/**/*.spec.ts', 'contract/**/*.spec.ts', 'server/**/*.spec.ts', 'web/src/**/*.spec.ts', 'demo/**/*.spec.ts'],
    testTimeout: 60_000,
    hookTimeout: 120_000,
  },
});
