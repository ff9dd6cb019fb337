/** npm run bench: prints measurements side by side. */
import { readFileSync } from 'node:fs';
import { Matrix4 } from 'three';
import { analyse } from '../core/checks/index';
import { Design, readDesign } from '../core/document/index';
import { History, emptyHistory, undo, withStep } from '../web/src/app/state/history';
import { Forces, nominalVelocities } from '../core/forces/index';
import { Bodies, compile, exactRatio, type Pose, poseOf } from '../core/kinematics/index';
import { Hand } from '../core/motion/index';
import { run } from '../core/motion/index';
import { loadMujoco, treeModel } from '../core/testing/mujoco';
import { PLACEMENT } from '../core/math/index';
import { curesOf } from '../core/sizing/index';
import { Builder, row, item } from '../core/testing/designs';
import { growth } from './growth';
import { operations } from './operations';
import { line, median, ms } from './measure';

const stages = (n: number) => Array.from({ length: n }, (_, k) => (k % 2 ? ([19, 23] as const) : ([23, 19] as const)));

console.log('Pose of a train of gear pairs (coordinates and placements of all bodies)');
const poses = [10, 100, 1000, 10_000].map((n) => {
  const m = poseOf(compile(row(stages(n)).design));
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
// Turned to and fro, so with its pawl lifted.
for (const c of demo.couplings) if (c.type === 'ratchet') Object.assign(c, { lifted: true });
const w = analyse(demo);
const hand = new Hand(w.pose);
const parts = demo.elements.map((e) => ({ body: w.compiled.structure.bodyOf.get(e.member) ?? 0, still: new Matrix4(), world: new Matrix4() }));
const scratch = new Matrix4();
let at = 0;
line(
  '  hand, placements and matrices of all elements (limit 2 ms)',
  ms(
    median(() => {
      hand.move(0, (at = (at + 0.01) % 100));
      const t = w.pose.placements;
      for (const p of parts) {
        const b = PLACEMENT * p.body;
        scratch.set(t[b], t[b + 1], t[b + 2], t[b + 3], t[b + 4], t[b + 5], t[b + 6], t[b + 7], t[b + 8], t[b + 9], t[b + 10], t[b + 11], 0, 0, 0, 1);
        p.world.multiplyMatrices(scratch, p.still);
      }
    }, 500),
  ),
);
const f = new Forces(w.pose);
const free = new Float64Array(w.pose.kinematics.freeCount);
line(
  '  forces of all couplings and reactions of all joints',
  ms(
    median(() => {
      nominalVelocities(w.pose, f.velocity, free);
      f.evaluate();
      f.reactions();
    }, 500),
  ),
);

console.log('\nInterference of bodies');
for (const n of [150, 1500]) {
  const a = analyse(row(stages(n)).design);
  const bodies = new Bodies(a.compiled);
  line(`  ${2 * n} elements at one position`, ms(median(() => void bodies.at(a.pose), 1, 5)));
}
{
  const c = compile(JSON.parse(readFileSync(new URL('../demo/inspection-lift.json', import.meta.url), 'utf8')) as Design);
  const pose = poseOf(c);
  const [bodies, mover] = [new Bodies(c), new Hand(pose)];
  const lead = c.sources[0].coordinate;
  const { lower, upper } = mover.interval(lead);
  const [from, to] = [lower?.at ?? 0, upper?.at ?? 1];
  let spent = 0;
  for (let k = 0; k < 300; k++) {
    mover.move(lead, (from + ((to - from) * k) / 299) * pose.kinematics.scale[lead]);
    const t = performance.now();
    bodies.at(pose);
    spent += performance.now() - t;
  }
  line('  300 instants of the lift (limit 3 s)', ms(spent));
}

console.log('\nThe folding-arm lift: pose, speeds, accelerations, all forces and all reactions');
const lift = JSON.parse(readFileSync(new URL('../demo/inspection-lift.json', import.meta.url), 'utf8')) as Design;
const lm = poseOf(compile(lift));
const lf = new Forces(lm);
const lfree = new Float64Array(lm.kinematics.freeCount);
const [li] = lm.compiled.sources.map((s) => s.coordinate);
const one = Int32Array.of(li);
const target = new Float64Array(1),
  rate = Float64Array.of(12.6),
  none = new Float64Array(1);
const COUNTED = { inertia: true };
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

if (typeof gc === 'function') {
  // Per-frame path: no arrays and no objects; what is counted are numbers that the machine boxes on their way through calls.
  const frames = 10_000;
  const each = (): void => {
    target[0] = 0.3 * Math.sin((frame++ / 1000) * 2 * Math.PI);
    lm.solve(one, target);
    lm.rates(one, rate, lfree);
    lm.spreadRates(lfree, lf.velocity);
    lf.accelerate(one, none, lfree);
    lf.evaluate(COUNTED);
    lf.reactions(true);
  };
  for (let k = 0; k < frames; k++) each();
  gc();
  const before = process.memoryUsage().heapUsed;
  for (let k = 0; k < frames; k++) each();
  line('  heap over 10 000 frames, a frame', `${((process.memoryUsage().heapUsed - before) / frames).toFixed(0)} bytes`);
}

operations(lift);

console.log('\nBeside a general rigid-body engine (mujoco-js), both steering the same motion to the same instants');
const mujoco = await loadMujoco();
{
  // The lift: one second of its screw at 12.6 rad/s; error: height of the platform against the closed form of a folding arm.
  const closed = (c: Pose, foot: number): number => {
    const armA = c.compiled.design.members.find((m) => m.id === 'armB')!.at![0] / 1000,
      h0 = c.compiled.design.members.find((m) => m.id === 'armC')!.at![2] / 1000;
    const length2 = armA ** 2 + h0 ** 2;
    return 2 * (Math.sqrt(length2 - (armA + foot) ** 2) - h0);
  };
  const m = poseOf(compile(lift));
  const s = m.compiled.structure;
  const foot = s.coordinates.findIndex((c) => c.joint.id === 'j-foot');
  const platform = s.bodyOf.get('platform')!;
  const T = 1,
    speed = 12.6;
  m.solve([li], [speed * T]);
  const ourError = Math.abs(m.placements[PLACEMENT * platform + 11] - closed(m, m.q[foot]));
  const start = poseOf(compile(lift));
  // As a user would state it: the time to answer one run, its motion, source torque
  // and all reactions at 61 instants, to a stated accuracy of the platform's height.
  const INSTANTS = 61;
  const ours = perFrame * INSTANTS;
  const tried = [1e-2, 5e-3, 2e-3, 1e-3, 5e-4, 2e-4, 1e-4, 5e-5].map((timestep) => {
    const { model, data, order } = treeModel(mujoco, start, new Forces(start), { gravity: [0, 0, -9.80665], timestep, constraints: true, drive: li });
    data.ctrl[0] = speed;
    const t0 = performance.now();
    const steps = Math.round(T / timestep);
    for (let k = 0; k < steps; k++) mujoco.mj_step(model, data);
    const time = performance.now() - t0;
    const check = poseOf(compile(lift));
    order.forEach((i, k) => (check.q[i] = data.qpos[k]));
    check.replace();
    const error = Math.abs(check.placements[PLACEMENT * platform + 11] - closed(check, check.q[foot]));
    data.delete();
    model.delete();
    return { timestep, steps, time, error };
  });
  for (const accuracy of [1e-4, 1e-6, 1e-9]) {
    const [best] = tried.filter((x) => x.error <= accuracy).sort((x, y) => x.time - y.time);
    const answer = best
      ? `${ms(best.time)} in ${best.steps} steps (without joint reactions), ${(best.time / ours).toFixed(1)} times ours`
      : `not reached: ${Math.min(...tried.map((x) => x.error)).toExponential(1)} m at best`;
    line(`  lift to ${accuracy} m: ours ${ms(ours)}, the other engine`, answer);
  }
  const [fine] = tried.filter((x) => x.timestep === 1e-3);
  line('  other engine over ours, a step against a frame', (fine.time / fine.steps / perFrame).toFixed(2));
  line('  lift, ours: error of the platform height', `${ourError.toExponential(1)} m`);
}
{
  const design = row(stages(10)).design;
  design.settings = { gravity: [0, 0, 0] };
  const m = poseOf(compile(design));
  const forces = new Forces(m);
  const out = m.kinematics.count - 1;
  const ratio = exactRatio(m.compiled.reduction, out, 0)!;
  const exact = (Number(ratio.q.n) / Number(ratio.q.d)) * 10;
  const u = Float64Array.of(10),
    fr = new Float64Array(m.kinematics.freeCount);
  const ours = median(() => {
    m.setFree(u);
    nominalVelocities(m, forces.velocity, fr);
    forces.accelerate([0], [0], fr);
    forces.evaluate({ inertia: true });
    forces.reactions(true);
  }, 200);
  m.setFree(u);
  line('  ten-stage train, ours: pose, all forces and reactions, a frame', ms(ours));
  line('    error of the last wheel', `${Math.abs(m.q[out] - exact).toExponential(1)} rad`);
  for (const timestep of [1e-3, 1e-4]) {
    const { model, data, order } = treeModel(mujoco, poseOf(compile(design)), forces, {
      gravity: [0, 0, 0],
      timestep,
      constraints: true,
      drive: 0,
    });
    data.ctrl[0] = 10;
    const steps = Math.round(1 / timestep);
    const t0 = performance.now();
    for (let k = 0; k < steps; k++) mujoco.mj_step(model, data);
    const theirs = performance.now() - t0;
    const first = data.qpos[order.indexOf(0)],
      last = data.qpos[order.indexOf(out)];
    line(`  other engine, steps of ${timestep} s: a step`, ms(theirs / steps));
    line('    error of the last wheel against its first', `${Math.abs(last - (first * exact) / 10).toExponential(1)} rad`);
    line('    other engine over ours', (theirs / steps / ours).toFixed(1));
    data.delete();
    model.delete();
  }
}

console.log('\nA run in time');
{
  const c = compile(demo);
  const t = median(() => void run(c, { duration: 36, frames: 1000 }), 1, 5);
  line('  the winding gear, 1 000 instants with all reactions', ms(t));
}

console.log('\nA design of 300 elements (150 couplings)');
{
  const big = row(stages(150)).design;
  let n = 0;
  const edited = (): Design => ({ ...big, elements: big.elements.map((e, k) => (k === 20 ? { ...e, teeth: 23 + (n++ % 2) } : e)) });
  line('  edit to recomputed ledger and findings (limit 50 ms)', ms(median(() => void analyse(edited()), 1, 15)));
  line('  validation of the whole document, as at each edit', ms(median(() => void readDesign(edited()), 1, 9)));
  const w300 = analyse(big);
  const hand300 = new Hand(w300.pose);
  const parts300 = big.elements.map((e) => ({ body: w300.compiled.structure.bodyOf.get(e.member) ?? 0, still: new Matrix4(), world: new Matrix4() }));
  let at300 = 0;
  line(
    '  turning by hand: pose, and matrices of all elements (limit 8 ms)',
    ms(
      median(() => {
        hand300.move(0, (at300 += 0.01));
        const t = w300.pose.placements;
        for (const p of parts300) {
          const b = PLACEMENT * p.body;
          scratch.set(
            t[b],
            t[b + 1],
            t[b + 2],
            t[b + 3],
            t[b + 4],
            t[b + 5],
            t[b + 6],
            t[b + 7],
            t[b + 8],
            t[b + 9],
            t[b + 10],
            t[b + 11],
            0,
            0,
            0,
            1,
          );
          p.world.multiplyMatrices(scratch, p.still);
        }
      }, 200),
    ),
  );
  // Memory over a thousand edits with undo: what the history keeps is bounded, and elements are shared between states.
  let history: History<Design> = emptyHistory();
  let now = big;
  const gc = (globalThis as { gc?: () => void }).gc;
  const used = (): number => {
    gc?.();
    return process.memoryUsage().heapUsed / 1e6;
  };
  const marks: number[] = [];
  for (let k = 0; k < 1000; k++) {
    const before = now;
    now = edited();
    history = withStep(history, { name: `edit ${k}`, before, after: now }, false);
    if (k % 3 === 2) {
      const u = undo(history, now, (present) => ({ state: present }));
      if (u?.state) {
        history = u.history;
        now = u.state;
      }
    }
    if (k % 10 === 0) analyse(now);
    if (k === 299 || k === 999) marks.push(used());
  }
  line('  heap after 300 and after 1 000 edits with undo', `${marks.map((m) => m.toFixed(0)).join(' / ')} MB`);
}

console.log('\nWhat lets go, and what nothing drives');
{
  const n = 150;
  const plain = row(stages(n));
  const held = row(stages(n));
  const last = held.design.members[n];
  held.design.elements.push(
    item({ id: 'ratchet', name: 'Ratchet wheel', type: 'ratchet-wheel', member: last.id, teeth: 24, diameter: 60, width: 10 }),
    item({ id: 'pawl', name: 'Pawl', type: 'pawl', member: 'frame', length: 40, at: [last.at![0], 40, 0] as const }),
  );
  held.design.couplings.push({ id: 'hold', type: 'ratchet', a: 'ratchet', b: 'pawl' });
  const timed = (design: Design): number => {
    const w = analyse(design);
    if (w.findings.some((f) => f.severity === 'fault')) throw new Error(w.findings[0].message);
    return median(() => void w.forces.evaluate(), 20);
  };
  const [without, with1] = [timed(plain.design), timed(held.design)];
  line('  forces of 150 couplings', ms(without));
  line('  the same with a pawl on the last shaft, ratio', (with1 / without).toFixed(2));

  const loose = (count: number, chained: boolean): Design => {
    const b = new Builder();
    for (let k = 0; k < count; k++) b.shaft([chained ? 0 : 100 * k, 0, 0]);
    const { design } = b;
    if (chained) design.joints.forEach((j, k) => (j.parent = k ? design.members[k - 1].id : 'frame'));
    b.motor(design.joints[0].id);
    return design;
  };
  const free = loose(200, false);
  line('  200 free shafts and one motor: analysis (limit 50 ms)', ms(median(() => void analyse(free), 1, 9)));
  const chain = loose(3000, true);
  line('  3 000 joints, each carried by the last: analysis (limit 3 s)', ms(median(() => void analyse(chain), 1, 1)));
  const long = row(stages(3000)).design;
  line('  3 000 couplings: analysis (limit 0.5 s)', ms(median(() => void analyse(long), 1, 3)));

  const wrong = row(stages(n)).design;
  for (let k = 0; k < 60; k += 2) wrong.elements[k] = item({ ...wrong.elements[k], module: 1.25 });
  const w = analyse(wrong);
  const found = w.findings.filter((f) => f.severity !== 'note');
  line(
    `  ways out of ${found.length} findings of 150 couplings (limit 20 ms)`,
    ms(
      median(
        () => {
          const of = curesOf(wrong, w.compiled);
          for (const f of found) of(f);
        },
        1,
        9,
      ),
    ),
  );
}

growth();
