import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { emptyDesign, readDesign } from '../document/index';
import { type Design, FRAME, type Id } from '../fields/types';
import { poseOf, compile } from '../kinematics/index';
import { Hand } from '../motion/index';
import { distance, dot, norm, cross, vsub } from '../math/index';
import { copyItems, pasteItems } from '../edits/index';
import { addPart, arrayAround, featureAt, featuresOf, insertStage, joinFeatures, mirrored, type Join } from './index';

const built = (r: ReturnType<typeof joinFeatures>): Design => {
  if (r.problem !== undefined) throw new Error(r.problem);
  expect(readDesign(r.design).problems).toBeUndefined();
  return r.design;
};
const element = (d: Design, member: Id): Id => d.elements.find((e) => e.member === member)!.id;
const again = (d: Design, id: Id): { design: Design; member: Id } => {
  const made = pasteItems(d, copyItems(d, [id]));
  return { design: made.design, member: made.made.find((x) => made.design.members.some((m) => m.id === x))! };
};
const at = (d: Design, ref: string): readonly [number, number, number] => featureAt(d, ref)!.point;

/** A lift on four folding arms, drawn in by a screw at the foot: only parts, what belongs to what, and one span. */
function lift(): { d: Design; platform: Id; screw: Id } {
  const first = insertStage(emptyDesign('Lift'), { kind: 'screw' })!;
  let d = first.design;
  const foot = first.output;
  const nut = d.elements.find((e) => e.member === foot && e.type === 'nut')!.id;
  const base = addPart(d, 'frame');
  d = built(joinFeatures(base.design, 'apart', `${base.element}:axis`, `${nut}:axis`, { along: -500 }));
  const lever = addPart(d, 'lever');
  d = { ...lever.design, elements: lever.design.elements.map((e) => (e.id === lever.element ? { ...e, length: 560 } : e)) };
  const arms = [lever.member];
  for (let k = 0; k < 3; k++) {
    const made = again(d, lever.member);
    d = made.design;
    arms.push(made.member);
  }
  const [A, B, C, D] = arms.map((m) => element(d, m));
  const join = (how: Join, a: string, b: string): void => {
    d = built(joinFeatures(d, how, a, b));
  };
  join('pin', `${A}:eye`, `${base.element}:+x`);
  join('pin', `${B}:eye`, `${nut}:+x`);
  join('pin', `${A}:middle`, `${B}:middle`);
  join('pin', `${C}:eye`, `${B}:other`);
  join('pin', `${D}:eye`, `${A}:other`);
  join('pin', `${C}:middle`, `${D}:middle`);
  const body = addPart(d, 'body');
  ({ design: d } = body);
  const edges = featuresOf(
    d,
    d.elements.find((e) => e.id === body.element)!,
  ).filter((f) => f.label.includes('bottom') && f.label.includes('edge'));
  const along = edges.filter((f) => Math.abs(f.axis[1]) > 0.9);
  join('pin', along[0].ref, `${D}:other`);
  join('pin-in-slot', `${C}:other`, along[1].ref);
  return { d, platform: body.member, screw: first.made[0] };
}

describe('building freely', () => {
  it('makes a folding-arm lift without a coordinate: one freedom, its arms crossed, its platform level and lifted by the screw', () => {
    const { d, platform, screw } = lift();
    const joint = d.joints.find((j) => j.child === screw)!.id;
    const driven: Design = { ...d, sources: [{ id: 's', name: 'Motor', type: 'motor', joint, speed: 60 } as never] };
    const a = analyse(driven);
    expect(a.findings.filter((f) => f.severity === 'fault').map((f) => f.message)).toEqual([]);
    expect(a.freedoms).toBe(1);
    const pose = poseOf(compile(driven));
    const hand = new Hand(pose);
    const height = (): number => pose.placements[12 * pose.compiled.structure.bodyOf.get(platform)! + 11];
    const up = (): number => pose.placements[12 * pose.compiled.structure.bodyOf.get(platform)! + 10];
    const before = height();
    const lead = pose.compiled.sources[0].coordinate;
    for (const turns of [-4, -8]) hand.move(lead, turns * 2 * Math.PI);
    expect(Math.abs(height() - before)).toBeGreaterThan(0.005);
    // Level stays level: the platform's own z keeps its height component.
    expect(up()).toBeCloseTo(1, 6);
  });

  it('carries what hangs on nothing to where it is pinned, and nothing else', () => {
    let { design: d } = addPart(emptyDesign('x'), 'frame');
    const lever = addPart(d, 'lever');
    d = built(joinFeatures(lever.design, 'pin', `${lever.element}:eye`, 'part1:+y'));
    expect(distance(at(d, `${lever.element}:eye`), at(d, 'part1:+y'))).toBeLessThan(1e-9);
    expect(norm(cross(featureAt(d, `${lever.element}:eye`)!.axis, featureAt(d, 'part1:+y')!.axis))).toBeLessThan(1e-9);
    expect(d.joints).toMatchObject([{ type: 'revolute', parent: FRAME, child: lever.member }]);
    expect(analyse(d).freedoms).toBe(1);
  });

  it('moves a mechanism within its freedoms until two eyes meet, and restates its stops', () => {
    let { design: d } = addPart(emptyDesign('x'), 'frame');
    const one = addPart(d, 'lever');
    d = built(joinFeatures(one.design, 'pin', `${one.element}:eye`, 'part1:+y'));
    d = { ...d, joints: d.joints.map((j) => ({ ...j, lower: -90, upper: 90, home: 10 })) };
    const two = addPart(d, 'lever');
    d = built(joinFeatures(two.design, 'pin', `${two.element}:eye`, `${one.element}:other`));
    const before = featureAt(d, `${one.element}:other`)!.point;
    const post = addPart(d, 'frame');
    d = { ...post.design, elements: post.design.elements.map((e) => (e.id === post.element ? { ...e, at: [350, 0, 0] } : e)) };
    const done = built(joinFeatures(d, 'pin', `${two.element}:other`, `${post.element}:+y`));
    const off = vsub(at(done, `${two.element}:other`), at(done, `${post.element}:+y`));
    expect(Math.hypot(off[0], off[2])).toBeLessThan(1e-6);
    // The stops stand where they stood in space: they went back by what the arm went on.
    const j = done.joints.find((x) => x.child === one.member)! as { lower?: number; upper?: number; home?: number };
    expect(j.upper! - j.lower!).toBeCloseTo(180, 6);
    expect(j.home! - j.lower!).toBeCloseTo(100, 6);
    const now = featureAt(done, `${one.element}:other`)!.point;
    const turn = (Math.asin(Math.min(1, distance(before, now) / 600)) * 360) / Math.PI;
    expect(Math.abs(j.lower! + 90)).toBeCloseTo(turn, 4);
  });

  it('says what cannot meet, and what makes no sense', () => {
    let { design: d } = addPart(emptyDesign('x'), 'frame');
    const one = addPart(d, 'lever');
    d = built(joinFeatures(one.design, 'pin', `${one.element}:eye`, 'part1:+y'));
    const post = addPart(d, 'frame');
    d = { ...post.design, elements: post.design.elements.map((e) => (e.id === post.element ? { ...e, at: [5000, 0, 0] } : e)) };
    expect(joinFeatures(d, 'pin', `${one.element}:other`, `${post.element}:+y`).problem).toMatch(/cannot be brought together/);
    expect(joinFeatures(d, 'pin', `${one.element}:other`, `${one.element}:eye`).problem).toMatch(/same member/);
    expect(joinFeatures(d, 'pin', 'gone:eye', `${one.element}:eye`).problem).toMatch(/no longer/);
  });

  it('lays flush, on one axis, apart along and across, and slides along what is shown', () => {
    const { design } = addPart(emptyDesign('x'), 'frame');
    const body = addPart(design, 'body');
    const flush = built(joinFeatures(body.design, 'flush', `${body.element}:-z`, 'part1:+z'));
    expect(at(flush, `${body.element}:-z`)[2]).toBeCloseTo(at(flush, 'part1:+z')[2], 9);
    expect(dot(featureAt(flush, `${body.element}:-z`)!.axis, featureAt(flush, 'part1:+z')!.axis)).toBeCloseTo(-1, 12);
    const bar = addPart(flush, 'shaft');
    const one = built(joinFeatures(bar.design, 'coaxial', `${bar.element}:axis`, `${body.element}:+x`));
    expect(norm(cross(featureAt(one, `${bar.element}:axis`)!.axis, [1, 0, 0]))).toBeLessThan(1e-9);
    const apart = built(joinFeatures(bar.design, 'apart', `${bar.element}:axis`, 'part1:axis', { along: 10, across: 50, angle: 90 }));
    expect(vsub(at(apart, `${bar.element}:axis`), at(apart, 'part1:axis')).map((x) => Number(x.toFixed(9)) + 0)).toEqual([0, 50, 10]);
    const slid = built(joinFeatures(flush, 'slide', `${body.element}:-z`, 'part1:+x'));
    const a = analyse(slid);
    expect(a.freedoms).toBe(1);
    expect(norm(cross(a.compiled.structure.coordinates[0].axis, [1, 0, 0]))).toBeLessThan(1e-9);
  });

  it('copies round an axis and in a mirror', () => {
    const { design } = addPart(emptyDesign('x'), 'frame');
    const lever = addPart(design, 'lever');
    const d = built(joinFeatures(lever.design, 'pin', `${lever.element}:eye`, 'part1:+y'));
    const ring = built(arrayAround(d, [lever.member], 'part1:+y', 3));
    const ends = ring.members.map((m) => at(ring, `${element(ring, m.id)}:other`));
    expect(ends).toHaveLength(3);
    for (const [i, j] of [
      [0, 1],
      [1, 2],
      [2, 0],
    ]) {
      expect(distance(ends[i], ends[j])).toBeCloseTo(300 * Math.sqrt(3), 6);
    }
    expect(analyse(ring).freedoms).toBe(3);
    const two = built(mirrored(d, [lever.member], 'part1:+x'));
    const [p, q] = two.members.map((m) => at(two, `${element(two, m.id)}:other`));
    expect(p[0] + q[0]).toBeCloseTo(2 * at(two, 'part1:+x')[0], 9);
    expect(p[2]).toBeCloseTo(q[2], 9);
    expect(analyse(two).freedoms).toBe(2);
    // What stops 80° one way and 20° the other stops the other way round in the mirror: both meet their stops at mirrored places.
    const stopped = { ...d, joints: d.joints.map((j) => ({ ...j, lower: -20, upper: 80 })) };
    const pair = built(mirrored(stopped, [lever.member], 'part1:+x'));
    expect(pair.joints.map((j) => [j.lower, j.upper])).toEqual([
      [-20, 80],
      [-80, 20],
    ]);
    const pose = poseOf(compile(pair));
    pose.setFree(pose.u.map((_, i) => ((i ? -80 : 80) * Math.PI) / 180));
    const frames = pair.members.map((m) => pose.placements.slice(12 * pose.compiled.structure.bodyOf.get(m.id)!));
    const tip = (k: number): number[] => {
      const t = frames[k];
      const e = at(pair, `${element(pair, pair.members[k].id)}:other`).map((x) => x / 1000);
      return [0, 1, 2].map((r) => 1000 * (t[4 * r] * e[0] + t[4 * r + 1] * e[1] + t[4 * r + 2] * e[2] + t[4 * r + 3]));
    };
    expect(tip(0)[0] + tip(1)[0]).toBeCloseTo(2 * at(pair, 'part1:+x')[0], 6);
    expect(tip(0)[2]).toBeCloseTo(tip(1)[2], 6);
    expect(arrayAround(d, [lever.member], 'part1:+y', 1).problem).toMatch(/from 2/);
    expect(mirrored(d, [], 'part1:+x').problem).toMatch(/Select/);
  });
});
