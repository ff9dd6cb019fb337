/** npm run bench:formats: files of geometry of rows of wheels, and how their time grows with the number of elements. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { analyse } from '../core/checks/index';
import { row } from '../core/testing/designs';
import { geometryOf, loadKernel } from '../solids/index';
import { line, ms } from './measure';

const oc = await loadKernel({ bytes: readFileSync(createRequire(import.meta.url).resolve('replicad-opencascadejs/wasm')) });
const SIZES = [30, 100, 300];
const exponent = (times: readonly number[]): string =>
  (Math.log(times[times.length - 1] / times[0]) / Math.log(SIZES[SIZES.length - 1] / SIZES[0])).toFixed(2);

for (const format of ['step', 'dxf', 'svg', 'glb', '3mf', 'stl'] as const) {
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
line('\nMemory of the process at the end', `${(process.memoryUsage().rss / 1e6).toFixed(0)} MB`);
process.exit(0);
