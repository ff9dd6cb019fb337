/**
 * Command line: reads a design document, prints one JSON object
 * (docs/analyse.md). Exit 0, 1 with a stop finding, 2 when unreadable.
 */
import { readFileSync } from 'node:fs';
import { open } from '../core/engine';
import { report } from './report';

function fail(message: string): never {
  process.stderr.write(`${message}\n`);
  process.exit(2);
}

const path = process.argv[2];
if (!path) fail('Name a design document: npm run --silent analyse -- FILE.json');
let text: string;
try {
  text = readFileSync(path, 'utf8');
} catch (e) {
  const code = (e as NodeJS.ErrnoException).code;
  fail(
    code === 'ENOENT'
      ? `There is no file ${path}.`
      : code === 'EISDIR'
        ? `${path} is a folder, not a design document.`
        : `${path} cannot be read (${code}).`,
  );
}
let document: unknown;
try {
  document = JSON.parse(text);
} catch (e) {
  fail(`${path} is not JSON: ${(e as Error).message}`);
}
const read = open(document);
if (read.problems) {
  fail([`${path} is not a design that can be analysed:`, ...read.problems.map((p) => `  ${p.path || 'document'}: ${p.message}`)].join('\n'));
}

const out = report(read.design);
process.stdout.write(`${JSON.stringify(out, (_k, v) => (typeof v === 'bigint' ? v.toString() : v), 2)}\n`);
process.exitCode = out.findings.some((f) => f.severity === 'stop') ? 1 : 0;
