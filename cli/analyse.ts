/**
 * Command line: reads a design document, prints one JSON object
 * (docs/analyse.md). Exit 0, 1 with a stop finding, 2 when unreadable.
 */
import { Refused, readDesignFile } from './files';
import { jsonText, report } from './report';

try {
  const path = process.argv[2];
  if (!path) throw new Refused('Name a design document: npm run --silent analyse -- FILE.json');
  const out = report(readDesignFile(path));
  process.stdout.write(jsonText(out));
  process.exitCode = out.findings.some((f) => f.severity === 'stop') ? 1 : 0;
} catch (e) {
  if (!(e instanceof Refused)) throw e;
  process.stderr.write(`${e.message}\n`);
  process.exitCode = 2;
}
