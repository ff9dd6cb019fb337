/**
 * How time grows with size: separate linkages, clutches in a row, planetary sets,
 * loose masses, settling after an edit. Exponents of size, from the last two sizes.
 */
import { analyse } from '../core/checks/index';
import type { Design } from '../core/document/index';
import { emptyDesign } from '../core/document/index';
import type { Member } from '../core/fields/types';
import { compile } from '../core/kinematics/index';
import { run } from '../core/motion/index';
import { settle } from '../core/edits/index';
import { insertStage, withInputShaft } from '../core/sizing/index';
import { Builder, row } from '../core/testing/designs';
import { line, ms } from './measure';

const body: Partial<Member> = { mass: 1, inertia: [0.01, 0.01, 0.01] };
const RUN = { duration: 1, frames: 11 };

function clutches(n: number): Design {
  const b = new Builder().weightless();
  let before = b.shaft([0, 0, 0]);
  b.motor(before.joint, 60);
  for (let k = 1; k <= n; k++) {
    const next = b.shaft([0, 0, 50 * k], 'frame', body);
    b.couple('one-way-clutch', { a: before.joint, b: next.joint });
    before = next;
  }
  b.load('joint-load', { joint: before.joint, value: -5 });
  return b.design;
}

function fourBars(n: number): Design {
  const b = new Builder();
  for (let x = 0; x < 400 * n; x += 400) {
    const crank = b.shaft([x, 0, 0], 'frame', body),
      rod = b.shaft([x + 40, 10, 0], crank.member, body),
      rocker = b.shaft([x + 200, -20, 0], 'frame', body);
    b.joint('revolute', rocker.member, rod.member, { at: [150, 70, 0] });
    b.motor(crank.joint, 10);
  }
  return b.design;
}

function planetarySets(n: number): Design {
  let s = withInputShaft(emptyDesign('sets'), { type: 'motor', name: 'Motor' });
  for (let k = 0; k < n; k++) s = insertStage(s.design, { kind: 'planetary', from: s.output })!;
  return s.design;
}

function looseMasses(n: number): Design {
  const b = new Builder();
  for (let k = 0; k < n; k++) b.slide([100 * k, 0, 0], [0, 0, 1], 'frame', { mass: 1 });
  return b.design;
}

/** Two dials that all but touch: each mark is a body, and few of them can come together. */
function dials(n: number): Design {
  const b = new Builder();
  for (const x of [0, 100]) b.element('dial', b.shaft([x, 0, 0], 'frame', body).member, { diameter: 99.5, divisions: n });
  return b.design;
}

const pairs = (n: number): Design => row(Array.from({ length: n }, (_, k) => (k % 2 ? ([19, 23] as const) : ([23, 19] as const)))).design;

/** The shortest of three, ms: what else the machine does only adds. */
function shortest(work: () => void): number {
  let least = Infinity;
  for (let k = 0; k < 3; k++) {
    const begun = performance.now();
    work();
    least = Math.min(least, performance.now() - begun);
  }
  return least;
}

const CASES: readonly [string, readonly number[], (n: number) => Design, (d: Design) => void][] = [
  ['clutches in a row, analysed', [25, 50, 100], clutches, (d) => void analyse(d)],
  ['clutches in a row, run', [10, 20, 40], clutches, (d) => void run(compile(d), RUN)],
  ['separate four-bars, analysed', [50, 100, 200], fourBars, (d) => void analyse(d)],
  ['planetary sets, analysed', [12, 24, 48], planetarySets, (d) => void analyse(d)],
  ['planetary sets, settled', [12, 24, 48], planetarySets, (d) => void settle(d)],
  ['gear pairs, settled', [150, 300, 600], pairs, (d) => void settle(d)],
  ['marks of two dials, analysed', [90, 180, 360], dials, (d) => void analyse(d)],
  ['loose masses, run', [25, 50, 100], looseMasses, (d) => void run(compile(d), RUN)],
];

export function growth(): void {
  console.log('\nGrowth with size (goal: exponent 1.2)');
  for (const [name, sizes, make, work] of CASES) {
    const times = sizes.map((n) => {
      const d = make(n);
      return shortest(() => work(d));
    });
    const [a, b] = [times.length - 2, times.length - 1];
    const exponent = Math.log(times[b] / times[a]) / Math.log(sizes[b] / sizes[a]);
    line(`  ${name}: ${sizes.map((n, k) => `${n} in ${ms(times[k])}`).join(', ')}`, `n^${exponent.toFixed(2)}`);
  }
}
