import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { compile } from '../kinematics/index';
import { run } from '../motion/index';
import { planRun } from '../sizing/index';
import { Builder, item } from '../testing/designs';

describe('what is against the motion', () => {
  it('a resisting load is work that is done, friction is lost: both against either sense', () => {
    for (const speed of [60, -60]) {
      const at = (type: string) => {
        const b = new Builder().weightless();
        const s = b.shaft([0, 0, 0]);
        b.motor(s.joint, speed);
        b.load(type, { joint: s.joint, value: 4 });
        return analyse(b.design).ledger;
      };
      const [resists, rubs] = [at('joint-resistance'), at('joint-friction')];
      for (const l of [resists, rubs]) expect(l.input).toBeCloseTo(4 * 2 * Math.PI, 9);
      expect(resists.output).toBeCloseTo(4 * 2 * Math.PI, 9);
      expect(resists.efficiency).toBeCloseTo(1, 12);
      expect(rubs.loss).toBeCloseTo(4 * 2 * Math.PI, 9);
    }
  });

  it('a slip clutch, a brake at the joint between two shafts, takes along up to its torque and slips beyond', () => {
    const speedAt = (holds: number): number => {
      const b = new Builder().weightless();
      const inertia = { mass: 1, inertia: [0.02, 0.02, 0.02] as const };
      const a = b.shaft([0, 0, 0], 'frame', inertia),
        o = b.shaft([0, 0, 50], a.member, inertia);
      b.motor(a.joint, 60);
      b.load('joint-brake', { joint: o.joint, value: holds });
      // What slips is braked by the frame with 5 N·m in space.
      b.load('torque', { member: o.member, torque: [0, 0, -5] });
      const r = run(compile(b.design), { duration: 0.5, frames: 11 });
      return r.v[(r.frames - 1) * 2 + 1];
    };
    const said = (value: number): string[] => {
      const b = new Builder().weightless();
      const a = b.shaft([0, 0, 0]),
        o = b.shaft([0, 0, 50], a.member);
      b.motor(a.joint, 60);
      b.load('joint-brake', { joint: o.joint, value });
      b.load('torque', { member: o.member, torque: [0, 0, -5] });
      return analyse(b.design).findings.map((f) => f.code);
    };
    expect(said(6)).toContain('brake-holds');
    expect(said(6)).not.toContain('freedom-undriven');
    expect(said(3)).toContain('brake-slips');
    expect(speedAt(6)).toBeCloseTo(0, 9);
    // (5 − 3) N·m on 0.02 kg·m² for half a second, seen from the shaft that turns.
    expect(speedAt(3)).toBeCloseTo((-2 / 0.02) * 0.5 - 2 * Math.PI, 4);
  });

  it('friction by coefficient: μ N on a slide, μ N d/2 on a journal, μ Fa dc/2 on a collar', () => {
    const b = new Builder().weightless();
    const slide = b.slide([0, 0, 0], [1, 0, 0]);
    b.motor(slide.joint, 20);
    b.load('force', { member: slide.member, force: [0, 0, -500] });
    b.load('joint-rubbing', { joint: slide.joint, coefficient: 0.15 });
    expect(analyse(b.design).ledger.sources[0].load).toBeCloseTo(75, 9);
    const c = new Builder().weightless();
    const s = c.shaft([0, 0, 0]);
    c.motor(s.joint, 60);
    c.load('force', { member: s.member, force: [300, -400, 700] });
    c.load('joint-rubbing', { joint: s.joint, coefficient: 0.1, diameter: 40, collar: 60 });
    expect(analyse(c.design).ledger.sources[0].load).toBeCloseTo(0.1 * (500 * 0.02 + 700 * 0.03), 9);
  });

  it('a drawer that is pushed off its middle jams from L = 2 μ a on', () => {
    // Pushed at a off the middle of a guide of length L: F = 2 μ F a/L, so
    // that nothing moves where 2 μ a > L (common in textbooks of statics).
    const drawer = (length: number) => {
      const b = new Builder().weightless();
      const slide = b.slide([0, 0, 0], [1, 0, 0], 'frame', { up: [0, 1, 0] });
      b.motor(slide.joint, 20);
      // The weight to be moved hangs beside the drive: the guide takes the moment.
      b.load('force', { member: slide.member, at: [0, 300, 0], force: [-100, 0, 0] });
      b.load('joint-rubbing', { joint: slide.joint, coefficient: 0.2, length });
      return analyse(b.design);
    };
    expect(drawer(400).ledger.sources[0].load).toBeCloseTo(100 + (2 * 0.2 * 100 * 300) / 400, 7);
  });

  it('a slide that is driven beside its guide jams where its friction grows with its drive: from 2 μ a = L on', () => {
    // F (1 − 2 μ a/L) = Q: the pitch line runs a = 280 mm beside the guide (statics of a drawer, common in textbooks).
    const driven = (coefficient: number) => {
      const b = new Builder().weightless();
      const s = b.shaft([0, 0, 0]),
        slide = b.slide([0, -300, 0], [1, 0, 0], 'frame', { up: [0, 1, 0] });
      b.couple('rack-mesh', {
        a: b.gear(s.member, 20, 2),
        b: b.element('rack', slide.member, { teeth: 40, module: 2, width: 20, height: 20, at: [280, 0, 0], axis: [0, 1, 0], up: [0, 0, 1] }),
        efficiency: 1,
      });
      b.motor(s.joint, 60);
      const way = Math.sign(analyse(b.design).ledger.lines.find((l) => l.member === slide.member)!.speed);
      b.load('joint-load', { joint: slide.joint, value: -way * 100 });
      b.load('joint-rubbing', { joint: slide.joint, coefficient, length: 100 });
      return analyse(b.design);
    };
    expect(Math.abs(driven(0.1).ledger.sources[0].load)).toBeCloseTo((100 / (1 - 0.56)) * 0.02, 7);
    const jams = driven(0.2).findings.find((f) => f.code === 'jammed');
    expect(jams?.message).toContain('its friction grows');
  });
});

describe('a source', () => {
  it('with a rotor asks for what speeds it up: J·α through the train', () => {
    const b = new Builder().weightless();
    const s = b.shaft([0, 0, 0]);
    b.motor(s.joint, 60, {
      rotor: 0.05,
      profile: 'ramps',
      ramps: [
        { time: 0, speed: 0 },
        { time: 2, speed: 60 },
      ],
    });
    const r = run(compile(b.design), { duration: 2, frames: 5 });
    expect(r.input[1]).toBeCloseTo(0.05 * Math.PI, 9);
    expect(r.kinetic[4]).toBeCloseTo(0.5 * 0.05 * (2 * Math.PI) ** 2, 9);
  });
  it('with a brake holds the load once it lets go, up to the brake’s torque', () => {
    const hoist = (brake: number) => {
      const b = new Builder().weightless();
      const s = b.shaft([0, 0, 0], 'frame', { mass: 1, inertia: [0.1, 0.1, 0.1] });
      b.motor(s.joint, 60, { brake });
      b.load('joint-load', { joint: s.joint, value: -8 });
      return b.design;
    };
    expect(analyse(hoist(10)).holding[0]).toMatchObject({ by: 'brake', needed: expect.closeTo(8, 9) });
    expect(analyse(hoist(5)).holding[0].by).toBe('runs-back');
    const end = (brake: number): number => {
      const p = planRun(hoist(brake), item({ id: 'r', name: 'r', until: 'time', duration: 1, frames: 11, letGo: true }));
      const r = run(p.compiled, p.options, p.start);
      return r.v[r.frames - 1];
    };
    expect(end(10)).toBe(0);
    expect(end(5)).toBeCloseTo(-3 / 0.1, 5);
  });
});

describe('a ball screw', () => {
  it('has its stated efficiency each way; left open, that of the same friction angle backward', () => {
    const screw = (more: object, load: number) => {
      const b = new Builder().weightless();
      const s = b.shaft([0, 0, 0]),
        n = b.slide([0, 0, 0], [0, 0, 1]);
      b.couple('screw-drive', {
        a: b.element('screw', s.member, { diameter: 32, pitch: 10, length: 400, form: 'ball' }),
        b: b.element('nut', n.member, { outside: 60, bore: 32, length: 50 }),
        ...more,
      });
      b.motor(s.joint, 60);
      b.load('joint-load', { joint: n.joint, value: load });
      return analyse(b.design).ledger;
    };
    expect(screw({ efficiency: 0.9 }, 1000).efficiency).toBeCloseTo(0.9, 9);
    // Backward the load drives: T = F P η′/2π.
    expect(Math.abs(screw({ efficiency: 0.9, efficiencyBack: 0.8 }, -1000).sources[0].load)).toBeCloseTo((1000 * 0.01 * 0.8) / (2 * Math.PI), 9);
    expect(Math.abs(screw({ efficiency: 0.9 }, -1000).sources[0].load)).toBeCloseTo((1000 * 0.01 * (2 - 1 / 0.9)) / (2 * Math.PI), 9);
  });
});
