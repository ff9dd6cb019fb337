/**
 * npm run check: what needs no database and no browser: lint, arrows,
 * format, types, tests of core and page parts; two at a time.
 */
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { Plain, checkNode, ensurePackages, root, say } from './common.mjs';

/** Properties that take minutes of their own: npm test runs them. */
const LONG = ['core/checks/matrix.spec.ts', 'core/checks/any-document.spec.ts', 'core/document/stated.spec.ts'];

const bin = (tool) => join(root, 'node_modules/.bin', tool);
/** @type {[string, string, string[]][]} */
const WORK = [
  [
    'Tests',
    bin('vitest'),
    ['run', '--reporter=dot', '--project=core', '--project=apart', '--project=solids', '--project=page', ...LONG.map((f) => `--exclude=${f}`)],
  ],
  ['Lint, arrows, format', 'npm', ['run', '--silent', 'lint']],
  ['Types', 'npm', ['run', '--silent', 'types']],
];

/**
 * @param {[string, string, string[]]} work
 * @returns {Promise<boolean>}
 */
function done([name, tool, args]) {
  const began = Date.now();
  const child = spawn(tool, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
  let said = '';
  for (const from of [child.stdout, child.stderr]) from.on('data', (d) => (said += d));
  return new Promise((resolve) =>
    child.once('close', (code) => {
      say(`${code === 0 ? '✓' : '✗'} ${name}, ${Math.round((Date.now() - began) / 1000)} s`);
      if (code !== 0) say(said);
      resolve(code === 0);
    }),
  );
}

try {
  checkNode();
  ensurePackages();
  const [first, ...others] = WORK;
  // The tests take as long as all others together.
  const rest = (async () => {
    let good = true;
    for (const w of others) good = (await done(w)) && good;
    return good;
  })();
  const [a, b] = await Promise.all([done(first), rest]);
  say(`Without the longest properties: ${LONG.join(', ')} (npm test has them).`);
  process.exit(a && b ? 0 : 1);
} catch (e) {
  process.stderr.write(e instanceof Plain ? `${e.message}\n` : `${e.stack}\n`);
  process.exit(1);
}
