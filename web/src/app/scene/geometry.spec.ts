import { BufferGeometry } from 'three';
import { describe, expect, it } from 'vitest';
import type { Element } from '@unirota/core/document';
import { ELEMENT_KINDS, type Rack, elementKind } from '@unirota/core/elements';
import { massOf } from '@unirota/core/solids';
import { SAMPLES, sample } from '../../../../core/testing/samples';
import { band, chainLine, coil, drawn, drawnRoughly, patch, polyline } from './geometry';
import { drawnShape } from './imported';
import { referenceLines } from './reference-lines';

/** Volume inside a closed surface, by the divergence theorem; positive when every triangle looks outward. mm³ */
function volume(g: BufferGeometry): number {
  const p = g.getAttribute('position').array;
  let v = 0;
  for (let i = 0; i < p.length; i += 9) {
    const [ax, ay, az, bx, by, bz, cx, cy, cz] = Array.from(p.slice(i, i + 9));
    v += (ax * (by * cz - bz * cy) + ay * (bz * cx - bx * cz) + az * (bx * cy - by * cx)) / 6;
  }
  return v;
}

describe('what is drawn', () => {
  it('has a sample for every kind of element', () => expect(Object.keys(SAMPLES).sort()).toEqual(ELEMENT_KINDS.map((k) => k.type).sort()));

  it.each(Object.keys(SAMPLES).filter((type) => !elementKind(type)!.imported))(
    '%s: the surface is closed, looks outward, and holds the volume that is weighed',
    (type) => {
      const e = sample(type);
      const g = drawn(e).surface;
      const weighed = massOf(elementKind(type)!.shape(e), 1e9).mass;
      // Round bodies are drawn with 48 sides, which take 0.3 % less; a twist in slices takes a little as well.
      expect(volume(g) / weighed).toBeGreaterThan(0.985);
      expect(volume(g) / weighed).toBeLessThan(1.005);
      const n = g.getAttribute('normal').array;
      for (let i = 0; i < n.length; i += 3) expect(Math.hypot(n[i], n[i + 1], n[i + 2])).toBeCloseTo(1, 4);
    },
  );

  it('is kept with its element and drawn again only for a changed one', () => {
    const e = sample('gear');
    expect(drawn(e)).toBe(drawn(e));
    expect(drawn({ ...e, teeth: 25 } as typeof e)).not.toBe(drawn(e));
  });

  it('a belt is as long and wide as its line says', () => {
    const b = band(
      [
        [0, 0, 0],
        [100, 0, 0],
        [100, 50, 0],
        [0, 50, 0],
      ],
      20,
      [0, 0, 1],
    );
    const p = b.surface.getAttribute('position').array;
    let area = 0;
    for (let i = 0; i < p.length; i += 9) {
      const u = [p[i + 3] - p[i], p[i + 4] - p[i + 1], p[i + 5] - p[i + 2]],
        v = [p[i + 6] - p[i], p[i + 7] - p[i + 1], p[i + 8] - p[i + 2]];
      area += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
    }
    expect(area).toBeCloseTo(300 * 20, 6);
  });
});

describe('seen from far', () => {
  it('a gear keeps its place and size with far fewer surfaces, and other elements stay as they are', () => {
    const gear = sample('gear');
    const near = drawn(gear).surface,
      far = drawnRoughly(gear).surface;
    expect(far.getAttribute('position').count).toBeLessThan(0.5 * near.getAttribute('position').count);
    expect(volume(far) / volume(near)).toBeCloseTo(1, 1);
    near.computeBoundingSphere();
    far.computeBoundingSphere();
    expect(far.boundingSphere!.radius).toBeCloseTo(near.boundingSphere!.radius, 3);
    const block = sample('block');
    expect(drawnRoughly(block)).toBe(drawn(block));
    expect(drawnRoughly(gear)).toBe(drawnRoughly(gear));
  });
});

describe('lines and patches', () => {
  it('a closed line joins its end to its beginning, an open one does not', () => {
    const points = [
      [0, 0, 0],
      [1, 0, 0],
      [1, 1, 0],
    ] as const;
    expect(polyline(points, true).getAttribute('position').count).toBe(6);
    expect(polyline(points, false).getAttribute('position').count).toBe(4);
  });
  it('a patch covers the area inside its outline, whichever way its plane lies', () => {
    const area = (g: BufferGeometry): number => {
      const p = g.getAttribute('position').array;
      let a = 0;
      for (let i = 0; i < p.length; i += 9) {
        const u = [p[i + 3] - p[i], p[i + 4] - p[i + 1], p[i + 5] - p[i + 2]],
          v = [p[i + 6] - p[i], p[i + 7] - p[i + 1], p[i + 8] - p[i + 2]];
        a += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
      }
      return a;
    };
    const l = (x: number, y: number, z: number) => [x, y, z] as const;
    expect(area(patch([l(0, 0, 0), l(4, 0, 0), l(4, 1, 0), l(1, 1, 0), l(1, 3, 0), l(0, 3, 0)], [0, 0, 1]))).toBeCloseTo(6, 6);
    expect(area(patch([l(0, 0, 0), l(0, 3, 0), l(0, 3, 2), l(0, 0, 2)], [1, 0, 0]))).toBeCloseTo(6, 6);
  });
  it('a chain line ends in long dashes, and draws three quarters of a circle', () => {
    const along = (n: number) => Array.from({ length: n }, (_, i) => [i, 0, 0] as const);
    const drawn = Array.from(chainLine(along(46), false).getAttribute('position').array).filter((_, i) => i % 3 === 0);
    expect(drawn.slice(0, 12)).toEqual([0, 1, 1, 2, 2, 3, 3, 4, 4, 5, 6, 7]);
    expect(drawn.slice(-10)).toEqual([40, 41, 41, 42, 42, 43, 43, 44, 44, 45]);
    expect(chainLine(along(96), true).getAttribute('position').count / 2).toBe(72);
  });
  it('a coil begins and ends on its axis, a unit long', () => {
    const p = coil().getAttribute('position').array;
    expect([...p.slice(0, 3)]).toEqual([0, 0, 0]);
    expect([...p.slice(-3)]).toEqual([0, 0, 1]);
  });
});

it('a thread is drawn with its helices: lead, hand and starts can be counted', () => {
  for (const [hand, sign] of [
    ['right', 1],
    ['left', -1],
  ] as const) {
    const l = drawn({ ...sample('screw'), starts: 2, hand } as Element).lines.getAttribute('position');
    const bare = drawn({ ...sample('rod'), diameter: 27, length: 200, bore: 0 } as Element).lines.getAttribute('position').count;
    // Two helices of 200/12 turns.
    expect((l.count - bare) / 2 / 24).toBeCloseTo((2 * 200) / 12, 0);
    const [a, b] = [bare, bare + 1].map((i) => [l.getX(i), l.getY(i), l.getZ(i)]);
    const turned = Math.atan2(b[1], b[0]) - Math.atan2(a[1], a[0]);
    expect(turned / (2 * Math.PI)).toBeCloseTo(sign / 24, 6);
    expect(b[2] - a[2]).toBeCloseTo(12 / 24, 4);
    // Tr 30 × 6: the pitch diameter is 27.
    expect(Math.hypot(a[0], a[1])).toBeCloseTo(13.5, 4);
  }
});

describe('lines that an element is laid out by', () => {
  /** Their size by the figures of the sheet, which the element states on its own. */
  const figure = (e: Element, key: string): number => elementKind(e.type)!.derived!(e).find((d) => d.key === key)!.value as number;

  it.each(['gear', 'pulley', 'worm-wheel', 'bevel-gear'])('%s: the circle has the pitch diameter of its sheet', (type) => {
    const e = sample(type);
    expect(2 * referenceLines(e).circle!.radius).toBeCloseTo(figure(e, 'pitchDiameter'), 9);
  });
  it('the circle of a bevel gear lies on its pitch cone, at the outer cone distance', () => {
    const e = sample('bevel-gear');
    const { radius, at } = referenceLines(e).circle!;
    expect(Math.hypot(radius, at)).toBeCloseTo(figure(e, 'coneDistance'), 9);
  });
  it('a rack has its pitch line, as long as it is, and no axis', () => {
    const e = sample('rack');
    const { line, axis, circle } = referenceLines(e);
    expect([axis, circle]).toEqual([undefined, undefined]);
    expect(line![0].slice(1)).toEqual([0, 0]);
    expect(line![1].slice(1)).toEqual([0, 0]);
    expect((line![1][0] - line![0][0]) / figure(e, 'pitch')).toBeCloseTo(Number((e as Rack).teeth), 0);
  });
  it('an axis runs along z and stands out of both faces; what has no pitch circle has none', () => {
    const seen = { axis: 0, none: 0 };
    for (const type of Object.keys(SAMPLES)) {
      const { axis, circle, line } = referenceLines(sample(type));
      if (!axis) {
        seen.none++;
        expect(line === undefined || type === 'rack').toBe(true);
        continue;
      }
      seen.axis++;
      expect([axis[0][0], axis[0][1], axis[1][0], axis[1][1]]).toEqual([0, 0, 0, 0]);
      expect(axis[0][2]).toBeLessThan(circle!.at);
      expect(axis[1][2]).toBeGreaterThan(circle!.at);
    }
    expect(seen.axis).toBe(7);
    expect(seen.none).toBe(Object.keys(SAMPLES).length - 7);
  });
});

describe('an imported shape', () => {
  const shape = sample('shape');
  const content = { positions: new Float32Array(9), normals: new Float32Array(9), edges: new Float32Array(6) };
  it('is drawn by its content where that is at hand, once for as many as name it', () => {
    const contents = new Map([['ab'.repeat(32), content]]);
    const d = drawnShape(shape, contents)!;
    expect(d.surface.getAttribute('position').array).toBe(content.positions);
    expect(drawnShape({ ...shape, id: 'other' }, contents)).toBe(d);
  });
  it('is drawn as the twelve edges of its box where it is not; other elements are none', () => {
    expect(drawnShape(shape, new Map())!.lines.getAttribute('position').count).toBe(24);
    expect(drawnShape(sample('gear'), new Map())).toBeUndefined();
  });
});
