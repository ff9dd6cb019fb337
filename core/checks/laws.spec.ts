import { num } from '../elements/index';
import type { JointLoad } from '../loads/joint-load';
import { item } from '../testing/designs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Design, Id, emptyDesign } from '../document/index';
import { Forces, nominalVelocities } from '../forces/index';
import { compile, poseOf } from '../kinematics/index';
import { Vec3 } from '../math/index';
import { STAGE_KINDS, insertStage, withInputShaft } from '../sizing/index';
import { analyse } from './index';

/** Laws that hold for any train that can be built from stages. Each is a property of nature or of reference, not of the code. */
const TURNING = STAGE_KINDS.filter((k) =>
  ['spur', 'helical', 'internal', 'bevel', 'worm', 'v-belt', 'toothed-belt', 'chain', 'planetary'].includes(k.kind),
).map((k) => k.kind);
const ENDS = ['rack', 'screw', 'rolling', 'none'];

interface Train {
  design: Design;
  output: Id;
}
const train = fc
  .record({
    kinds: fc.array(fc.constantFrom(...TURNING), { minLength: 1, maxLength: 3 }),
    end: fc.constantFrom(...ENDS),
    angles: fc.array(fc.integer({ min: -180, max: 180 }), { minLength: 4, maxLength: 4 }),
    load: fc.integer({ min: 5, max: 400 }),
    speed: fc.integer({ min: -300, max: 300 }).filter((n) => n !== 0),
  })
  .map(({ kinds, end, angles, load, speed }): Train => {
    let s = withInputShaft(emptyDesign('train'), { type: 'motor', name: 'Motor', fields: { speed } });
    [...kinds, end].forEach((kind, k) => {
      if (kind !== 'none') s = insertStage(s.design, { kind, from: s.output, values: { angle: angles[k] } })!;
    });
    const joint = s.design.joints.find((j) => j.child === s.output)!.id;
    const against = Math.sign(analyse(s.design).ledger.lines.find((l) => l.member === s.output)!.speed) || 1;
    return {
      design: {
        ...s.design,
        settings: { gravity: [0, 0, 0] },
        loads: [item({ id: 'load', name: 'Load', type: 'joint-load', joint, value: -against * load })],
      },
      output: s.output,
    };
  });

const input = (d: Design): number => analyse(d).ledger.sources[0].load;
const speedOf = (d: Design, m: Id): number => analyse(d).ledger.lines.find((l) => l.member === m)!.speed;
const RUNS = { numRuns: 40 };

describe('laws of trains', () => {
  it('energy: what the source gives is what the load takes and the couplings lose, and no coupling makes power', () => {
    fc.assert(
      fc.property(train, ({ design }) => {
        const { ledger } = analyse(design);
        expect(Math.abs(ledger.input - ledger.output - ledger.loss) / Math.abs(ledger.input)).toBeLessThan(1e-9);
        for (const c of ledger.couplings) expect(c.loss).toBeGreaterThan(-1e-9 * Math.abs(ledger.input));
        expect(ledger.efficiency).toBeGreaterThan(0);
        expect(ledger.efficiency).toBeLessThanOrEqual(1 + 1e-12);
      }),
      RUNS,
    );
  });

  it('proportion: twice the load needs twice the torque, at any speed', () => {
    fc.assert(
      fc.property(train, fc.double({ min: 0.2, max: 8, noNaN: true }), ({ design }, k) => {
        const scaled = { ...design, loads: design.loads.map((l: JointLoad) => ({ ...l, value: num(l.value) * k })) };
        expect(input(scaled) / input(design)).toBeCloseTo(k, 8);
        const faster = { ...design, sources: design.sources.map((s) => ({ ...s, speed: s.speed! * k })) };
        expect(input(faster) / input(design)).toBeCloseTo(1, 8);
      }),
      RUNS,
    );
  });

  it('time: turned the other way under the same load’s friction, every member turns the other way at the same speed', () => {
    fc.assert(
      fc.property(train, ({ design }) => {
        const back = { ...design, sources: design.sources.map((s) => ({ ...s, speed: -s.speed! })) };
        for (const m of design.members) expect(speedOf(back, m.id)).toBeCloseTo(-speedOf(design, m.id), 8);
      }),
      RUNS,
    );
  });

  it('reference: an axis stated the other way round turns the signs of what belongs to it, and nothing else', () => {
    fc.assert(
      fc.property(train, ({ design }) => {
        // The input shaft turned end for end, with all that is on it staying where it was in the world.
        const [first] = design.members;
        const flip = (v: Vec3): Vec3 => [v[0], -v[1], -v[2]];
        const turned: Design = {
          ...design,
          members: design.members.map((m) => (m.id === first.id ? { ...m, axis: first.axis!.map((x) => -x + 0) as unknown as Vec3 } : m)),
          elements: design.elements.map((e) =>
            e.member === first.id ? { ...e, at: flip(e.at ?? [0, 0, 0]), axis: flip(e.axis ?? [0, 0, 1]), up: flip(e.up ?? [1, 0, 0]) } : e,
          ),
          sources: design.sources.map((s) => ({ ...s, speed: -s.speed! })),
        };
        const a = analyse(design),
          b = analyse(turned);
        expect(b.findings.map((f) => f.code)).toEqual(a.findings.map((f) => f.code));
        for (const m of design.members) {
          const [x, y] = [a, b].map((w) => w.ledger.lines.find((l) => l.member === m.id)!);
          expect(y.speed).toBeCloseTo(m.id === first.id ? -x.speed : x.speed, 8);
          expect(y.load).toBeCloseTo(x.load, 6);
        }
        expect(b.ledger.sources[0].load).toBeCloseTo(-a.ledger.sources[0].load, 6);
      }),
      RUNS,
    );
  });

  it('space: carried elsewhere and turned as a whole, a train has the same ratios, findings and torques', () => {
    fc.assert(
      fc.property(train, fc.tuple(fc.integer({ min: -900, max: 900 }), fc.integer({ min: -900, max: 900 })), ({ design }, [dx, dz]) => {
        // A quarter turn about z and a shift: exact in decimals, so nothing but the place changes.
        const turn = (v: Vec3): Vec3 => [-v[1] + 0, v[0], v[2]];
        const there = (v: Vec3): Vec3 => [-v[1] + dx, v[0], v[2] + dz];
        const moved: Design = {
          ...design,
          members: design.members.map((m) => ({ ...m, at: there(m.at ?? [0, 0, 0]), axis: turn(m.axis ?? [0, 0, 1]), up: turn(m.up ?? [1, 0, 0]) })),
          elements: design.elements.map((e) =>
            e.member === 'frame' ? { ...e, at: there(e.at ?? [0, 0, 0]), axis: turn(e.axis ?? [0, 0, 1]), up: turn(e.up ?? [1, 0, 0]) } : e,
          ),
        };
        const a = analyse(design),
          b = analyse(moved);
        expect(b.ratios).toEqual(a.ratios);
        expect(b.findings.map((f) => f.code)).toEqual(a.findings.map((f) => f.code));
        expect(b.ledger.sources[0].load).toBeCloseTo(a.ledger.sources[0].load, 6);
      }),
      RUNS,
    );
  });

  it('order: items listed in another order make the same train', () => {
    fc.assert(
      fc.property(train, fc.integer({ min: 1, max: 1e6 }), ({ design }, seed) => {
        const mix = <T>(list: T[]): T[] =>
          list
            .map((x, i) => [((i + 1) * seed * 7919) % 1009, x] as const)
            .sort((p, q) => p[0] - q[0])
            .map((p) => p[1]);
        const mixed: Design = {
          ...design,
          members: mix(design.members),
          joints: mix(design.joints),
          elements: mix(design.elements),
          couplings: mix(design.couplings),
        };
        const by = (d: Design): [string, string][] =>
          analyse(d)
            .ratios.map((r): [string, string] => [r.to, r.exact])
            .sort();
        expect(by(mixed)).toEqual(by(design));
        expect(input(mixed)).toBeCloseTo(input(design), 6);
      }),
      RUNS,
    );
  });

  it('names: other ids make the same train', () => {
    fc.assert(
      fc.property(train, ({ design }) => {
        const text = JSON.stringify(design).replace(/"(member|joint|part|tie)(\d+)"/g, '"$1-$2x"');
        const other = JSON.parse(text) as Design;
        expect(analyse(other).ratios.map((r) => r.exact)).toEqual(analyse(design).ratios.map((r) => r.exact));
      }),
      { numRuns: 15 },
    );
  });

  it('action and reaction: the frame carries what the loads bring in, no more', () => {
    fc.assert(
      fc.property(train, ({ design: lossy }) => {
        // What a coupling loses presses on its carrier directly; without losses all goes through the joints.
        const design: Design = { ...lossy, couplings: lossy.couplings.map((c) => ('friction' in c ? c : { ...c, efficiency: 1 })) };
        fc.pre(!design.couplings.some((c) => c.type === 'worm-drive' || c.type === 'screw-drive'));
        const m = poseOf(compile(design)),
          f = new Forces(m);
        nominalVelocities(m, f.velocity);
        f.evaluate();
        const R = f.reactions();
        // All joints to the frame, without the load between slide and frame: nothing weighs, so forces add up to the load's own.
        const sum = [0, 0, 0];
        for (let b = 1; b < m.kinematics.bodies; b++) {
          if (m.kinematics.parentOf[b] !== 0) continue;
          for (let k = 0; k < 3; k++) sum[k] += R[6 * m.kinematics.bodyCoordinate[b] + k];
        }
        const first: JointLoad = design.loads[0];
        const load = num(first.value);
        const c = m.compiled.structure.coordinates[m.compiled.structure.firstOf.get(first.joint!)!];
        const own = c.motion === 'slide' ? c.axis.map((x) => -x * load) : [0, 0, 0];
        // Fixed rings and racks pass their tooth forces to the frame beside the joints: only trains without them are judged here.
        fc.pre(!design.elements.some((e) => e.member === 'frame'));
        const size = Math.max(1, ...R.map(Math.abs));
        for (let k = 0; k < 3; k++) expect(Math.abs(sum[k] - own[k]) / size).toBeLessThan(1e-9);
      }),
      RUNS,
    );
  });
});
