import fc from 'fast-check';
import type { Gear } from '../elements/index';
import { item } from '../testing/designs';
import { describe, expect, it } from 'vitest';
import type { Element } from '../fields/types';
import { ELEMENT_KINDS, FACES, byShape, elementKind, elementProblems, extentOf, faceOf, plainOf } from './index';
import { massOf } from '../solids/index';
import { gearOf } from './index';
import { gearOutline } from '../teeth/index';

const make = (type: string, fields: Record<string, unknown>): Element => ({ id: 'e', name: 'e', type, member: 'm', ...fields });
const shape = (e: Element) => elementKind(e.type)!.shape(e);
const derived = (e: Element, key: string): number => Number(elementKind(e.type)!.derived!(e).find((d) => d.key === key)!.value);

describe('faces of elements', () => {
  it('stand at the ends of what is drawn, each looking outward', () => {
    const block = make('block', { length: 30, depth: 20, height: 10 });
    expect(faceOf(block, '+x')).toEqual({ point: [15, 0, 0], normal: [1, 0, 0] });
    expect(faceOf(block, '-z')).toEqual({ point: [0, 0, -5], normal: [0, 0, -1] });
    const rod = make('rod', { diameter: 40, length: 100 });
    expect(faceOf(rod, '+z')!.point[2]).toBe(50);
    expect(faceOf(rod, '+y')!.point[1]).toBeCloseTo(20, 9);
    const nut = make('nut', { outside: 60, bore: 30, length: 45 });
    expect(faceOf(nut, '-z')!.point[2]).toBeCloseTo(-22.5, 9);
  });
  it('are there for every kind with sizes', () => {
    const gear = make('gear', { teeth: 20, module: 2, width: 12 });
    for (const side of FACES) expect(faceOf(gear, side)).toBeDefined();
    expect(faceOf(make('gear', { teeth: 20, module: 2, width: 12 }), '+x')!.point[0]).toBeCloseTo(22, 1);
    expect(faceOf(make('nothing', {}), '+x')).toBeUndefined();
    expect(extentOf(elementKind('block')!, make('block', { length: 4, depth: 6, height: 8 }))).toEqual([
      [-2, -3, -4],
      [2, 3, 4],
    ]);
  });
});

describe('ratchet wheels and pawls', () => {
  const wheel = (more: object = {}) => make('ratchet-wheel', { teeth: 24, diameter: 100, width: 10, ...more });
  it('lose at most a tooth, 360° over their number', () => expect(derived(wheel(), 'pitch')).toBe(15));
  it('weigh less than the disc round their tips and more than the one inside their roots', () => {
    const mass = massOf(shape(wheel()), 7850).mass;
    const disc = (r: number): number => Math.PI * r * r * 10 * 7850e-9;
    expect(mass).toBeLessThan(disc(50));
    expect(mass).toBeGreaterThan(disc(50 - derived(wheel(), 'depthUsed')));
  });
  it('lean the other way where they are free to turn back', () => {
    // Counter-clockwise from a root: up the steep face, or up the back.
    const turn = (free: string): number => {
      const s = shape(wheel({ free }))[0];
      if (s.kind !== 'prism') throw new Error(s.kind);
      const [a, b] = [s.outline.start, s.outline.pieces[0].to];
      expect(Math.hypot(...b)).toBeGreaterThan(Math.hypot(...a));
      return Math.atan2(a[0] * b[1] - a[1] * b[0], a[0] * b[0] + a[1] * b[1]);
    };
    expect(turn('forward')).toBeCloseTo(0, 9);
    expect(turn('back')).toBeGreaterThan(0.1);
  });
});

describe('levers, pointers and dials', () => {
  it('a lever weighs as a bar with round ends less its holes', () => {
    const e = make('lever', { length: 100, eye: 30, hole: 12, thickness: 8 });
    const area = 100 * 30 + Math.PI * 15 * 15 - 2 * Math.PI * 36;
    expect(massOf(shape(e), 7850).mass / (area * 8 * 7850e-9)).toBeCloseTo(1, 9);
    expect(massOf(shape(e), 7850).centre[0]).toBeCloseTo(50, 6);
  });
  it('a dial has a mark for each division', () => {
    expect(shape(make('dial', { diameter: 100, divisions: 36 }))).toHaveLength(37);
    expect(derived(make('dial', { diameter: 100, divisions: 36 }), 'division')).toBe(10);
  });
  it('a pointer reaches its length from its axis', () => expect(faceOf(make('pointer', { length: 60 }), '+x')!.point[0]).toBe(60));
});

describe('cams as elements', () => {
  const segments = [
    { angle: 90, rise: 10, law: 'cycloidal' },
    { angle: 90, rise: 0, law: 'dwell' },
    { angle: 90, rise: -10, law: 'cycloidal' },
    { angle: 90, rise: 0, law: 'dwell' },
  ];
  it('tell their lift, pressure angle and curvature', () => {
    const e = make('cam', { base: 120, roller: 20, width: 12, segments });
    expect(derived(e, 'lift')).toBeCloseTo(10, 9);
    expect(derived(e, 'pressure')).toBeGreaterThan(5);
    expect(derived(e, 'pressure')).toBeLessThan(20);
    expect(elementProblems(e)).toEqual([]);
  });
  it('are drawn round their base circle where they have no motion yet, and say so', () => {
    const e = make('cam', { base: 60, width: 12 });
    expect(elementProblems(e)[0].words['problem']).toMatch(/no motion yet/);
    expect(massOf(shape(e), 7850).mass).toBeCloseTo(Math.PI * 900 * 12 * 7850e-9, 9);
  });
  it('turn with their phase', () => {
    const start = (phase: number): readonly number[] => {
      const s = shape(make('cam', { base: 60, roller: 10, width: 12, segments, phase }))[0];
      return s.kind === 'prism' ? s.outline.start : [];
    };
    const a = start(0),
      b = start(90);
    expect(b[0]).toBeCloseTo(-a[1], 9);
    expect(b[1]).toBeCloseTo(a[0], 9);
  });
});

it('every kind has a label, and fields that are named once', () => {
  for (const k of ELEMENT_KINDS) {
    expect(k.label).not.toBe('');
    expect(new Set(k.fields.map((f) => f.key)).size).toBe(k.fields.length);
  }
});

describe('shapes that are equal', () => {
  it('are made once, wherever their elements stand; other sizes are made anew', () => {
    let made = 0;
    const store = byShape((e: Gear) => ({ n: ++made, teeth: e.teeth }));
    const a = make('gear', { teeth: 20, module: 2, width: 10 });
    const first = store(a);
    expect(store({ ...a, id: 'other', name: 'Other', member: 'n', at: [1, 2, 3] })).toBe(first);
    expect(store(item({ ...a, teeth: 21 }))).not.toBe(first);
    expect(store(item({ ...a, phase: 3 }))).not.toBe(first);
    expect(made).toBe(3);
  });
});

describe('sizes that leave no body', () => {
  const element = (type: string, fields: object) => ({ id: 'e', name: 'E', type, member: 'm', ...fields });
  const codes = (type: string, fields: object): string[] => elementProblems(element(type, fields)).map((p) => p.key.split('/')[0]);
  const sound: Record<string, object> = {
    gear: { teeth: 24, module: 2, width: 20, bore: 20 },
    pulley: { diameter: 80, width: 20, bore: 20 },
    'bevel-gear': { teeth: 24, module: 3, coneAngle: 45, width: 15, bore: 20 },
    'worm-wheel': { teeth: 30, module: 2, width: 20, bore: 20 },
    'ratchet-wheel': { teeth: 24, diameter: 80, width: 10, bore: 20 },
    wheel: { diameter: 80, width: 20, bore: 20 },
  };
  it.each(Object.entries(sound))('%s: a bore that is too large is said, not made smaller; one that fits is not', (type, fields) => {
    expect(codes(type, fields)).not.toContain('bore-too-large');
    expect(codes(type, { ...fields, bore: 81 })).toContain('bore-too-large');
  });
  it('hole of a lever, depth of a ratchet, hub of a sector, rim of a ring, back of a rack', () => {
    expect(codes('lever', { length: 100, eye: 20, thickness: 5, hole: 20 })).toEqual(['bore-too-large']);
    expect(codes('ratchet-wheel', { teeth: 24, diameter: 80, width: 10, depth: 41 })).toEqual(['bore-too-large']);
    expect(codes('sector', { teeth: 40, arcTeeth: 9, module: 2, width: 10, hub: 90 })).toContain('bore-too-large');
    expect(codes('gear', { teeth: 60, module: 2, width: 10, internal: true, rim: 124 })).toContain('rim-too-small');
    expect(codes('gear', { teeth: 60, module: 2, width: 10, internal: true, rim: 140 })).toEqual([]);
    expect(codes('rack', { teeth: 20, module: 4, width: 10, height: 4 })).toEqual(['height-too-small']);
  });
  it('teeth of which nothing is left', () => {
    const g = { teeth: 24, module: 2, width: 20 };
    expect(codes('gear', { ...g, tipCut: 4.5 })).toContain('no-tooth');
    expect(codes('gear', { ...g, thinning: 4 })).toContain('no-tooth');
    expect(codes('gear', g)).toEqual([]);
  });
  it('any gear without a finding has an outline that does not cross itself', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 5, max: 60 }),
        fc.double({ min: -1, max: 1.2, noNaN: true }),
        fc.double({ min: 0.6, max: 1.4, noNaN: true }),
        fc.double({ min: 0.8, max: 2.2, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.boolean(),
        (teeth, shift, addendum, dedendum, fillet, internal) => {
          const e = element('gear', { teeth, module: 2, width: 10, shift, addendum, dedendum, fillet, internal, rim: 400 });
          const stops = elementProblems(e).filter(
            (p) => p.key === 'no-tooth' || p.key === 'no-root' || p.key === 'tip-inside-base' || p.key === 'pointed-tip',
          );
          if (stops.length) return;
          const o = gearOutline(gearOf(e), 0);
          // Round once, never back: seen from the centre a simple outline of teeth
          // turns forward, but for undercut flanks and ring teeth, which lean.
          const points = Array.from({ length: o.length / 2 }, (_, i) => [o[2 * i], o[2 * i + 1]]).slice(0, Math.ceil(o.length / 2 / teeth) * 2);
          const side = (a: number[], b: number[], c: number[]): number => (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
          for (let i = 0; i + 1 < points.length; i++) {
            for (let k = i + 2; k + 1 < points.length; k++) {
              const [a, b, c, d] = [points[i], points[i + 1], points[k], points[k + 1]];
              expect(side(a, b, c) * side(a, b, d) < -1e-12 && side(c, d, a) * side(c, d, b) < -1e-12).toBe(false);
            }
          }
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('a thread', () => {
  it('reaches as far as its outside diameter says, and weighs what its pitch cylinder does', () => {
    const e = make('screw', { diameter: 40, pitch: 7, length: 100 });
    expect(faceOf(e, '+x')!.point[0]).toBe(20);
    expect(faceOf(e, '+z')!.point[2]).toBe(50);
    // Tr 40 × 7: d2 = 36.5 (ISO 2904).
    expect(massOf(shape(e), 1e9).mass / ((Math.PI * 36.5 ** 2 * 100) / 4)).toBeCloseTo(1, 9);
  });
});

describe('a body without teeth and threads', () => {
  it.each([
    ['gear', { teeth: 24, module: 3, width: 20, bore: 20 }],
    ['gear', { teeth: 60, module: 2, width: 20, internal: true, rim: 150 }],
    ['sector', { teeth: 60, arcTeeth: 15, module: 2, width: 18, bore: 20 }],
    ['rack', { teeth: 12, module: 3, width: 20, height: 20 }],
    ['bevel-gear', { teeth: 20, module: 3, coneAngle: 40, width: 12, bore: 10 }],
    ['worm', { starts: 2, module: 3, diameter: 40, length: 60 }],
    ['worm-wheel', { teeth: 40, module: 3, width: 20 }],
    ['pulley', { form: 'toothed', teeth: 30, pitch: 8, width: 20, bore: 15 }],
    ['ratchet-wheel', { teeth: 24, diameter: 100, width: 10, bore: 20 }],
    ['screw', { diameter: 30, pitch: 6, length: 200 }],
    ['dial', { diameter: 100, divisions: 24 }],
  ])('of a %s is less than the whole, and most of it', (type, fields) => {
    const e = make(type, fields);
    const part = massOf(plainOf(e), 1e9).mass / massOf(shape(e), 1e9).mass;
    expect(part).toBeLessThan(1);
    expect(part).toBeGreaterThan(0.6);
  });
});
