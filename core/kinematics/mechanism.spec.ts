import { type Gear, type Rack, num } from '../elements/index';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { piToText } from '../math/index';
import { gearOf, rackOf } from '../elements/index';
import { gearOutline, rackOutline } from '../teeth/index';
import { Builder, row, item, state } from '../testing/designs';
import { compile, exactRatio, mapStops, setPhases, poseOf } from './index';
import { Hand } from '../motion/index';

const last = (d: ReturnType<typeof compile>): number => d.structure.coordinates.length - 1;

describe('ratios', () => {
  // Shigley's Mechanical Engineering Design, 9th ed., example 13-4: a 30:1 increase
  // in two stages without error, 6 × 5 with 96/16 and 80/16 (from memory).
  it('gives the compound train of a textbook exactly 30 : 1', () => {
    const c = compile(
      row([
        [96, 16],
        [80, 16],
      ]).design,
    );
    expect(piToText(exactRatio(c.reduction, last(c), 0)!)).toBe('30');
  });

  it('turns opposite at every external mesh and alike through an internal one', () => {
    const c = compile(row([[20, 40]]).design);
    expect(piToText(exactRatio(c.reduction, 1, 0)!)).toBe('-1/2');
    const b = new Builder();
    const p = b.shaft([15, 0, 0]),
      r = b.shaft([0, 0, 0]);
    b.mesh(b.gear(p.member, 30), b.gear(r.member, 60, 1, { internal: true }));
    b.motor(p.joint);
    const d = compile(b.design);
    expect(d.findings.filter((f) => f.severity === 'fault')).toEqual([]);
    expect(piToText(exactRatio(d.reduction, 1, 0)!)).toBe('1/2');
  });

  it('follows the pointing of the axes: turning a shaft’s axis round turns the sign of its ratio', () => {
    const b = new Builder();
    const p = b.shaft([0, 0, 0]),
      w = b.shaft([30, 0, 0], 'frame', { axis: [0, 0, -1] });
    b.mesh(b.gear(p.member, 20), b.gear(w.member, 40));
    b.motor(p.joint);
    const c = compile(b.design);
    expect(piToText(exactRatio(c.reduction, 1, 0)!)).toBe('1/2');
  });

  it('moves a rack by π m z per turn of its pinion', () => {
    const b = new Builder();
    const p = b.shaft([0, 0, 0]),
      s = b.slide([0, -10, 0], [1, 0, 0]);
    b.couple('rack-mesh', {
      a: b.gear(p.member, 20),
      b: b.element('rack', s.member, { teeth: 30, module: 1, width: 10, height: 8, axis: [0, 1, 0], up: [0, 0, 1] }),
    });
    b.motor(p.joint);
    const c = compile(b.design);
    expect(c.findings).toEqual([]);
    expect(piToText(exactRatio(c.reduction, 1, 0)!)).toBe('20π');
  });

  it('is the product of tooth counts, with a sign for each mesh, in any train', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.integer({ min: 18, max: 90 }), fc.integer({ min: 18, max: 90 })), { minLength: 1, maxLength: 12 }),
        (stages) => {
          const c = compile(row(stages).design);
          const r = exactRatio(c.reduction, last(c), 0)!;
          let n = 1n,
            d = 1n;
          for (const [a, b] of stages) {
            n *= BigInt(-a);
            d *= BigInt(b);
          }
          expect(r.q.n * d).toBe(n * r.q.d);
        },
      ),
      { numRuns: 40 },
    );
  });

  it('stays exact through a thousand couplings', () => {
    const stages = Array.from({ length: 1000 }, (_, k) => (k % 2 ? ([19, 23] as const) : ([23, 19] as const)));
    const c = compile(row(stages).design);
    expect(piToText(exactRatio(c.reduction, last(c), 0)!)).toBe('1');
    const m = poseOf(c);
    m.setFree([2 * Math.PI * 1000.25]);
    expect(m.q[last(c)] / (2 * Math.PI)).toBeCloseTo(1000.25, 12);
  });
});

describe('contradictions', () => {
  it('names the couplings of a loop whose ratios do not close', () => {
    const b = new Builder();
    const [s1, s2, s3] = [b.shaft([0, 0, 0]), b.shaft([30, 0, 0]), b.shaft([15, 40, 0])];
    const g = (m: string, z: number, k: number): string => b.gear(m, z, 1, { at: [0, 0, 20 * k] });
    const c1 = b.mesh(g(s1.member, 20, 0), g(s2.member, 40, 0)),
      c2 = b.mesh(g(s2.member, 20, 1), g(s3.member, 40, 1)),
      c3 = b.mesh(g(s3.member, 25, 2), g(s1.member, 24, 2));
    b.motor(s1.joint);
    const a = analyse(b.design);
    expect(a.freedoms).toBe(0);
    expect(a.findings.find((f) => f.code === 'couplings-contradict')!.ids.sort()).toEqual([c1, c2, c3].sort());
    // 40/20 · 40/20 · 24/25, with three reversals.
    expect(a.findings.find((f) => f.code === 'couplings-contradict')!.message).toContain('the ratio is −3.84, not 1');
  });

  it('says the ratio round the loop, once, and does not blame the source or a coupling that hangs on it', () => {
    const b = new Builder();
    const [s1, s2, s3, s4] = [b.shaft([0, 0, 0]), b.shaft([60, 0, 0]), b.shaft([60, 60, 0]), b.shaft([0, 200, 0])];
    const tie = (a: string, c: string, x: number, y: number): string => {
      const id = `t${b.design.couplings.length}`;
      b.design.couplings.push(item({ id, name: id, type: 'proportional', a, amountA: x, b: c, amountB: y }));
      return id;
    };
    const loop = [tie(s1.joint, s2.joint, 24, 25), tie(s2.joint, s3.joint, 2, 1), tie(s3.joint, s1.joint, 1, 2)];
    const innocent = tie(s3.joint, s4.joint, 1, 3);
    const motor = b.motor(s4.joint);
    const { findings } = analyse(b.design);
    const stops = findings.filter((f) => f.severity === 'fault');
    expect(stops.map((f) => f.code)).toEqual(['couplings-contradict']);
    expect([...stops[0].ids].sort()).toEqual(loop.sort());
    expect(stops[0].message).toContain('the ratio is 1.0417, not 1');
    const follows = findings.find((f) => f.code === 'stands-because')!;
    expect(follows.ids).toEqual([innocent, motor]);
    expect([...follows.because!].sort()).toEqual(loop);
  });

  it('says of a third wheel between two coupled shafts that it repeats what is known', () => {
    const b = row([[20, 40]]);
    const [m1, m2] = b.design.members;
    b.mesh(b.gear(m1.id, 20, 1, { at: [0, 0, 40] }), b.gear(m2.id, 40, 1, { at: [0, 0, 40] }));
    expect(analyse(b.design).findings.some((f) => f.code === 'coupling-redundant')).toBe(true);
  });
});

describe('mobility', () => {
  it('counts down as couplings are added and names what is left', () => {
    const b = new Builder();
    const s1 = b.shaft([0, 0, 0], 'frame', { name: 'Input' }),
      s2 = b.shaft([30, 0, 0], 'frame', { name: 'Output' });
    b.motor(s1.joint);
    expect(analyse(b.design).freedoms).toBe(2);
    expect(analyse(b.design).findings.find((f) => f.code === 'freedom-undriven')!.message).toContain('“Output” can move and nothing drives it');
    b.mesh(b.gear(s1.member, 20), b.gear(s2.member, 40));
    expect(analyse(b.design).freedoms).toBe(1);
    expect(analyse(b.design).undriven).toEqual([]);
  });

  it('holds a member that nothing carries and says so', () => {
    const b = new Builder();
    const m = b.member([0, 0, 0]);
    expect(analyse(b.design).findings.find((f) => f.code === 'member-not-carried')!.ids).toEqual([m]);
  });
});

describe('stops', () => {
  const train = (lower: unknown, upper: unknown, home?: number) => {
    const b = row([[20, 40]]);
    const j = b.design.joints[1];
    Object.assign(j, { lower, upper, home });
    return b.design;
  };
  it('maps a stop of the driven shaft onto the source exactly, whichever way it was typed', () => {
    for (const [lo, hi] of [
      [-90, 180],
      [180, -90],
    ]) {
      const i = mapStops(compile(train(lo, hi)), 0);
      expect(i.lower!.at).toBe(-1);
      expect(i.upper!.at).toBe(0.5);
      expect(i.lower!.which).toBe('upper');
    }
  });
  it('takes the tightest of several', () => {
    const d = train(-360, 360);
    Object.assign(d.joints[0], { upper: 90 });
    const i = mapStops(compile(d), 0);
    expect(i.upper).toMatchObject({ at: 0.25, joint: d.joints[0].id });
  });
  it('holds the hand at the stop and names it', () => {
    const h = new Hand(poseOf(compile(train(-90, 180))));
    const r = h.move(0, 100);
    expect(r.value / (2 * Math.PI)).toBeCloseTo(0.5, 12);
    expect(r.held).toMatchObject({ which: 'lower' });
  });
  it('finds a home outside the stops', () => {
    expect(analyse(train(0, 90, 120)).findings.some((f) => f.code === 'home-outside-stops' && f.severity === 'fault')).toBe(true);
  });
});

describe('turning by hand', () => {
  it('leads the train from any member', () => {
    const m = poseOf(
      compile(
        row([
          [20, 40],
          [18, 54],
        ]).design,
      ),
    );
    expect(m.solve([2], [1])).toBe('ok');
    expect(m.q[0]).toBeCloseTo(6, 12);
    expect(m.q[1]).toBeCloseTo(-3, 12);
  });
  it('counts whole turns: a shaft after 1000.25 turns is there, not at 90°', () => {
    const m = poseOf(compile(row([[20, 40]]).design));
    m.solve([0], [1000.25 * 2 * Math.PI]);
    expect(m.q[1] / (2 * Math.PI)).toBeCloseTo(-500.125, 12);
  });
  it('places bodies where rotation about their axes puts them', () => {
    const m = poseOf(compile(row([[20, 20]]).design));
    m.solve([0], [Math.PI / 2]);
    const t = m.placements,
      b = 12 * 2;
    // The second shaft stands at x = 20 mm and has turned −90°: its point (21, 0) mm goes to (20, −1).
    expect(t[b] * 0.021 + t[b + 3]).toBeCloseTo(0.02, 12);
    expect(t[b + 4] * 0.021 + t[b + 7]).toBeCloseTo(-0.001, 12);
  });
});

describe('phase', () => {
  // Two equal wheels that both show a tooth on the line of centres need half a
  // tooth pitch: 18 teeth, 10° (concept of every gear drawing; common practice).
  it('needs a turn of 10° for an 18-tooth pair that shows two tips', () => {
    const d = row([[18, 18]]).design;
    state(d.elements[1], { phase: undefined });
    const r = setPhases(d);
    expect(r.steps).toHaveLength(1);
    expect(Math.abs(r.steps[0].add)).toBeCloseTo(10, 9);
    expect(analyse(r.design).findings.some((f) => f.code === 'phase-off')).toBe(false);
    expect(analyse(d).findings.some((f) => f.code === 'phase-off')).toBe(true);
  });

  /** Closest approach of two outlines placed in a plane: negative area is not needed, crossing flanks are enough. */
  const inside = (poly: number[], x: number, y: number): boolean => {
    let odd = false;
    for (let i = 0, n = poly.length; i < n; i += 2) {
      const x0 = poly[i],
        y0 = poly[i + 1],
        x1 = poly[(i + 2) % n],
        y1 = poly[(i + 3) % n];
      if (y0 > y !== y1 > y && x < x0 + ((y - y0) / (y1 - y0)) * (x1 - x0)) odd = !odd;
    }
    return odd;
  };

  it('lets no point of one wheel into the other, at any pose of any pair', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 18, max: 40 }),
        fc.integer({ min: 18, max: 40 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 6.28, noNaN: true }),
        (z1, z2, turn, direction) => {
          const b = new Builder();
          const a = (2 * (z1 + z2)) / 2;
          const s1 = b.shaft([0, 0, 0]),
            s2 = b.shaft([a * Math.cos(direction), a * Math.sin(direction), 0]);
          b.mesh(b.gear(s1.member, z1, 2, { thinning: 0.02 }), b.gear(s2.member, z2, 2));
          const d = setPhases(b.design).design;
          const place = (k: number, angle: number, cx: number, cy: number): number[] => {
            const e: Gear = d.elements[k];
            const o = gearOutline(gearOf(e), (Number(e.phase ?? 0) * Math.PI) / 180 + angle);
            return o.map((v, i) => v + (i % 2 ? cy : cx));
          };
          const o1 = place(0, turn, 0, 0),
            o2 = place(1, (-turn * z1) / z2, a * Math.cos(direction), a * Math.sin(direction));
          for (let i = 0; i < o2.length; i += 2) expect(inside(o1, o2[i], o2[i + 1])).toBe(false);
        },
      ),
      { numRuns: 25 },
    );
  });

  it('puts a pinion’s teeth into a rack’s spaces', () => {
    const b = new Builder();
    const p = b.shaft([3, 20, 0]),
      s = b.slide([0, 0, 0], [1, 0, 0]);
    b.couple('rack-mesh', {
      a: b.gear(p.member, 20, 2, { thinning: 0.02 }),
      b: b.element('rack', s.member, { teeth: 12, module: 2, width: 10, height: 12, axis: [0, 1, 0], up: [0, 0, 1] }),
    });
    const d = setPhases(b.design).design;
    expect(analyse(d).findings.filter((f) => f.severity !== 'note' && f.code !== 'freedom-undriven')).toEqual([]);
    const c = compile(d);
    const f = c.elementFrames.get(d.elements[1].id)!;
    const rack = rackOutline(rackOf(d.elements[1]), num((d.elements[1] as Rack).phase));
    const world = rack.map((_, i) => (i % 2 ? f.o[1] + f.x[1] * rack[i - 1] + f.y[1] * rack[i] : f.o[0] + f.x[0] * rack[i] + f.y[0] * rack[i + 1]));
    const pinion = gearOutline(gearOf(d.elements[0]), 0).map((v, i) => v + (i % 2 ? 20 : 3));
    for (let i = 0; i < pinion.length; i += 2) expect(inside(world, pinion[i], pinion[i + 1])).toBe(false);
  });
});

describe('meshes that do not fit', () => {
  const codes = (b: Builder): string[] => analyse(b.design).findings.map((f) => f.code);
  const pair = (distance: number, more: Record<string, unknown> = {}): Builder => {
    const b = new Builder();
    const s1 = b.shaft([0, 0, 0]),
      s2 = b.shaft([distance, 0, 0]);
    b.mesh(b.gear(s1.member, 20), b.gear(s2.member, 40, 1, more));
    return b;
  };
  it.each([
    [30.5, {}, 'open-mesh'],
    [40, {}, 'too-far-apart'],
    [29, {}, 'tight-mesh'],
    [20, {}, 'too-close'],
    [30, { module: 2 }, 'module-differs'],
    [30, { pressureAngle: 25 }, 'pressure-angle-differs'],
    [30, { helix: 10 }, 'helix-differs'],
    [30, { at: [0, 0, 50] }, 'faces-apart'],
    [30, { bore: 39 }, 'bore-too-large'],
  ])('at %f mm with %j: %s', (distance, more, code) => expect(codes(pair(distance, more))).toContain(code));

  it('refuses gears on one member, on one line, on crossed axes, and without a common carrier', () => {
    const same = new Builder();
    const s = same.shaft([0, 0, 0]);
    same.mesh(same.gear(s.member, 20), same.gear(s.member, 20));
    expect(codes(same)).toContain('coupling-same-member');
    const line = new Builder();
    const [a, b] = [line.shaft([0, 0, 0]), line.shaft([0, 0, 0])];
    line.mesh(line.gear(a.member, 20), line.gear(b.member, 20));
    expect(codes(line)).toContain('axes-coincide');
    const crossed = new Builder();
    const [c, d] = [crossed.shaft([0, 0, 0]), crossed.shaft([20, 0, 0], 'frame', { axis: [0, 1, 0] })];
    crossed.mesh(crossed.gear(c.member, 20), crossed.gear(d.member, 20));
    expect(codes(crossed)).toContain('axes-not-parallel');
    const apart = new Builder();
    const [e, slide] = [apart.shaft([0, 0, 0]), apart.slide([20, 0, 0], [0, 1, 0])];
    const f = apart.shaft([20, 0, 0], slide.member);
    apart.mesh(apart.gear(e.member, 20), apart.gear(f.member, 20));
    expect(codes(apart)).toContain('no-common-carrier');
  });
});
