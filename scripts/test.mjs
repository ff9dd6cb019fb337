/**
 * npm test: installs what the tests need, builds the page, runs all
 * tests against a real database and a real browser, counts them.
 */
import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { Plain, checkNode, ensureBuild, ensureDebian, ensurePackages, root, say } from './common.mjs';

const results = join(root, 'test-results');

function run(name, command, args) {
  say(`\n== ${name}`);
  const r = spawnSync(command, args, { cwd: root, stdio: ['ignore', 'inherit', 'inherit'], env: { ...process.env, CI: process.env.CI ?? '' } });
  return r.status === 0;
}

function read(file) {
  try {
    return JSON.parse(readFileSync(join(results, file), 'utf8'));
  } catch {
    return undefined;
  }
}

try {
  checkNode();
  ensureDebian([
    [['mariadbd', 'mysqld'], 'mariadb-server'],
    [['chromium'], 'chromium'],
    // Strength models are meshed and solved in the tests.
    [['gmsh'], 'gmsh'],
    [['ccx'], 'calculix-ccx'],
  ]);
  ensurePackages();
  ensureBuild();
  rmSync(results, { recursive: true, force: true });
  mkdirSync(results, { recursive: true });
  const unit = run('Computation, server and page parts', join(root, 'node_modules/.bin/vitest'), [
    'run',
    '--reporter=dot',
    '--reporter=json',
    `--outputFile.json=${join(results, 'unit.json')}`,
  ]);
  const controls = run('Controls and views in a real browser', 'npm', ['run', '--silent', 'components']);
  const page = run('The real page in a real browser', join(root, 'node_modules/.bin/playwright'), ['test', '-c', 'e2e/playwright.config.ts']);
  const parts = [read('unit.json'), read('components.json')];
  const e = read('e2e.json')?.stats;
  const sum = (key) => parts.reduce((n, p) => n + (p?.[key] ?? 0), 0);
  const passed = sum('numPassedTests') + (e?.expected ?? 0) + (e?.flaky ?? 0);
  const failed = sum('numFailedTests') + (e?.unexpected ?? 0);
  say(`\nTests of parts: ${sum('numPassedTests')} passed; of the page: ${e?.expected ?? 0} passed`);
  say(`${passed} passed, ${failed} failed`);
  process.exit(unit && controls && page && failed === 0 && passed > 0 ? 0 : 1);
} catch (e) {
  process.stderr.write(e instanceof Plain ? `${e.message}\n` : `${e.stack}\n`);
  process.exit(1);
}
