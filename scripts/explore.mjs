/**
 * npm run explore -- [minutes] : property tests of the computation with fresh seeds, one round after the other, until the
 * time is over. Every round prints its seed; a counterexample is printed with it, and belongs into the spec as an example.
 */
import { spawnSync } from 'node:child_process';
import { randomInt } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { root, say } from './common.mjs';

const minutes = Number(process.argv[2] ?? 60);
if (!(minutes > 0)) {
  process.stderr.write('npm run explore -- MINUTES: the time to look for counterexamples, more than 0\n');
  process.exit(2);
}
const specs = [];
const walk = (dir) => {
  for (const e of readdirSync(join(root, dir), { withFileTypes: true })) {
    const path = `${dir}/${e.name}`;
    if (e.isDirectory()) {
      if (e.name !== 'node_modules') walk(path);
    } else if (e.name.endsWith('.spec.ts') && readFileSync(join(root, path), 'utf8').includes("from 'fast-check'")) specs.push(path);
  }
};
walk('core');
say(`${specs.length} files of property tests, for ${minutes} minutes`);
const end = Date.now() + minutes * 60_000;
let rounds = 0;
const found = [];
while (Date.now() < end) {
  const seed = randomInt(1, 2 ** 31 - 1);
  const r = spawnSync(join(root, 'node_modules/.bin/vitest'), ['run', '--reporter=dot', '--testTimeout=600000', ...specs], {
    cwd: root,
    encoding: 'utf8',
    env: { ...process.env, UNIROTA_SEED: String(seed), NO_COLOR: '1' },
    maxBuffer: 1 << 28,
    timeout: Math.max(1000, end - Date.now() + 600_000),
  });
  rounds++;
  if (r.status === 0) continue;
  const said = `${r.stdout}\n${r.stderr}`;
  const lines = said.split('\n').filter((l) => /FAIL|Counterexample|Property failed|Shrunk|Error:|seed:/.test(l));
  found.push(seed);
  say(`\nRound ${rounds}, seed ${seed}:\n${lines.slice(0, 40).join('\n')}`);
}
say(`\n${rounds} rounds, ${found.length} with counterexamples${found.length ? `: seeds ${found.join(', ')}` : ''}`);
process.exit(found.length ? 1 : 0);
