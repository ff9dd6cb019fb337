import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { Bodies, compile, poseOf, stopsOf } from '../kinematics/index';
import { toNumber } from '../math/index';
import { Hand, goHome, run } from '../motion/index';
import { STAGE_KINDS, curesOf, insertStage, withInputShaft } from '../sizing/index';
import { type Design, emptyDesign } from '../document/index';
import { Builder, state } from '../testing/designs';
import { analyse } from './analyse';

const overlapping = (b: Builder) => analyse(b.design).findings.filter((f) => f.code === 'bodies-overlap');

/** A carriage on a slide along x, and a post on the frame whose near face is 100 mm from the carriage's. */
function carriage(): { b: Builder; member: string; joint: string; post: string } {
  const b = new Builder();
  const s = b.slide([0, 0, 0], [1, 0, 0]);
  // In the slide's frame z is the way; the block is 40 mm long along it.
  b.element('block', s.member, { length: 30, depth: 30, height: 40 });
  const post = b.element('block', 'frame', { length: 20, depth: 60, height: 60, at: [130, 0, 0] });
  b.motor(s.joint, 50);
  return { b, ...s, post };
}

describe('interference of bodies', () => {
  it('names a wheel that stands in another one’s wheel, with the thickness and the place', () => {
    const b = new Builder();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([30, 0, 0])];
    b.gear(s1.member, 20, 2);
    b.gear(s2.member, 20, 2);
    const [f] = overlapping(b);
    // Tips on circles of 44 mm, 30 mm apart.
    expect(f.message).toContain('14 mm thick at (15, 0, 0) mm');
    // A deep one in plain figures.
    b.design.elements.push({ ...b.design.elements[0], id: 'wide', name: 'wide', ...{ teeth: 300 } });
    expect(overlapping(b)[0].message).toMatch(/share a space [\d.]+ mm thick/);
    b.design.elements.pop();
    expect(f.ids.slice(0, 2).sort()).toEqual([s1.member, s2.member].sort());
  });

  it('is none between wheels that mesh, on one member, about the axis of the joint between them, or that may overlap', () => {
    const b = new Builder();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([40, 0, 0])];
    const [g1, g2] = [b.gear(s1.member, 20, 2), b.gear(s2.member, 20, 2, { phase: 9 })];
    b.mesh(g1, g2);
    b.element('rod', s1.member, { diameter: 20, length: 200 });
    b.element('block', 'frame', { length: 60, depth: 60, height: 20, at: [0, 0, 60] });
    expect(overlapping(b)).toEqual([]);
    // A lever of the same shaft that runs into the frame elsewhere is not mated there.
    b.element('block', s1.member, { length: 200, depth: 10, height: 10, at: [0, 0, -60] });
    b.element('block', 'frame', { length: 20, depth: 20, height: 20, at: [90, 0, -60] });
    const found = overlapping(b);
    expect(found).toHaveLength(1);
    const cure = curesOf(b.design)(found[0])[0];
    expect(cure.label).toContain('overlap');
    expect(analyse(cure.apply(b.design)).findings.filter((f) => f.code === 'bodies-overlap')).toEqual([]);
  });

  it('is found on the way, not only where the design stands at home', () => {
    const { b } = carriage();
    expect(overlapping(b)).toEqual([]);
    const c = compile(b.design);
    const pose = poseOf(c);
    const bodies = new Bodies(c);
    const hand = new Hand(pose);
    hand.move(0, 0.099);
    expect(bodies.at(pose)).toEqual([]);
    hand.move(0, 0.105);
    expect(bodies.at(pose)[0].depth).toBeCloseTo(5, 1);
  });

  it.each(STAGE_KINDS.map((k) => [k.kind]))('a stage as it is put in has none: %s', (kind) => {
    const begun = withInputShaft(emptyDesign(kind), { type: 'motor', name: 'Motor', fields: { speed: 40 } });
    const made = insertStage(begun.design, { kind, from: begun.output })!;
    expect(analyse(made.design).findings.filter((f) => f.code === 'bodies-overlap')).toEqual([]);
  });
});

describe('members that stop each other', () => {
  const upper = (b: Builder): number => toNumber(stopsOf(compile(b.design).structure.coordinates[0]).upper!);

  it('hold hand and run where they touch, and follow when a part grows', () => {
    const { b, member, joint, post } = carriage();
    state(
      b.design.members.find((m) => m.id === member)!,
      { stopsAt: ['frame'] },
    );
    expect(upper(b)).toBeCloseTo(100, 3);
    const c = compile(b.design);
    const pose = poseOf(c);
    goHome(pose);
    expect(new Hand(pose).move(0, 0.2).held).toMatchObject({ joint, which: 'upper' });
    expect(pose.q[0]).toBeCloseTo(0.1, 6);
    const r = run(c, { duration: 3, frames: 4 });
    expect(r.q[(r.frames - 1) * r.coordinates]).toBeCloseTo(0.1, 6);
    expect(r.events[0].time).toBeCloseTo(2, 4);
    state(
      b.design.elements.find((e) => e.id === post)!,
      { length: 50 },
    );
    expect(upper(b)).toBeCloseTo(85, 3);
  });

  it('hold on the side on which they touch from the beginning, and let go on the other', () => {
    for (const [at, key, other] of [
      [30, 'upper', 'lower'],
      [-30, 'lower', 'upper'],
    ] as const) {
      const { b, member, post } = carriage();
      state(
        b.design.elements.find((e) => e.id === post)!,
        { at: [at, 0, 0] },
      );
      state(
        b.design.members.find((m) => m.id === member)!,
        { stopsAt: ['frame'] },
      );
      const stops = stopsOf(compile(b.design).structure.coordinates[0]);
      expect(toNumber(stops[key]!)).toBeCloseTo(0, 3);
      expect(stops[other]).toBeUndefined();
    }
  });

  it('are found on a long way past a thin post, and in a guide that runs from its child to its parent', () => {
    const b = new Builder();
    const s = b.slide([0, 0, 0], [1, 0, 0]);
    b.element('block', s.member, { length: 30, depth: 30, height: 2 });
    b.element('block', 'frame', { length: 0.5, depth: 60, height: 60, at: [90_000, 0, 0] });
    state(b.design.members[0], { stopsAt: ['frame'] });
    expect(toNumber(stopsOf(compile(b.design).structure.coordinates[0]).upper!)).toBeCloseTo(90_000 - 0.25 - 1, 2);
    // The same pair with the joint stated the other way round.
    const r = new Builder();
    const m = r.member([0, 0, 0], { axis: [1, 0, 0] });
    r.joint('prismatic', m, 'frame', { at: [0, 0, 0], axis: [1, 0, 0] });
    r.element('block', m, { length: 30, depth: 30, height: 40 });
    r.element('block', 'frame', { length: 20, depth: 60, height: 60, at: [130, 0, 0] });
    state(r.design.members[0], { stopsAt: ['frame'] });
    const back = stopsOf(compile(r.design).structure.coordinates[0]);
    // The member goes forward as the joint, which moves the frame against it, goes back.
    expect(toNumber(back.lower!)).toBeCloseTo(-100, 3);
    expect(back.upper).toBeUndefined();
  });

  it('turn until they touch: a lever against a round pin', () => {
    const b = new Builder();
    const s = b.shaft([0, 0, 0]);
    b.element('block', s.member, { length: 120, depth: 10, height: 10, at: [60, 0, 0] });
    b.element('rod', 'frame', { diameter: 12, length: 40, at: [0, 80, 0] });
    state(b.design.members[0], { stopsAt: ['frame'] });
    const c = stopsOf(compile(b.design).structure.coordinates[0]);
    // The lever's face is 5 mm from its axis, the pin's 6 mm from its own: sin β = 11/80.
    const beta = (Math.asin(11 / 80) * 180) / Math.PI;
    expect(360 * toNumber(c.upper!)).toBeCloseTo(90 - beta, 2);
    expect(360 * toNumber(c.lower!)).toBeCloseTo(-270 + beta, 2);
  });

  it('say why they cannot: several freedoms between them, bodies that overlap at the start, or that never touch', () => {
    const codes = (b: Builder) => analyse(b.design).findings.map((f) => f.code);
    const two = carriage();
    const lever = two.b.shaft([0, 0, 200], two.member);
    two.b.element('block', lever.member, { length: 10, depth: 10, height: 10 });
    state(
      two.b.design.members.find((m) => m.id === lever.member)!,
      { stopsAt: ['frame'] },
    );
    expect(codes(two.b)).toContain('stop-pair-several');
    const inside = carriage();
    state(inside.b.design.members[0], { stopsAt: ['frame'] });
    state(inside.b.design.elements[1], { at: [10, 0, 0] });
    expect(codes(inside.b)).toContain('stop-pair-overlaps');
    const aside = carriage();
    state(aside.b.design.members[0], { stopsAt: ['frame'] });
    state(aside.b.design.elements[1], { at: [130, 200, 0] });
    expect(codes(aside.b)).toContain('stop-pair-misses');
  });
});

describe('the demo designs', () => {
  const names = readdirSync(new URL('../../demo', import.meta.url)).filter((f) => f.endsWith('.json'));
  it.each(names)('have no members that overlap, from stop to stop: %s', (name) => {
    const d = JSON.parse(readFileSync(new URL(`../../demo/${name}`, import.meta.url), 'utf8')) as Design;
    const c = compile(d);
    const pose = poseOf(c);
    goHome(pose);
    const [bodies, hand] = [new Bodies(c), new Hand(pose)];
    const lead = c.sources[0].coordinate;
    const { lower, upper } = hand.interval(lead);
    const [from, to] = [lower?.at ?? 0, upper?.at ?? (lower?.at ?? 0) + 1];
    for (let k = 0; k <= 24; k++) {
      hand.move(lead, (from + ((to - from) * k) / 24) * pose.kinematics.scale[lead]);
      expect(bodies.at(pose).map((x) => [...x.elements, x.depth])).toEqual([]);
    }
  });
});
