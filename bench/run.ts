/** npm run bench: prints measurements side by side. */
import { readFileSync } from 'node:fs';
import { Matrix4 } from 'three';
import { analyse } from '../core/checks/index';
import { Design } from '../core/design/index';
import { Forces, nominalVelocities } from '../core/forces/index';
import { Hand, Mechanism, compile } from '../core/mechanism/index';
import { PLACEMENT } from '../core/numeric/index';
import { row } from '../core/testing/designs';
import { line, median, ms } from './measure';

const stages = (n: number) => Array.from({ length: n }, (_, k) => (k % 2 ? ([19, 23] as const) : ([23, 19] as const)));

console.log('Pose of a train of gear pairs (coordinates and placements of all bodies)');
const poses = [10, 100, 1000, 10_000].map((n) => {
  const m = new Mechanism(compile(row(stages(n)).design));
  let x = 0;
  const u = new Float64Array(1);
  const t = median(
    () => {
      u[0] = x += 0.01;
      m.setFree(u);
    },
    Math.max(1, 20_000 / n),
  );
  line(`  ${n} couplings`, ms(t));
  return t;
});
line('  1 000 couplings over 100 (10 is linear)', (poses[2] / poses[1]).toFixed(2));
line('  10 000 couplings over 1 000 (10 is linear)', (poses[3] / poses[2]).toFixed(2));

console.log('\nCompile');
for (const n of [100, 1000]) {
  const d = row(stages(n)).design;
  line(`  ${n} couplings`, ms(median(() => void compile(d), 1, 9)));
}

console.log('\nTurning the crank of the demo: computation and scene update per pose');
const demo = JSON.parse(readFileSync(new URL('../demo/paddle-winding-gear.json', import.meta.url), 'utf8')) as Design;
const w = analyse(demo);
const hand = new Hand(w.mechanism);
const parts = demo.elements.map((e) => ({ body: w.compiled.structure.bodyOf.get(e.member) ?? 0, still: new Matrix4(), world: new Matrix4() }));
const scratch = new Matrix4();
let at = 0;
line(
  '  hand, placements and matrices of all elements (limit 2 ms)',
  ms(
    median(() => {
      hand.move(0, (at = (at + 0.01) % 100));
      const t = w.mechanism.placements;
      for (const p of parts) {
        const b = PLACEMENT * p.body;
        scratch.set(t[b], t[b + 1], t[b + 2], t[b + 3], t[b + 4], t[b + 5], t[b + 6], t[b + 7], t[b + 8], t[b + 9], t[b + 10], t[b + 11], 0, 0, 0, 1);
        p.world.multiplyMatrices(scratch, p.still);
      }
    }, 500),
  ),
);
const f = new Forces(w.mechanism);
const free = new Float64Array(w.mechanism.freeCount);
line(
  '  forces of all couplings and reactions of all joints',
  ms(
    median(() => {
      nominalVelocities(w.mechanism, f.velocity, free);
      f.evaluate();
      f.reactions();
    }, 500),
  ),
);

console.log('\nThe folding-arm lift: pose, speeds, accelerations, all forces and all reactions');
const lift = JSON.parse(readFileSync(new URL('../demo/inspection-lift.json', import.meta.url), 'utf8')) as Design;
const lm = new Mechanism(compile(lift));
const lf = new Forces(lm);
const lfree = new Float64Array(lm.freeCount);
const [li] = lm.compiled.sources.map((s) => s.coordinate);
const one = Int32Array.of(li);
const target = new Float64Array(1),
  rate = Float64Array.of(12.6),
  none = new Float64Array(1);
let frame = 0;
const perFrame = median(() => {
  target[0] = 300 + 300 * Math.sin((frame++ / 1000) * 2 * Math.PI);
  lm.solve(one, target);
  lm.rates(one, rate, lfree);
  lm.spreadRates(lfree, lf.velocity);
  lf.accelerate(one, none, lfree);
  lf.evaluate({ inertia: true });
  lf.reactions(true);
}, 100);
line('  1 000 frames (limit 100 ms)', ms(perFrame * 1000));
