import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Load } from '../fields/types';
import { PLACEMENT, type Vec3, WORLD, cross, dot, frameOf, setIdentity, turnAbout, vsub } from '../math/index';
import { BY_SPEED, type Bodies, type BodyLoad, type CoordinateLoad, LOAD_KINDS, type Moment, bindLoads } from './index';

/** Two bodies beside the frame: “a” stands at the origin, “b” 100 mm along x, turned a quarter about z; and two coordinates. */
const bodies: Bodies = {
  bodyOf: (id) => ({ frame: 0, a: 1, b: 2 })[id],
  frameOf: (id) => (id === 'b' ? frameOf([100, 0, 0], [0, 0, 1], [0, 1, 0]) : WORLD),
  coordinateOf: (joint) =>
    joint === 'turn' ? { index: 0, slide: false, sign: 1 } : joint === 'slide' ? { index: 1, slide: true, sign: 1 } : undefined,
};
const moment = (more: Partial<Moment> = {}): Moment => {
  const placements = new Float64Array(3 * PLACEMENT);
  for (let b = 0; b < 3; b++) setIdentity(placements, PLACEMENT * b);
  return {
    placements,
    twist: new Float64Array(18),
    q: new Float64Array(2),
    velocity: new Float64Array(2),
    frictionSense: new Int8Array(2).fill(BY_SPEED),
    still: 0,
    ...more,
  };
};
interface Put {
  body: number;
  point?: Vec3;
  force?: Vec3;
  couple?: Vec3;
}
function put(load: Record<string, unknown>, at: Moment): Put[] {
  const out: Put[] = [];
  const [bound] = bindLoads([{ id: 'l', name: 'L', ...load } as unknown as Load], bodies);
  (bound as BodyLoad).apply(at, {
    force: (_id, body, px, py, pz, fx, fy, fz) => void out.push({ body, point: [px, py, pz], force: [fx, fy, fz] }),
    couple: (_id, body, _px, _py, _pz, mx, my, mz) => void out.push({ body, couple: [mx, my, mz] }),
  });
  return out;
}
const along = (load: Record<string, unknown>, at: Partial<Moment>): number => {
  const [bound] = bindLoads([{ id: 'l', name: 'L', ...load } as unknown as Load], bodies);
  return (bound as CoordinateLoad).value(moment(at));
};
const near = (a: Vec3, b: Vec3): void => a.forEach((x, k) => expect(x).toBeCloseTo(b[k], 9));
/** Body b turned about the world's z through the origin. */
const turned = (angle: number): Moment => {
  const m = moment();
  turnAbout(m.placements, 2 * PLACEMENT, -1, 0, 0, 1, 0, 0, 0, angle, 0);
  return m;
};

describe('a force', () => {
  const load = { type: 'force', member: 'b', at: [10, 0, 0], force: [0, 0, -5] };
  it('acts at its point of the member, stated in the member’s own directions', () => {
    const [f] = put(load, moment());
    expect(f.body).toBe(2);
    near(f.point!, [0.1, 0.01, 0]);
    near(f.force!, [0, 0, -5]);
  });
  it('keeps its direction in the world, or turns with the member', () => {
    const sideways = { ...load, force: [3, 0, 0] };
    near(put(sideways, turned(Math.PI / 2))[0].force!, [3, 0, 0]);
    // The member's own x lies along the world's y, and a quarter turn further along −x.
    near(put({ ...sideways, follows: true }, moment())[0].force!, [0, 3, 0]);
    near(put({ ...sideways, follows: true }, turned(Math.PI / 2))[0].force!, [-3, 0, 0]);
    near(put(sideways, turned(Math.PI / 2))[0].point!, [-0.01, 0.1, 0]);
  });
  it('on the frame, or on a member that is not there, does nothing', () => {
    expect(bindLoads([{ id: 'x', name: 'X', ...load, member: 'frame' } as unknown as Load], bodies)).toEqual([]);
    expect(bindLoads([{ id: 'x', name: 'X', ...load, member: 'gone' } as unknown as Load], bodies)).toEqual([]);
  });
});

describe('a torque', () => {
  it('is a couple, in the world’s directions or the member’s', () => {
    const load = { type: 'torque', member: 'b', torque: [2, 0, 0] };
    near(put(load, turned(Math.PI))[0].couple!, [2, 0, 0]);
    near(put({ ...load, follows: true }, turned(Math.PI))[0].couple!, [0, -2, 0]);
  });
});

describe('a spring between points', () => {
  const load = { type: 'spring', member: 'a', other: 'b', rate: 2, free: 60, preload: 7, damping: 0.5 };
  it('pulls both ends together by rate times stretch and what it was tightened by', () => {
    const [a, b] = put(load, moment());
    // 100 mm long, 40 mm stretched: 2 · 40 + 7 N.
    near(a.force!, [87, 0, 0]);
    near(b.force!, [-87, 0, 0]);
    expect([a.body, b.body]).toEqual([1, 2]);
  });
  it('pushes when it is shorter, and is damped along its line only', () => {
    expect(put({ ...load, free: 200, preload: 0 }, moment())[0].force![0]).toBeCloseTo(-200, 9);
    const m = moment();
    // The far end runs away at 0.3 m/s along it, and across it at whatever.
    m.twist.set([0, 0, 0, 0.3, 9, -4], 12);
    expect(put(load, m)[0].force![0]).toBeCloseTo(87 + 0.5 * 300, 9);
  });
  it('to the frame where nothing else is named; without length it does nothing', () => {
    const f = put({ type: 'spring', member: 'b', rate: 1, free: 0 }, moment());
    near(f[0].force!, [-100, 0, 0]);
    expect(f[1].body).toBe(0);
    expect(put({ type: 'spring', member: 'a', rate: 1, preload: 5 }, moment())).toEqual([]);
  });
  it('adds no force and no moment to the whole, and takes from motion exactly what its energy and its damper take', () => {
    const point = fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: -200, max: 200 })));
    const number = (max: number) => fc.integer({ min: 0, max });
    fc.assert(
      fc.property(
        point,
        point,
        number(50),
        number(300),
        number(40),
        number(5),
        fc.array(fc.double({ min: -2, max: 2, noNaN: true }), { minLength: 6, maxLength: 6 }),
        (at, otherAt, rate, free, preload, damping, rates) => {
          const m = moment();
          m.twist.set(rates, 12);
          const f = put({ type: 'spring', member: 'a', at, other: 'b', otherAt, rate, free, preload, damping }, m);
          if (!f.length) return;
          const sum = [0, 1, 2].map((k) => f[0].force![k] + f[1].force![k]);
          near(sum as unknown as Vec3, [0, 0, 0]);
          const about = f.map((x) => cross(x.point!, x.force!));
          [0, 1, 2].forEach((k) => expect(about[0][k] + about[1][k]).toBeCloseTo(0, 6));
          // Power on the moving body: less the rate of ½c(L − L0)² + preload·L, less damping times speed squared.
          const [w, v] = [rates.slice(0, 3), rates.slice(3)] as unknown as [Vec3, Vec3];
          const speedOf = cross(w, f[1].point!).map((x, k) => x + v[k]) as unknown as Vec3;
          const d = vsub(f[1].point!, f[0].point!);
          const length = Math.hypot(...d);
          const stretching = dot(speedOf, d) / length;
          const taken = (rate * 1e3 * (length - free * 1e-3) + preload) * stretching + damping * 1e3 * stretching ** 2;
          expect(dot(speedOf, f[1].force!)).toBeCloseTo(-taken, 5);
        },
      ),
    );
  });
});

describe('loads along a joint', () => {
  it('a stated load is the same at every place and speed', () => {
    const load = { type: 'joint-load', joint: 'turn', value: -3.5 };
    expect(along(load, {})).toBe(-3.5);
    expect(along(load, { q: Float64Array.of(9, 9), velocity: Float64Array.of(-4, 4) })).toBe(-3.5);
  });
  it('a spring is stated per degree of a turn and per mm of a travel', () => {
    const spring = { type: 'joint-spring', rate: 2, free: 10, preload: 1, damping: 0.5 };
    // 40° past home is 30° past where it is unloaded; it turns at 100°/s.
    const turn = along(
      { ...spring, joint: 'turn' },
      { q: Float64Array.of((40 * Math.PI) / 180, 0), velocity: Float64Array.of((100 * Math.PI) / 180, 0) },
    );
    expect(turn).toBeCloseTo(1 - 2 * 30 - 0.5 * 100, 9);
    const slide = along({ ...spring, joint: 'slide' }, { q: Float64Array.of(0, 0.04), velocity: Float64Array.of(0, -0.02) });
    expect(slide).toBeCloseTo(1 - 2 * 30 + 0.5 * 20, 9);
  });
  it('dry friction is against the motion, none at rest, and in the sense that a run states', () => {
    const load = { type: 'joint-friction', joint: 'slide', value: 8 };
    const at = (v: number, sense = BY_SPEED) => along(load, { velocity: Float64Array.of(0, v), frictionSense: new Int8Array(2).fill(sense) });
    expect([at(1), at(-1e-9), at(0)].map((x) => x + 0)).toEqual([-8, 8, 0]);
    expect([at(1, -1), at(0, 1), at(1, 0)].map((x) => x + 0)).toEqual([8, -8, 0]);
  });
  it('of a joint that is not there is left out', () => {
    for (const type of ['joint-load', 'joint-spring', 'joint-friction']) {
      expect(bindLoads([{ id: 'x', name: 'X', type, joint: 'gone', value: 1, rate: 1 } as unknown as Load], bodies)).toEqual([]);
    }
  });
});

describe('every kind of load', () => {
  it('is known by one name, has fields, and gives the same answer each time', () => {
    expect(new Set(LOAD_KINDS.map((k) => k.type)).size).toBe(LOAD_KINDS.length);
    for (const kind of LOAD_KINDS) {
      const stated = { id: 'l', name: 'L', type: kind.type, member: 'b', joint: 'turn', force: [1, 2, 3], torque: [1, 2, 3], rate: 1, value: 1 };
      const bound = kind.bind(stated as unknown as Load, bodies)!;
      expect(bound, kind.type).toBeDefined();
      expect(kind.fields.length).toBeGreaterThan(0);
      const at = moment();
      const sink = { force: () => undefined, couple: () => undefined };
      // The same answer each time: nothing is left behind in what was bound.
      const first: number[] = [];
      const note = { force: (...a: unknown[]) => void first.push(...(a.slice(1) as number[])), couple: sink.couple };
      if (bound.on === 'bodies') {
        bound.apply(at, note);
        const once = [...first];
        first.length = 0;
        for (let k = 0; k < 5; k++) bound.apply(at, sink);
        bound.apply(at, note);
        expect(first).toEqual(once);
      } else expect(bound.value(at)).toBe(bound.value(at));
    }
  });
});

describe('fields of a load that follow from what it acts on', () => {
  it('a journal has a diameter once a joint is chosen for it', () => {
    const kind = LOAD_KINDS.find((k) => k.fields.some((f) => f.key === 'coefficient' && f.required))!;
    const shown = (load: object): string[] => kind.fields.filter((f) => !f.when || f.when(load)).map((f) => f.key);
    expect(shown({})).not.toContain('diameter');
    expect(shown({ joint: 'j1' })).toContain('diameter');
  });
});
