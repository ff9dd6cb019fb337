/**
 * How far each pass of a lift's frame is from what its arithmetic
 * takes at least: one operation (multiply or add) a nanosecond.
 */
import type { Design } from '../core/document/index';
import { Forces, nominalVelocities } from '../core/forces/index';
import { compile, poseOf } from '../core/kinematics/index';
import { line, median, ms } from './measure';

// Operations by hand. A turn of a body about an axis: a 3 × 3 product
// (45), a point (15), sine and cosine (20), the next axis and point (30).
const PLACE_BODY = 110;
/** A column of a closure: the way from axis to point, a cross product, three directions. */
const CLOSURE_ENTRY = 20;
/** Velocity, then acceleration of a body from the one before. */
const TWIST = 30;
const BIAS = 60;
/** Weight, inertia turned into the world (90), ω × Iω and force (40), towards the frame (15), along its freedom (11). */
const LOAD_BODY = 30 + 90 + 40 + 15 + 11;
/** A reaction: what comes from outside, six numbers shifted to the joint. */
const REACTION = 45;
const factor = (n: number): number => (2 / 3) * n ** 3;
const substitute = (n: number): number => 2 * n ** 2;

export function operations(lift: Design): void {
  const compiled = compile(lift);
  const pose = poseOf(compiled);
  const forces = new Forces(pose);
  const k = pose.kinematics;
  const driven = [compiled.sources[0].coordinate];
  const free = new Float64Array(k.freeCount);
  const moving = k.bodies - 1,
    chain = k.closures.reduce((s, c) => s + c.chain.length, 0),
    rows = k.constraintRows,
    n = k.freeCount,
    unknowns = k.closureRowCount + k.rows.length + 1;
  const constraints = chain * CLOSURE_ENTRY + rows * 5;
  const matrix = chain * 3 * 2;

  const from = pose.q[driven[0]];
  let step = 0;
  const move = (): void => void pose.solve(driven, [from + 0.01 * (step++ % 1000)]);
  for (let i = 0; i < 1000; i++) move();
  const before = pose.iterations;
  for (let i = 0; i < 1000; i++) move();
  const newton = (pose.iterations - before) / 1000;
  console.log(`\nThe lift, pass by pass: ${moving} bodies, ${rows} constraint rows, ${n} unknown rates, ${unknowns} unknown forces`);
  const passes: [string, number, () => void][] = [
    [`pose, ${newton.toFixed(1)} Newton steps`, newton * (moving * PLACE_BODY + constraints + matrix + substitute(n)) + factor(n), move],
    ['speeds', matrix + factor(n) + substitute(n), () => nominalVelocities(pose, forces.velocity, free, forces.heldCoordinates)],
    ['accelerations', moving * (TWIST + BIAS) + chain * CLOSURE_ENTRY + substitute(n), () => forces.accelerate(driven, [0], free)],
    [
      'all forces, inertia and losses counted',
      moving * (TWIST + BIAS + LOAD_BODY) + constraints + matrix + factor(unknowns) + substitute(unknowns),
      () => void forces.evaluate({ inertia: true }),
    ],
    ['all reactions', moving * REACTION + chain * CLOSURE_ENTRY, () => void forces.reactions(true)],
  ];
  let [least, spent] = [0, 0];
  for (const [name, count, work] of passes) {
    const t = median(work, 200);
    least += count;
    spent += t;
    line(`  ${name}: ${Math.round(count)} operations`, `${ms(t)}  × ${((t * 1e6) / count).toFixed(1)}`);
  }
  line(`  a frame: ${Math.round(least)} operations (goal × 3)`, `${ms(spent)}  × ${((spent * 1e6) / least).toFixed(1)}`);
}
