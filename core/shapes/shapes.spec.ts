import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { dot, frameOf, norm, vsub } from '../math/index';
import { type Mesh, circle, massOf, meshOf, rectangle } from '../solids/index';
import { boxMesh, shapeFrom } from '../testing/shapes';
import { chosenPlaces, foundAgain, placesOfMesh, sizeOfMesh, welded } from './index';

/** A plate with a round hole. */
const plate = (length: number, hole = 10, at = 20): Mesh =>
  welded(
    meshOf({
      kind: 'prism',
      outline: rectangle(0, 0, length, 40),
      holes: [circle(hole / 2, at, 20)],
      from: 0,
      to: 8,
    }),
  );

describe('what a mesh weighs', () => {
  it('is that of the box that it is: volume, centroid and moments of a cuboid', () => {
    const { size } = sizeOfMesh(boxMesh(30, 20, 10));
    expect(size.volume).toBeCloseTo(6000, 9);
    expect(size.centroid).toEqual([15, 10, 5]);
    // m/12 (b² + c²), over the mass (any textbook).
    expect(size.inertia[0]).toBeCloseTo((20 ** 2 + 10 ** 2) / 12, 9);
    expect(size.inertia[1]).toBeCloseTo((30 ** 2 + 10 ** 2) / 12, 9);
    expect(size.inertia[2]).toBeCloseTo((30 ** 2 + 20 ** 2) / 12, 9);
    for (const k of [3, 4, 5]) expect(Math.abs(size.inertia[k])).toBeLessThan(1e-9);
  });

  it('agrees with the integral over the outline, wherever the body stands and however it is turned', () => {
    fc.assert(
      fc.property(
        fc.tuple(fc.integer({ min: -1000, max: 1000 }), fc.integer({ min: -1000, max: 1000 }), fc.integer({ min: -1000, max: 1000 })),
        fc.tuple(fc.integer({ min: -5, max: 5 }), fc.integer({ min: -5, max: 5 }), fc.integer({ min: 1, max: 5 })),
        (o, axis) => {
          const place = frameOf(o, axis);
          const solid = { kind: 'prism' as const, outline: rectangle(0, 0, 50, 20), from: 3, to: 12, place };
          const exact = massOf([solid], 1e9);
          const { size } = sizeOfMesh(meshOf(solid));
          expect(size.volume / exact.mass).toBeCloseTo(1, 9);
          expect(norm(vsub(size.centroid, exact.centre))).toBeLessThan(1e-6);
          size.inertia.forEach((x, k) => expect(x).toBeCloseTo(exact.inertia[k] / exact.mass, 5));
        },
      ),
    );
  });

  it('is unknown where the surface is open, and the same inside out', () => {
    const box = boxMesh(1, 1, 1);
    expect(sizeOfMesh({ ...box, triangles: box.triangles.slice(3) }).size).toMatchObject({ closed: false, volume: 0 });
    const out = sizeOfMesh({ ...box, triangles: Uint32Array.from(Array.from(box.triangles).reverse()) });
    expect(out.size.volume).toBeCloseTo(1, 12);
    expect(sizeOfMesh(out.mesh).size.volume).toBeCloseTo(1, 12);
  });

  it('does not depend on whether triangles share their corners', () => {
    const box = boxMesh(7, 5, 3);
    const apart = {
      points: Float64Array.from(Array.from(box.triangles).flatMap((i) => Array.from(box.points.slice(3 * i, 3 * i + 3)))),
      triangles: Uint32Array.from(box.triangles.keys()),
    };
    expect(sizeOfMesh(apart).size.closed).toBe(false);
    expect(welded(apart).points.length).toBe(24);
    expect(sizeOfMesh(welded(apart)).size.volume).toBeCloseTo(105, 9);
  });
});

describe('places of a mesh', () => {
  it('of a box: six faces, twelve edges, eight corners', () => {
    const { places, edges } = placesOfMesh(boxMesh(30, 20, 10));
    const count = (kind: string): number => places.filter((p) => p.kind === kind).length;
    expect([count('face'), count('edge'), count('corner'), count('axis'), count('centre')]).toEqual([6, 12, 8, 0, 0]);
    expect(edges.length / 6).toBe(12);
    const top = places.find((p) => p.kind === 'face' && p.direction[2] === 1);
    expect(norm(vsub(top!.point, [15, 10, 10]))).toBeLessThan(1e-9);
    expect(top!.size).toBeCloseTo(600, 9);
    expect(
      places
        .filter((p) => p.kind === 'edge')
        .map((p) => p.size)
        .sort((a, b) => a - b),
    ).toEqual([10, 10, 10, 10, 20, 20, 20, 20, 30, 30, 30, 30]);
  });

  it('of a plate with a hole: the hole’s axis where it is, with its diameter', () => {
    const { places } = placesOfMesh(plate(100, 12, 35));
    const axes = places.filter((p) => p.kind === 'axis');
    expect(axes).toHaveLength(1);
    expect(axes[0].size).toBeCloseTo(12, 2);
    expect(norm(vsub(axes[0].point, [35, 20, 4]))).toBeLessThan(1e-3);
    expect(Math.abs(dot(axes[0].direction, [0, 0, 1]))).toBeCloseTo(1, 9);
  });
});

describe('places found again', () => {
  it('in a longer plate: the end face went, the hole stayed', () => {
    const [a, b] = [shapeFrom(plate(100)), shapeFrom(plate(150))];
    const found = foundAgain(a.places, b.places, 150);
    const end = a.places.findIndex((p) => p.kind === 'face' && p.direction[0] > 0.99);
    expect(b.places[found[end]!].point[0]).toBeCloseTo(150, 9);
    const hole = a.places.findIndex((p) => p.kind === 'axis');
    expect(norm(vsub(b.places[found[hole]!].point, a.places[hole].point))).toBeLessThan(1e-6);
  });

  it('are none where there is no such place any more: a hole of another size is another hole', () => {
    const [a, b] = [shapeFrom(plate(100, 10)), shapeFrom(plate(100, 30))];
    const found = foundAgain(a.places, b.places, 100);
    expect(found[a.places.findIndex((p) => p.kind === 'axis')]).toBeUndefined();
  });

  it('give each place to one alone, and every place to itself where nothing changed', () => {
    const { places } = shapeFrom(plate(80));
    expect(foundAgain(places, places, 80)).toEqual(places.map((_, i) => i));
  });

  it('are chosen by size, every kind with some', () => {
    const { places } = shapeFrom(plate(80));
    const few = chosenPlaces(places, 10);
    expect(few).toHaveLength(10);
    expect(new Set(few.map((p) => p.kind)).size).toBeGreaterThan(3);
    expect(few[0].kind).toBe('axis');
  });
});
