import { defineConfig } from 'vitest/config';

const shared = {
  setupFiles: ['scripts/seed.setup.ts'],
  testTimeout: 120_000,
  hookTimeout: 120_000,
  // Tests with real processes may be starved on a shared machine; a second try is named in the report.
  retry: process.env.CI ? 1 : 0,
};

/** Puts a module in place of another, which no other spec may see. */
const PUTS_IN_PLACE = ['core/testing/oldham.spec.ts'];

export default defineConfig({
  test: {
    globalSetup: ['scripts/seed.global.ts'],
    // On two cores the default is one.
    maxWorkers: 2,
    projects: [
      // What it computes with is loaded once for all its specs: they leave nothing behind.
      {
        test: {
          ...shared,
          isolate: false,
          name: 'core',
          include: ['core/**/*.spec.ts', 'cli/**/*.spec.ts', 'contract/**/*.spec.ts', 'demo/**/*.spec.ts'],
          exclude: PUTS_IN_PLACE,
        },
      },
      // The geometry kernel is loaded once a file.
      { test: { ...shared, name: 'solids', include: ['solids/**/*.spec.ts'] } },
      { test: { ...shared, name: 'apart', include: PUTS_IN_PLACE } },
      {
        test: {
          ...shared,
          setupFiles: [...shared.setupFiles, '@angular/localize/init'],
          name: 'page',
          include: ['web/src/**/*.spec.ts'],
          exclude: ['**/*.component.spec.ts'],
        },
      },
      // Needs a database, and for strength models gmsh and ccx.
      { test: { ...shared, name: 'server', include: ['server/**/*.spec.ts'] } },
    ],
  },
});
