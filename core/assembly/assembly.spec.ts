import { readFileSync } from 'node:fs';
import polygonClipping from 'polygon-clipping';
import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { readDesign } from '../document/index';
import { elementKind } from '../elements/index';
import { toWorldPoint, within } from '../math/index';
import { movedFrame } from '../kinematics/index';
import { run } from '../motion/index';
import { areaOf, circle, flattened, polygon, reversed } from '../solids/index';
import { SAMPLES, sample } from '../testing/samples';
import { assemblyOf, boxOf, cutPath, memberMotion, nested, type Profile, profileOf, profilesOf, sheetsOf } from './index';

const demo = (name: string) => {
  const read = readDesign(JSON.parse(readFileSync(new URL(`../../demo/${name}.json`, import.meta.url), 'utf8')));
  if (read.problems) throw new Error(name);
  return analyse(read.design);
};
const flat = (outline: Profile['outline'], holes: Profile['holes'] = []): Profile => ({
  element: 'e',
  member: 'm',
  name: 'Part',
  outline,
  holes,
  thickness: 5,
});

describe('the path of a cutter', () => {
  it('runs half the kerf outside a disc and inside its bore; without a kerf along its edge', () => {
    const ring = flat(circle(50), [polygon([-10, -10, -10, 10, 10, 10, 10, -10])]);
    const path = cutPath(ring, 2);
    expect(Math.abs(areaOf(path.outline) / (Math.PI * 51 ** 2) - 1)).toBeLessThan(1e-4);
    // A square hole of 20 shrinks to 18: its corners are left round.
    expect(areaOf(path.holes[0])).toBeCloseTo(-324, 1);
    expect(cutPath(ring)).toMatchObject({ outline: ring.outline, unreached: 0 });
  });
  it('runs inside the edge for a negative kerf', () =>
    expect(Math.abs(areaOf(cutPath(flat(circle(50)), -2).outline) / (Math.PI * 49 ** 2) - 1)).toBeLessThan(1e-4));
  it('says what a tool leaves in corners: of a square hole, four corners of r² (1 − π/4)', () => {
    const plate = flat(circle(50), [polygon([-10, -10, -10, 10, 10, 10, 10, -10])]);
    expect(cutPath(plate, 4).unreached).toBeCloseTo(4 * 4 * (1 - Math.PI / 4), 1);
    expect(cutPath(flat(circle(50), [reversed(circle(10))]), 4).unreached).toBe(0);
  });
});

describe('a flat part', () => {
  it('is there for what can be cut from plate, and says where its teeth are helical', () => {
    const made = Object.keys(SAMPLES).filter((type) => profileOf(sample(type)));
    expect(made.sort()).toEqual(['block', 'cam', 'gear', 'lever', 'pawl', 'pulley', 'rack', 'ratchet-wheel', 'sector', 'track', 'wheel']);
    expect(profileOf(sample('gear'))!.note).toMatch(/helical/);
  });
  it('runs counter-clockwise with its holes the other way, and holds what its prism does', () => {
    for (const type of ['gear', 'lever', 'cam', 'ratchet-wheel', 'sector', 'pulley']) {
      const p = profileOf(sample(type))!;
      const s = elementKind(type)!.shape(sample(type))[0];
      expect(areaOf(p.outline)).toBeGreaterThan(0);
      for (const h of p.holes) expect(areaOf(h)).toBeLessThan(0);
      if (s.kind === 'prism') expect(areaOf(p.outline)).toBeCloseTo(Math.abs(areaOf(s.outline)), 6);
    }
  });
  it('of a gear with backlash has teeth that are thinner by half of it at the pitch circle, and a pair keeps clear', () => {
    const { compiled, pose } = demo('paddle-winding-gear');
    const gears = compiled.design.couplings.find((c) => c.type === 'gear-pair')!;
    const put = (id: string, backlash: number): [number, number][] => {
      const e = compiled.elements.get(id)!;
      const p = flattened(profileOf(e, { backlash })!.outline, { turn: 0, tolerance: 1e-3 });
      const f = movedFrame(pose, e.member, compiled.elementFrames.get(id)!);
      const axis = f.z.findIndex((v) => Math.abs(v) > 0.9);
      return Array.from({ length: p.length / 2 }, (_, i) => {
        const q = toWorldPoint(f, [p[2 * i], p[2 * i + 1], 0]).filter((_v, k) => k !== axis);
        return [q[0], q[1]];
      });
    };
    const common = (backlash: number): number =>
      polygonClipping
        .intersection([put(gears['a'] as string, backlash)], [put(gears['b'] as string, backlash)])
        .flat()
        .reduce(
          (sum, ring) =>
            sum + Math.abs(ring.reduce((a, [x, y], i) => a + x * ring[(i + 1) % ring.length][1] - ring[(i + 1) % ring.length][0] * y, 0) / 2),
          0,
        );
    // In true size the flanks touch: what lies over each other is the rounding of the curves.
    expect(common(0)).toBeLessThan(0.02);
    expect(common(0.1)).toBe(0);
  });
});

describe('parts on sheets', () => {
  it('lie apart and inside, whatever their sizes; what is too large has no place', () => {
    const parts = [circle(30), circle(60), polygon([0, 0, 400, 0, 400, 20, 0, 20]), circle(10), circle(10), polygon([0, 0, 900, 0, 900, 10, 0, 10])];
    const { places, sheets } = nested(parts, 5, { width: 300, height: 450 });
    expect(places[5]).toBeUndefined();
    const boxes = parts.slice(0, 5).map((o, i) => {
      const { quarter, at, sheet } = places[i]!;
      const b = boxOf(o);
      const [x0, x1, y0, y1] = quarter ? [-b.y1, -b.y0, b.x0, b.x1] : [b.x0, b.x1, b.y0, b.y1];
      return { sheet, x0: x0 + at[0], x1: x1 + at[0], y0: y0 + at[1], y1: y1 + at[1] };
    });
    boxes.forEach((a, i) => {
      expect(Math.min(a.x0, a.y0, 300 - a.x1, 450 - a.y1)).toBeGreaterThan(5 - 1e-6);
      boxes.slice(i + 1).forEach((b) => {
        if (a.sheet === b.sheet) expect(Math.max(b.x0 - a.x1, a.x0 - b.x1, b.y0 - a.y1, a.y0 - b.y1)).toBeGreaterThan(5 - 1e-6);
      });
    });
    expect(sheets.every((s) => s.width === 300 && s.height === 450)).toBe(true);
  });
  it('of a design are a layer for each member, and what is left out is said', () => {
    const { compiled } = demo('weed-rake');
    const all = profilesOf(compiled);
    const s = sheetsOf(compiled, all, { sheet: { width: 500, height: 500 } });
    expect(s.parts.filter((p) => p.sheet === undefined).length).toBe(s.notes.filter((n) => n.includes('left out')).length);
    expect(s.parts.some((p) => p.sheet === undefined)).toBe(true);
    const one = sheetsOf(compiled, all);
    expect(one.drawings).toHaveLength(1);
    expect(one.parts.every((p) => p.sheet === 0)).toBe(true);
    expect(new Set(one.drawings[0].layers.map((l) => l.name)).size).toBe(new Set(all.map((p) => p.member)).size);
  });
});

describe('an assembly', () => {
  it('has the bodies of all members in place, or of those named', () => {
    const { compiled, pose } = demo('paddle-winding-gear');
    const all = assemblyOf(compiled, pose);
    expect(all.members.flatMap((m) => m.bodies).length).toBe(compiled.design.elements.length);
    const [one] = assemblyOf(compiled, pose, ['m-paddle']).members;
    expect(one).toEqual(all.members.find((m) => m.member === 'm-paddle'));
  });
  it('says what a thread is, as its body is a plain cylinder', () => {
    const { compiled, pose } = demo('screw-gate');
    const screws = assemblyOf(compiled, pose)
      .members.flatMap((m) => m.bodies)
      .filter((b) => b.type === 'screw');
    expect(screws.map((b) => b.remark)).toEqual(screws.map(() => expect.stringMatching(/^thread \d.* × \d.*(right|left) hand, plain cylinder$/)));
  });
  it('moves in a run as its members do', () => {
    const { compiled, pose } = demo('screw-gate');
    const a = assemblyOf(compiled, pose);
    const r = run(compiled, { duration: 4, frames: 9 }, pose.u);
    const { places, time } = memberMotion(compiled, pose, a, r);
    expect([...time]).toEqual([...r.time.subarray(0, r.frames)]);
    // The frame stands still; a member that slides moves by what its joint does.
    expect(places[a.members.findIndex((m) => m.member === 'frame')]).toBeUndefined();
    const slide = compiled.structure.coordinates.find((c) => c.motion === 'slide')!;
    const i = a.members.findIndex((m) => m.member === slide.joint.child);
    const body = a.members[i].bodies[0];
    const [from, to] = [0, r.frames - 1].map((f) => within(places[i]![f], body.place).o);
    const way = 1000 * Math.abs(r.q[(r.frames - 1) * r.coordinates + slide.index] - r.q[slide.index]);
    expect(way).toBeGreaterThan(1);
    expect(Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2])).toBeCloseTo(way, 6);
  });
});
