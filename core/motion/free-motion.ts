import type { Forces } from '../forces/index';
import type { Pose } from '../kinematics/index';
import { LeastSquares } from '../math/index';

/** What free motion asks of a train: what is led and what is free of it, and the pushes of what is led. */
export interface FreeTrain {
  readonly pose: Pose;
  readonly forces: Forces;
  readonly led: readonly number[];
  readonly free: readonly number[];
  readonly all: Int32Array;
  /** Accelerations of what is led, then room for those of what is free. */
  readonly pushes: Float64Array;
  readonly u: Float64Array;
  /** For each free coordinate the train of its own that it is part of: accelerations of one do nothing to another. */
  readonly part: Int32Array;
  ledSpeeds(t: number): Float64Array;
}

/** Losses make the needs piecewise straight in the accelerations: Newton's steps settle with the pattern of driving sides. */
const MOST_TURNS = 4;

/** What the equations of free motion are worked out in, for as many freedoms as there are. */
interface Room {
  acc: Float64Array;
  r0: Float64Array;
  r1: Float64Array;
  r2: Float64Array;
  turns: Uint8Array;
  solver: LeastSquares;
}
const rooms = new Map<number, Room>();
function roomFor(d: number): Room {
  let room = rooms.get(d);
  if (!room) {
    room = {
      acc: new Float64Array(d),
      r0: new Float64Array(d),
      r1: new Float64Array(d),
      r2: new Float64Array(d),
      turns: new Uint8Array(d),
      solver: new LeastSquares(d, d),
    };
    rooms.set(d, room);
  }
  return room;
}

/** What has to hold each free coordinate for the accelerations in `acc`: nothing, once they are right. */
function rest(train: FreeTrain, acc: Float64Array, out: Float64Array): void {
  const { forces, led, all, pushes, u } = train;
  for (let k = 0; k < acc.length; k++) pushes[led.length + k] = acc[k];
  forces.accelerate(all, pushes, u);
  const s = forces.evaluate(WITH_INERTIA);
  for (let k = 0; k < acc.length; k++) out[k] = s.input[forces.driven + k];
}
const WITH_INERTIA = { inertia: true } as const;

/** Marks the coordinates that are the so-manieth of their part. */
function inRound(part: Int32Array, round: number, out: Uint8Array): void {
  for (let j = 0; j < part.length; j++) {
    let before = 0;
    for (let k = 0; k < j && before <= round; k++) if (part[k] === part[j]) before++;
    out[j] = before === round ? 1 : 0;
  }
}

/**
 * Accelerations of the free coordinates at the present pose and rates: those at which
 * nothing has to hold them. The forces of the train are left as they are for them.
 */
export function freeAccelerations(train: FreeTrain): Float64Array {
  const d = train.free.length;
  const { acc, r0, r1, r2, turns, solver } = roomFor(d);
  acc.fill(0);
  for (let turn = 0; turn < MOST_TURNS; turn++) {
    rest(train, acc, r0);
    r2.set(acc);
    let most = 0;
    for (let k = 0; k < d; k++) most = Math.max(most, Math.abs(r0[k]));
    if (turn && most < 1e-10) return acc;
    solver.begin(d, d);
    // One coordinate of each part at a time.
    for (let round = 0, tried = 0; tried < d; round++) {
      inRound(train.part, round, turns);
      for (let j = 0; j < d; j++) if (turns[j]) acc[j] += 1 + Math.abs(r2[j]);
      rest(train, acc, r1);
      for (let j = 0; j < d; j++) {
        if (!turns[j]) continue;
        tried++;
        const step = 1 + Math.abs(r2[j]);
        acc[j] = r2[j];
        for (let k = 0; k < d; k++) if (train.part[k] === train.part[j]) solver.a[j * d + k] = (r1[k] - r0[k]) / step;
      }
    }
    for (let k = 0; k < d; k++) solver.b[k] = -r0[k];
    solver.factor(1e-13);
    const x = solver.solve();
    for (let k = 0; k < d; k++) if (Number.isFinite(x[k])) acc[k] += x[k];
  }
  rest(train, acc, r0);
  return acc;
}

/**
 * The rates of the free coordinates that the mode allows, nearest
 * to the old ones of all coordinates as the masses weigh them.
 */
export function projectRates(train: FreeTrain, t: number, rates: Float64Array): Float64Array {
  const { pose, forces, led, free, all, u } = train;
  const d = free.length,
    n = pose.kinematics.count;
  const give = (speeds: Float64Array): Float64Array => {
    const out = new Float64Array(n);
    pose.rates(all, speeds, u);
    pose.spreadRates(u, out);
    return out;
  };
  const base = give(train.ledSpeeds(t));
  const basis = free.map((_, k) => give(Float64Array.from(all, (_c, i) => (i === led.length + k ? 1 : 0))));
  const energy = (v: Float64Array): number => {
    forces.velocity.set(v);
    return forces.kinetic();
  };
  const sum = (a: Float64Array, b: Float64Array, s: number): Float64Array => a.map((x, i) => x + s * b[i]);
  const pair = (a: Float64Array, b: Float64Array): number => (energy(sum(a, b, 1)) - energy(sum(a, b, -1))) / 4;
  const want = sum(rates, base, -1);
  const solver = new LeastSquares(d, d);
  solver.begin(d, d);
  // What moves in parts of its own shares no kinetic energy.
  const { part } = train;
  for (let j = 0; j < d; j++) for (let k = 0; k < d; k++) if (part[j] === part[k]) solver.a[j * d + k] = 2 * pair(basis[k], basis[j]);
  for (let k = 0; k < d; k++) solver.b[k] = 2 * pair(basis[k], want);
  solver.factor(1e-12);
  return solver.solve().map((x) => (Number.isFinite(x) ? x : 0));
}
