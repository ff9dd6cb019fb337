/** npm run bench:formats: files of geometry of rows of wheels, and how their time grows with the number of elements. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { analyse } from '../core/checks/index';
import { row } from '../core/testing/designs';
import type { Assembly } from '../core/assembly/index';
import { frameOf } from '../core/math/index';
import { type Solid, circle, rectangle } from '../core/solids/index';
import { geometryOf, loadKernel, readStep, writeStep } from '../solids/index';
import { line, ms } from './measure';

const oc = await loadKernel({ bytes: readFileSync(createRequire(import.meta.url).resolve('replicad-opencascadejs/wasm')) });
const SIZES = [30, 100, 300];
const exponent = (times: readonly number[]): string =>
  (Math.log(times[times.length - 1] / times[0]) / Math.log(SIZES[SIZES.length - 1] / SIZES[0])).toFixed(2);

const READ_ALONE = process.argv.includes('--read');
for (const format of READ_ALONE ? [] : (['step', 'dxf', 'svg', 'glb', '3mf', 'stl'] as const)) {
  console.log(`\n${format}`);
  const times: number[] = [];
  for (const n of SIZES) {
    // A pair has two wheels; every second pair is alike, with names of their own.
    const { design } = row(Array.from({ length: n / 2 }, (_, k) => (k % 2 ? ([19, 23] as const) : ([23, 19] as const))));
    const { compiled, pose } = analyse(design);
    const from = performance.now();
    const { files } = await geometryOf(compiled, pose, { format }, () => Promise.resolve(oc));
    times.push(performance.now() - from);
    line(`  ${design.elements.length} elements, ${(files[0].bytes.length / 1e6).toFixed(1)} MB`, ms(times[times.length - 1]));
  }
  line('  grows with n to the power of', exponent(times));
}
/** Plates of different sizes with bores, rounded ends and slots: what housings are made of. */
function plates(n: number): Assembly {
  const bodies = Array.from({ length: n }, (_, k) => {
    const holes = Array.from({ length: 40 }, (_x, i) => circle(3 + (i % 4) + k / (10 * n), 20 + 24 * (i % 10), 15 + 24 * Math.floor(i / 10)));
    const solid: Solid = { kind: 'prism', outline: rectangle(0, 0, 260 + k / n, 110), holes, from: 0, to: 8 + k / n };
    return {
      element: `e${k}`,
      name: `Plate ${k}`,
      type: 'block',
      shape: `s${k}`,
      solids: [solid],
      place: frameOf([0, 0, 20 * k]),
      colour: '#8a94a6',
    };
  });
  return { name: 'Plates', members: [{ member: 'm', name: 'Stack', bodies }] };
}

console.log('\nSTEP read');
const readTimes: number[] = [];
const READ = [60, 120, 280];
for (const n of READ) {
  const bytes = writeStep(oc, plates(n));
  const from = performance.now();
  const { parts } = readStep(oc, bytes, 'plates.step');
  readTimes.push(performance.now() - from);
  line(`  ${parts.length} parts, ${(bytes.length / 1e6).toFixed(1)} MB`, ms(readTimes[readTimes.length - 1]));
}
line('  grows with n to the power of', (Math.log(readTimes[2] / readTimes[0]) / Math.log(READ[2] / READ[0])).toFixed(2));
line('\nMemory of the process at the end', `${(process.memoryUsage().rss / 1e6).toFixed(0)} MB`);
process.exit(0);
