import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { Design } from '../document/index';
import { readTable } from '../formats/index';
import { compile, poseOf } from '../kinematics/index';
import { Hand } from '../motion/index';
import { Builder, item } from '../testing/designs';
import { quantities, run, seriesOf, worstInstant } from './index';

const point = { massCentre: [0, 0, 0] as const, inertia: [0, 0, 0] as const };
const demo = (f: string): Design => JSON.parse(readFileSync(new URL(`../../demo/${f}.json`, import.meta.url), 'utf8')) as Design;

describe('springs, dampers and friction in free motion', () => {
  const oscillator = (loads: [string, object][], from = 20) => {
    const b = new Builder().weightless();
    const s = b.slide([0, 0, 0], [1, 0, 0], 'frame', { mass: 2, ...point, up: [0, 0, 1] });
    for (const [type, fields] of loads) b.load(type, { joint: s.joint, ...fields });
    const c = compile(b.design);
    return (duration: number, frames: number) => run(c, { duration, frames }, [from * 1e-3]);
  };

  it('a mass on a spring swings with 2π√(m/c)', () => {
    // 2 kg on 0.8 N/mm: every textbook of vibrations.
    const T = 2 * Math.PI * Math.sqrt(2 / 800);
    const r = oscillator([['joint-spring', { rate: 0.8 }]])(2 * T, 9);
    [20, 0, -20, 0, 20, 0, -20, 0, 20].forEach((x, k) => expect(r.q[k] * 1e3).toBeCloseTo(x, 4));
  });

  it('dies away with its damper as e^(−d t/2m)', () => {
    const d = 8; // N·s/m
    const w = Math.sqrt(800 / 2 - (d / 4) ** 2);
    const T = (2 * Math.PI) / w;
    const r = oscillator([
      ['joint-spring', { rate: 0.8 }],
      ['joint-spring', { rate: 0, damping: d / 1000 }],
    ])(3 * T, 4);
    for (let k = 0; k < 4; k++) expect(r.q[k] * 1e3).toBeCloseTo(20 * Math.exp((-d / 4) * r.time[k]), 3);
  });

  it('loses four times F/c of its swing a cycle to dry friction, whatever the swing', () => {
    // Coulomb friction: the amplitude falls evenly, by 4 F/c each cycle (Meriam & Kraige, Dynamics, sec. 8/2, from memory).
    const T = 2 * Math.PI * Math.sqrt(2 / 800);
    const r = oscillator([
      ['joint-spring', { rate: 0.8 }],
      ['joint-friction', { value: 1 }],
    ])(2 * T, 3);
    expect(r.q[1] * 1e3).toBeCloseTo(20 - 4 / 0.8, 1);
    expect(r.q[2] * 1e3).toBeCloseTo(20 - 8 / 0.8, 1);
  });

  it('bounces nowhere: an impact on a stop is plastic, and a spring takes it off again', () => {
    const b = new Builder().weightless();
    const s = b.slide([0, 0, 0], [1, 0, 0], 'frame', { mass: 1, ...point, up: [0, 0, 1] });
    b.design.joints[0].lower = 5;
    b.load('joint-spring', { joint: s.joint, rate: 0.4, free: 10 });
    const r = run(compile(b.design), { duration: 1, frames: 21 }, [0.03]);
    expect(r.events.map((e) => e.kind)).toEqual(['stop-reached', 'stop-left']);
    // From 30 towards 10 it swings through to the stop at 5, stands for no time, and swings on by ±5.
    for (let k = 10; k < 21; k++) expect(Math.abs(r.q[k] * 1e3 - 10)).toBeLessThan(5 + 1e-3);
  });

  it('ends, and says why, where a source leads its shaft against a stop while another shaft spins freely', () => {
    const b = new Builder().weightless();
    const held = b.shaft([0, 0, 0]);
    b.shaft([100, 0, 0], 'frame', { mass: 1, ...point, inertia: [0.01, 0.01, 0.01] });
    b.design.joints[0].upper = 60;
    b.motor(held.joint, 10, { profile: 'part turn', amount: 90, time: 3, speedShape: 'harmonic' });
    const r = run(compile(b.design), { duration: 3, frames: 31 });
    expect(r.events.map((e) => e.kind)).toEqual(['stop-reached']);
    expect(r.events[0].message).toMatch(/run ends here/);
    // 90° · (1 − cos πt/3)/2 = 60° where cos = −1/3.
    expect(r.events[0].time).toBeCloseTo((3 / Math.PI) * Math.acos(-1 / 3), 6);
    for (let f = 0; f < r.frames; f++) expect(r.q[f * r.coordinates]).toBeLessThanOrEqual(Math.PI / 3 + 1e-9);
  });
});

describe('two freedoms at once', () => {
  it('a differential shares an impact: one side stopped, the other goes on', () => {
    const b = new Builder().weightless();
    const left = b.shaft([0, 0, 0], 'frame', { axis: [1, 0, 0], mass: 1, ...point, inertia: [0.01, 0.01, 0.01] }),
      right = b.shaft([0, 0, 0], 'frame', { axis: [-1, 0, 0], mass: 1, ...point, inertia: [0.01, 0.01, 0.01] }),
      cage = b.shaft([0, 0, 0], 'frame', { axis: [1, 0, 0], up: [0, 0, 1], mass: 1, ...point, inertia: [0.02, 0.02, 0.02] });
    const planet = b.shaft([0, 0, 0], cage.member, { axis: [0, 0, 1], up: [1, 0, 0] });
    const g = (m: string): string => b.element('bevel-gear', m, { teeth: 20, module: 2, coneAngle: 45, width: 6, density: 1 });
    const p = g(planet.member);
    b.couple('bevel-pair', { a: g(left.member), b: p, efficiency: 1 });
    b.couple('bevel-pair', { a: g(right.member), b: p, efficiency: 1 });
    b.design.sources.push(item({ id: 't', name: 't', type: 'torque', torque: 0.2, joint: cage.joint }));
    b.design.joints.find((j) => j.id === left.joint)!.upper = 90;
    const c = compile(b.design);
    const r = run(c, { duration: 1.2, frames: 41 });
    const of = (joint: string): number => c.structure.firstOf.get(joint)!;
    const end = (joint: string, a: Float64Array): number => a[40 * r.coordinates + of(joint)];
    expect(r.events[0].kind).toBe('stop-reached');
    expect(end(left.joint, r.q)).toBeCloseTo(Math.PI / 2, 6);
    expect(end(left.joint, r.v)).toBeCloseTo(0, 9);
    // Twice the cage is the sum of both sides; the right shaft's axis points the other way.
    expect(2 * end(cage.joint, r.v)).toBeCloseTo(-end(right.joint, r.v), 6);
    expect(end(cage.joint, r.v)).toBeGreaterThan(0);
  });

  it('under the hand the other source stands still, unless it is tied', () => {
    const b = new Builder().weightless();
    const one = b.shaft([0, 0, 0]),
      two = b.shaft([100, 0, 0]);
    b.motor(one.joint);
    b.motor(two.joint);
    const m = poseOf(compile(b.design)),
      hand = new Hand(m);
    hand.hold([1]);
    hand.move(0, 2);
    expect([...m.q]).toEqual([2, 0]);
  });
});

describe('what a run is given and gives', () => {
  it('takes its motion from a table pasted as text', () => {
    const read = readTable('time;place\n0;0\n0,5;45\n1;30\n', 2);
    const b = new Builder().weightless();
    b.motor(b.shaft([0, 0, 0]).joint, 0, { profile: 'table', table: read.rows!.map(([time, value]) => ({ time, value })) });
    const r = run(compile(b.design), { duration: 1, frames: 3 });
    expect([...r.q].map((x) => (x * 180) / Math.PI)).toEqual([0, expect.closeTo(45, 9), expect.closeTo(30, 9)]);
  });

  it('says what a profile lacks, and stands still', () => {
    const b = new Builder().weightless();
    b.motor(b.shaft([0, 0, 0]).joint, 30, { profile: 'part turn' });
    const r = run(compile(b.design), { duration: 1, frames: 3 });
    expect(r.findings.map((f) => f.code)).toEqual(['profile-incomplete']);
    expect([...r.q]).toEqual([0, 0, 0]);
  });

  it('gives up what would take too long, says so, and keeps what it has', () => {
    const b = new Builder().weightless();
    const s = b.slide([0, 0, 0], [1, 0, 0], 'frame', { mass: 1e-6, ...point, up: [0, 0, 1] });
    b.load('joint-spring', { joint: s.joint, rate: 1e5, damping: 10, free: 1 });
    const r = run(compile(b.design), { duration: 1000, frames: 11, budget: 3000 });
    expect(r.findings.map((f) => f.code)).toContain('run-too-stiff');
    expect(r.time.length).toBe(r.frames);
  });

  it('does the demo’s own runs whole, with the worst instant of every quantity', () => {
    for (const f of ['paddle-winding-gear', 'weed-rake', 'inspection-lift', 'screw-gate', 'fish-pass-flap']) {
      const d = demo(f);
      const a = analyse(d);
      const r = run(a.compiled, { duration: d.settings!.duration!, frames: 61 }, a.pose.u);
      const all = quantities(a.compiled, r);
      expect(new Set(all.map((q) => q.key)).size).toBe(all.length);
      for (const q of all) {
        const s = seriesOf(q, r.frames);
        const w = worstInstant(q, r.frames);
        expect(Math.max(...s.map(Math.abs)), `${f} ${q.key}`).toBeCloseTo(Math.abs(w.value), 12);
      }
      expect(r.findings).toEqual([]);
      for (const e of r.events) expect(['stop-reached', 'pawl-grips']).toContain(e.kind);
    }
  });

  it('the weed rake’s trip lever stays on its cam at working speed', () => {
    const d = demo('weed-rake');
    const a = analyse(d);
    const r = run(a.compiled, { duration: 8, frames: 401 });
    const touch = quantities(a.compiled, r).find((q) => q.key === 'coupling:c-cam:tangential')!;
    expect(Math.min(...seriesOf(touch, r.frames))).toBeGreaterThan(0);
    expect(r.events.filter((e) => e.kind === 'follower-lifts')).toEqual([]);
  });
});

describe('the strands of a band in a run', () => {
  it('are called by their number, and are two of an open belt', () => {
    const b = new Builder().weightless();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([300, 0, 0])];
    const wheels = [s1, s2].map((s) => b.element('pulley', s.member, { form: 'flat', diameter: 80, width: 20 }));
    b.couple('belt', { wheels, form: 'flat', friction: 0.3, preload: 200, efficiency: 1, name: 'Fan belt' });
    b.motor(s1.joint, 60);
    b.load('joint-load', { joint: s2.joint, value: -2 });
    const c = compile(b.design);
    const strands = quantities(c, run(c, { duration: 1, frames: 3 })).filter((q) => q.label.startsWith('Strand'));
    expect(strands.map((q) => q.label)).toEqual(['Strand 1 of Fan belt', 'Strand 2 of Fan belt']);
    // Their difference carries the torque over the radius: 2 N·m over 40 mm.
    expect(Math.abs(strands[0].at(1) - strands[1].at(1))).toBeCloseTo(50, 9);
  });
});
