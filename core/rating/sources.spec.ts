import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { figure } from '../testing/figures';
import { analyse } from '../checks/index';
import { readDesign } from '../document/index';
import type { Design } from '../fields/types';
import { Builder } from '../testing/designs';
import { ratingOf } from './trial';
import { type MotorStep, energyOf, limitAt, rootMeanSquare, startsIn, warmestTorque } from './motor';
import { savedRuns } from './instants';
import type { RatingLine } from './protocol';
import { rate } from './rate';

describe('how warm a motor gets', () => {
  const duty = (load: number, on: number): MotorStep[] => [
    { part: on, load, speed: 100 },
    { part: 1 - on, load: 0, speed: 0 },
  ];
  it('duty type S3 in closed form: θ = T²·(1 − e^(−on/τ))/(1 − e^(−(on + off)/τ)) at the end of each spell of work', () => {
    for (const [on, lasts, tau] of [
      [0.4, 600, 900],
      [0.25, 60, 1200],
      [0.6, 3000, 300],
    ]) {
      const closed = 10 * Math.sqrt((1 - Math.exp((-on * lasts) / tau)) / (1 - Math.exp(-lasts / tau)));
      expect(warmestTorque(duty(10, on), lasts, tau)).toBeCloseTo(closed, 9);
    }
  });
  it('a short cycle counts by its root mean square, a long one by its peak, and all others lie between', () => {
    const steps = fc.array(fc.record({ weight: fc.double({ min: 0.1, max: 1, noNaN: true }), load: fc.double({ min: -50, max: 50, noNaN: true }) }), {
      minLength: 1,
      maxLength: 8,
    });
    fc.assert(
      fc.property(steps, fc.double({ min: 1, max: 1e4, noNaN: true }), (all, tau) => {
        const whole = all.reduce((s, x) => s + x.weight, 0);
        const cycle = all.map((x): MotorStep => ({ part: x.weight / whole, load: x.load, speed: 1 }));
        const rms = rootMeanSquare(cycle);
        const peak = Math.max(...cycle.map((x) => Math.abs(x.load)));
        const at = warmestTorque(cycle, 1000, tau);
        expect(at).toBeGreaterThanOrEqual(rms * (1 - 1e-9));
        expect(at).toBeLessThanOrEqual(peak * (1 + 1e-9) + 1e-12);
        expect(warmestTorque(cycle, 1e-3, tau * 1e3)).toBeCloseTo(rms, 3);
        expect(warmestTorque(cycle, 1e6 * tau, tau)).toBeCloseTo(peak, 3);
      }),
      { seed: 7, numRuns: 200 },
    );
  });
  it('energy that is given and that comes back: 10 N·m at 60 rev/min for 3 s are 188.5 J', () => {
    const steps = [
      { part: 0.6, load: 10, speed: 60 },
      { part: 0.4, load: -5, speed: 60 },
    ];
    const { given, taken } = energyOf(steps, 5, (2 * Math.PI) / 60);
    expect(given).toBeCloseTo(60 * Math.PI, 9);
    expect(taken).toBeCloseTo(20 * Math.PI, 9);
  });
});

describe('the rating of sources', () => {
  function train(motor: object): Design {
    const b = new Builder().weightless();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([60, 0, 0])];
    b.mesh(b.gear(s1.member, 20, 1.5), b.gear(s2.member, 60, 1.5));
    b.motor(s1.joint, 90, { name: 'Motor', ...motor } as never);
    b.load('joint-load', { joint: s2.joint, value: -30 });
    return b.design;
  }
  const lines = (d: Design): RatingLine[] => ratingOf(d).lines.filter((l) => l.what.startsWith('source'));
  it('a load case lasts: its torque against the rated one and the limit', () => {
    const all = lines(train({ ratedTorque: 8, mostTorque: 25 }));
    const of = (what: string): RatingLine => all.find((l) => l.what === what)!;
    expect(figure(of('source, warming'), 'Trms')).toBeCloseTo(10, 6);
    expect(of('source, warming').value).toBeCloseTo(0.8, 6);
    expect(of('source, torque').value).toBeCloseTo(2.5, 6);
    expect(ratingOf(train({})).unrated.map((u) => u.why)).toEqual(
      expect.arrayContaining(['its rated torque is not stated: no warming', 'its torque limit is not stated']),
    );
  });
  it('a run is repeated: root mean square, or the thermal model where its time constant is stated; energy of a cycle', () => {
    // A spring of 1 N·m/deg on the motor's own shaft, wound up by 40° and let back in 2 s: from 0 to 40 N·m and back.
    const wound = (thermalTime?: number): RatingLine => {
      const b = new Builder().weightless();
      const s = b.shaft([0, 0, 0]);
      b.motor(s.joint, 10, { ratedTorque: 30, profile: 'to and fro', amount: 40, time: 2, ...(thermalTime && { thermalTime }) } as never);
      b.load('joint-spring', { joint: s.joint, rate: 1 });
      const design: Design = { ...b.design, runs: [{ id: 'r1', name: 'Winding', until: 'time', duration: 2, frames: 201 }] };
      return rate(analyse(design).compiled, savedRuns(design)).lines.find((l) => l.what === 'source, warming')!;
    };
    const rms = figure(wound(), 'Trms');
    expect(rms).toBeGreaterThan(20);
    expect(rms).toBeLessThan(30);
    expect(wound().value).toBeCloseTo(30 / rms, 9);
    // What is wound up comes back: ½·c·φ².
    const stored = 0.5 * (180 / Math.PI) * ((40 * Math.PI) / 180) ** 2;
    expect(figure(wound(), 'W+')).toBeCloseTo(stored, 1);
    expect(figure(wound(), 'W−')).toBeCloseTo(stored, 1);
    const tw = figure(wound(1), 'Tw');
    expect(tw).toBeGreaterThan(rms);
    expect(tw).toBeLessThan(40);
    expect(figure(wound(1e4), 'Tw')).toBeCloseTo(rms, 1);
    expect(wound(1).value).toBeCloseTo(30 / tw, 9);
  });
  it('a limit over speed: straight between rows, nothing above the last; the instant nearest to it counts', () => {
    const rows = [
      { speed: 0, torque: 30 },
      { speed: 60, torque: 30 },
      { speed: 120, torque: 10 },
    ];
    expect([0, 30, 60, 90, 120, 121].map((n) => limitAt(rows, n))).toEqual([30, 30, 30, 20, 10, 0]);
    // 10 N·m at 90 rev/min, where 20 are allowed.
    const line = lines(train({ torqueLimits: rows })).find((l) => l.what === 'source, torque')!;
    expect([line.value, figure(line, 'Tlim')]).toEqual([expect.closeTo(2, 6), expect.closeTo(20, 9)]);
    // A limit for all speeds counts beside it.
    expect(lines(train({ torqueLimits: rows, mostTorque: 15 })).find((l) => l.what === 'source, torque')!.value).toBeCloseTo(1.5, 6);
    expect(lines(train({ torqueLimits: rows.slice(0, 2) })).find((l) => l.what === 'source, torque')!.value).toBe(0);
    expect(ratingOf(train({ torqueLimits: [...rows].reverse() })).unrated.map((u) => u.why)).toContain(
      'the speeds of its torque limit must rise from row to row',
    );
  });
  it('a limit over speed in a run: the worst product of both, not the greatest torque', () => {
    // A spring wound up from rest: most torque at the end, where it stands still again.
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    const torqueLimits = [
      { speed: 0, torque: 100 },
      { speed: 5, torque: 100 },
      { speed: 6, torque: 12 },
    ];
    b.motor(s.joint, 10, { torqueLimits, profile: 'part turn', amount: 40, time: 2, speedShape: 'harmonic' } as never);
    b.load('joint-spring', { joint: s.joint, rate: 1 });
    const design: Design = { ...b.design, runs: [{ id: 'r1', name: 'Winding', until: 'time', duration: 2, frames: 201 }] };
    const line = rate(analyse(design).compiled, savedRuns(design)).lines.find((l) => l.what === 'source, torque')!;
    // Harmonic: φ = 20·(1 − cos(π·t/2)) deg, so that it turns with π·20/2·sin(π·t/2) deg/s, 5.236 rev/min at most.
    const reserve = (t: number): number => {
      const n = ((Math.PI / 2) * 20 * Math.sin((Math.PI * t) / 2)) / 6;
      return (n <= 5 ? 100 : 100 - 88 * (n - 5)) / (20 * (1 - Math.cos((Math.PI * t) / 2)));
    };
    const least = Math.min(...Array.from({ length: 200 }, (_, k) => reserve((k + 1) / 100)));
    expect(line.value).toBeCloseTo(least, 2);
  });
  it('inertia ratio by hand: J1 + J2/i² over the rotor’s, and √ of it the ratio’s multiple for most acceleration', () => {
    const make = (motor: object): Design => {
      const b = new Builder().weightless();
      const heavy = (J: number) => ({ mass: 1, massCentre: [0, 0, 0], inertia: [J, J, J] }) as object;
      const [s1, s2] = [b.shaft([0, 0, 0], 'frame', heavy(0.002)), b.shaft([60, 0, 0], 'frame', heavy(0.09))];
      b.mesh(b.gear(s1.member, 20, 1.5), b.gear(s2.member, 60, 1.5));
      b.motor(s1.joint, 90, motor as never);
      return b.design;
    };
    const line = lines(make({ mostInertiaRatio: 8, rotor: 0.003 })).find((l) => l.what === 'source, inertia')!;
    expect(figure(line, 'JL')).toBeCloseTo(0.002 + 0.09 / 9, 9);
    expect(figure(line, 'JL/JM')).toBeCloseTo(4, 6);
    expect(line.value).toBeCloseTo(2, 6);
    // Acceleration at the load for a torque of the motor: k·T/(k²·JM + JL) is greatest where k² = JL/JM.
    const k = figure(line, 'k');
    const pushes = (x: number): number => x / (x * x * 0.003 + figure(line, 'JL'));
    expect(pushes(k)).toBeGreaterThan(pushes(k * 1.05));
    expect(pushes(k)).toBeGreaterThan(pushes(k / 1.05));
    expect(ratingOf(make({ mostInertiaRatio: 8 })).unrated.map((u) => u.why)).toContain('the inertia of its rotor is not stated: no inertia ratio');
  });
  it('starts per hour of a run that repeats: to and fro with a rest is two starts a cycle', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    b.motor(s.joint, 10, { mostStarts: 900, ratedTorque: 5, profile: 'to and fro', amount: 40, time: 2, dwell: 1 } as never);
    const design: Design = { ...b.design, runs: [{ id: 'r1', name: 'Cycle', until: 'time', duration: 4, frames: 401 }] };
    const line = rate(analyse(design).compiled, savedRuns(design)).lines.find((l) => l.what === 'source, starts')!;
    expect(figure(line, 'Z')).toBeCloseTo((2 * 3600) / 4, 6);
    expect(line.value).toBeCloseTo(0.5, 9);
    expect(
      startsIn(
        [1, 2, 3].map((speed) => ({ part: 1 / 3, load: 1, speed })),
        0.1,
      ),
    ).toBe(0);
  });
  it('starts are counted in runs: with load cases alone that is said, not passed over', () => {
    expect(ratingOf(train({ mostStarts: 100 })).unrated.map((u) => u.why)).toContain('its starts per hour need a saved run, which is repeated');
  });
  it('a holding brake of a source: the load less what the losses help, against the wanted safety', () => {
    const design = train({ brake: 12 });
    const lossy = { ...design, couplings: design.couplings.map((c) => ({ ...c, efficiency: 0.9 })) } as Design;
    // 30 N·m over 3 are 10 N·m; driving back, the teeth pass on 0.9 of it.
    const line = lines(lossy).find((l) => l.what === 'source, brake')!;
    expect(figure(line, 'T')).toBeCloseTo(9, 6);
    expect(line.value).toBeCloseTo(12 / 9, 6);
    expect(line.reserve).toBeCloseTo(12 / 9 / 1.5, 6);
    expect(lines(train({})).some((l) => l.what === 'source, brake')).toBe(false);
  });
  it('a brake that holds what no source drives; one on a driven joint holds nothing at rest', () => {
    const braked = (driven: boolean): ReturnType<typeof ratingOf> => {
      const b = new Builder().weightless();
      const s = b.shaft([0, 0, 0]);
      if (driven) b.motor(s.joint, 10);
      b.load('joint-load', { joint: s.joint, value: -40 });
      b.load('joint-brake', { joint: s.joint, value: 100, name: 'Disc brake' });
      return ratingOf(b.design);
    };
    const line = braked(false).lines.find((l) => l.what === 'brake')!;
    expect([line.name, line.value, line.reserve]).toEqual(['Disc brake', expect.closeTo(2.5, 9), expect.closeTo(2.5 / 1.5, 9)]);
    expect(braked(true).lines.some((l) => l.what === 'brake')).toBe(false);
    expect(braked(true).unrated.find((u) => u.name === 'Disc brake')!.why).toMatch(/holds nothing at rest/);
  });
  it('a run in which it lets go asks nothing of it, and a crank is not rated by warming', () => {
    const d = train({ ratedTorque: 8 });
    const free: Design = { ...d, runs: [{ id: 'r1', name: 'Let go', until: 'rest', duration: 1, frames: 11, letGo: true }] };
    expect(lines(free).every((l) => l.case === 'as stated')).toBe(true);
    expect(ratingOf(free).unrated.filter((u) => u.why.includes('“Let go”') && u.name === 'Motor')).toEqual([]);
    const crank = { ...d, sources: d.sources.map((x) => ({ ...x, type: 'crank' })) } as Design;
    expect(readDesign(crank).problems).toBeDefined();
  });
});
