import { describe, expect, it } from 'vitest';
import { elementKind } from '../elements/index';
import { frameOf } from '../math/index';
import { SAMPLES, sample } from '../testing/samples';
import { byArcs, areaOf, lengthOf, massOf, meshOf, movedMesh, type Outline } from './index';
import { meshVolume, openEdges } from '../testing/surfaces';

const outlinesOf = (type: string): Outline[] =>
  (elementKind(type)?.shape(sample(type)) ?? []).flatMap((s) => (s.kind === 'turned' ? [s.section] : [s.outline, ...(s.holes ?? [])]));

describe.each(Object.keys(SAMPLES))('the body of a %s', (type) => {
  it('has a closed surface that looks outward and holds what is weighed', () => {
    for (const s of elementKind(type)!.shape(sample(type))) {
      const mesh = meshOf(s);
      expect(openEdges(mesh)).toBe(0);
      const volume = massOf([s], 1e9).mass;
      expect(meshVolume(mesh) / volume).toBeGreaterThan(0.997);
      expect(meshVolume(mesh) / volume).toBeLessThan(1.001);
      // Finer: as near as is asked for.
      expect(meshVolume(meshOf(s, { turn: 0, tolerance: 1e-3 })) / volume).toBeCloseTo(1, 3);
    }
  });
  it('has outlines that lines and arcs follow: the same area and length', () => {
    for (const o of outlinesOf(type)) {
      const flat = byArcs(o, 5e-4);
      expect(flat.pieces.every((p) => p.kind !== 'curve')).toBe(true);
      expect(Math.abs(areaOf(flat) / areaOf(o) - 1)).toBeLessThan(1e-4);
      expect(lengthOf(flat) / lengthOf(o)).toBeCloseTo(1, 4);
    }
  });
});

it('a surface put into another frame holds the same', () => {
  const mesh = meshOf(elementKind('lever')!.shape(sample('lever'))[0]);
  const there = movedMesh(mesh, frameOf([10, -20, 5], [1, 2, 3]));
  expect(meshVolume(there)).toBeCloseTo(meshVolume(mesh), 6);
});
