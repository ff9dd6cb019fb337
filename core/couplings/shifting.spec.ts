import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { analyse, overlapOf } from '../checks/index';
import { Forces } from '../forces/index';
import { compile, poseOf, setPhases } from '../kinematics/index';
import { run } from '../motion/index';
import { Builder } from '../testing/designs';

/** A pinion that turns and travels along its axis, in mesh with a wheel that only turns. */
function shifting(helix: number, hand = 'right', stops: object = {}, shift2 = 0) {
  const b = new Builder().weightless();
  const beta = (helix * Math.PI) / 180;
  const at = (2 * (18 + 30)) / 2 / Math.cos(beta);
  const member = b.member([0, 0, 0]);
  const joint = b.joint('cylindrical', 'frame', member, stops);
  const wheel = b.shaft([at + shift2, 0, 0]);
  const other = hand === 'right' ? 'left' : 'right';
  const teeth = { width: 20, helix };
  b.mesh(b.gear(member, 18, 2, { ...teeth, hand }), b.gear(wheel.member, 30, 2, { ...teeth, hand: other }));
  b.motor(joint, 60);
  b.design.sources.push({ id: 'shift', name: 'Shift', type: 'motor', joint: `${joint}:1`, speed: 0 });
  return { b, joint, wheel: wheel.joint };
}
const TURN = 2 * Math.PI;

describe('a helical wheel that travels along its axis', () => {
  it('turns the other wheel by a turn of its own lead’s way: s tan β over that wheel’s pitch radius', () => {
    for (const hand of ['right', 'left']) {
      const { b } = shifting(25, hand);
      const m = poseOf(compile(b.design));
      const rates = new Float64Array(m.kinematics.count);
      m.rates([0, 1], Float64Array.of(0, 0.01), m.u);
      m.spreadRates(m.u, rates);
      const r = (2 * 30) / 2 / Math.cos((25 * Math.PI) / 180) / 1000;
      const due = (0.01 * Math.tan((25 * Math.PI) / 180)) / r;
      expect(Math.abs(rates[2])).toBeCloseTo(due, 9);
    }
  });

  it('keeps tooth in space on the way: true profiles do not overlap', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -15, max: 15, noNaN: true }),
        fc.double({ min: -1, max: 1, noNaN: true }),
        fc.boolean(),
        (travel, turns, right) => {
          const { b } = shifting(20, right ? 'right' : 'left');
          const a = analyse(setPhases(b.design).design);
          a.pose.solve([0, 1], [turns * TURN, travel * 1e-3]);
          expect(overlapOf(a.pose, a.compiled.couplings[0])!.area).toBeLessThan(8e-3);
        },
      ),
      { numRuns: 30 },
    );
  });

  it('does so on a rack as well', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -9, max: 9, noNaN: true }),
        fc.double({ min: -0.3, max: 0.3, noNaN: true }),
        fc.boolean(),
        (travel, turns, right) => {
          const b = new Builder().weightless();
          const pinion = b.member([0, 20 / Math.cos(Math.PI / 9), 0]);
          const joint = b.joint('cylindrical', 'frame', pinion);
          const slide = b.slide([0, 0, 0], [1, 0, 0], 'frame', { up: [0, 0, 1] });
          const teeth = { module: 2, width: 20, helix: 20 };
          const gear = b.gear(pinion, 20, 2, { ...teeth, hand: right ? 'right' : 'left' });
          const along = { axis: [1, 0, 0], up: [0, 0, 1] };
          b.couple('rack-mesh', {
            a: gear,
            b: b.element('rack', slide.member, { teeth: 41, height: 20, ...teeth, hand: right ? 'left' : 'right', ...along }),
          });
          b.motor(joint, 60);
          b.design.sources.push({ id: 'shift', name: 'Shift', type: 'motor', joint: `${joint}:1`, speed: 0 });
          const a = analyse(setPhases(b.design).design);
          a.pose.solve([0, 1], [turns * TURN, travel * 1e-3]);
          expect(overlapOf(a.pose, a.compiled.couplings[0])!.area).toBeLessThan(8e-3);
        },
      ),
      { numRuns: 30 },
    );
  });

  it('needs the teeth’s axial force to be held: tan βw of the tangential one, and what is put in comes out', () => {
    // On a wider distance the working circle, and with it the helix, is steeper (ISO 21771: tan βw = tan β · dw/d).
    for (const wider of [0, 0.4]) {
      const { b, wheel } = shifting(25, 'right', {}, wider);
      b.load('joint-load', { joint: wheel, value: -12 });
      const m = poseOf(compile(b.design));
      const f = new Forces(m);
      f.velocity.fill(0);
      m.rates([0, 1], Float64Array.of(TURN, 0.02), m.u);
      m.spreadRates(m.u, f.velocity);
      const s = f.evaluate();
      const beta = (25 * Math.PI) / 180;
      const standard = 48 / Math.cos(beta);
      const rw = ((18 / Math.cos(beta)) * (standard + wider)) / standard / 1000;
      const tangential = Math.abs(s.input[0]) / rw;
      const axial = tangential * ((Math.tan(beta) * rw) / (18 / Math.cos(beta) / 1000));
      expect(Math.abs(s.input[1]) / axial).toBeCloseTo(1, 9);
      expect(Math.abs(s.couplings[0].axial) / axial).toBeCloseTo(1, 9);
      const power = s.input[0] * f.velocity[0] + s.input[1] * f.velocity[1];
      expect(power).toBeCloseTo(12 * f.velocity[2], 9);
    }
  });
});

describe('faces along their travel', () => {
  const codes = (stops: object): string[] =>
    analyse(shifting(0, 'right', stops).b.design)
      .findings.map((f) => f.code)
      .filter((c) => /engagement/.test(c));

  it('leave engagement where the stops let them: 20 mm faces after 20 mm either way', () => {
    expect(codes({ lower2: -20, upper2: 20 })).toEqual([]);
    expect(codes({ lower2: -20, upper2: 24 })).toEqual(['leaves-engagement']);
    expect(codes({})).toEqual(['engagement-open', 'engagement-open']);
    const { findings } = analyse(shifting(0, 'right', { lower2: -20, upper2: 24 }).b.design);
    expect(findings.find((f) => f.code === 'leaves-engagement')!.message).toContain('a face wider by 8 mm would do');
  });

  it('end a run where they part', () => {
    const { b } = shifting(0);
    b.design.sources[1].speed = 50;
    const r = run(compile(b.design), { duration: 1, frames: 5 });
    expect(r.events.map((e) => e.kind)).toEqual(['leaves-engagement']);
    expect(r.events[0].time).toBeCloseTo(0.4, 7);
  });
});
