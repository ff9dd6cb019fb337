import type { Element } from '../fields/types';

/** Sizes of an element of every kind. */
export const SAMPLES: Record<string, Record<string, unknown>> = {
  gear: { teeth: 24, module: 3, width: 20, bore: 20, helix: 15 },
  rack: { teeth: 12, module: 3, width: 20, height: 20 },
  'bevel-gear': { teeth: 20, module: 3, coneAngle: 40, width: 12, bore: 10 },
  worm: { starts: 2, module: 3, diameter: 40, length: 60 },
  'worm-wheel': { teeth: 40, module: 3, width: 20, twist: 8 },
  drum: { diameter: 200, rope: 10, width: 120, layers: 2, bore: 40 },
  pulley: { form: 'toothed', teeth: 30, pitch: 8, width: 20, bore: 15 },
  screw: { diameter: 30, pitch: 6, length: 200 },
  nut: { outside: 50, bore: 30, length: 40 },
  wheel: { diameter: 100, width: 30, bore: 20 },
  track: { length: 500, width: 30, height: 20 },
  cam: {
    base: 60,
    width: 12,
    bore: 16,
    segments: [
      { angle: 120, rise: 10, law: 'cycloidal' },
      { angle: 60, rise: 0, law: 'dwell' },
      { angle: 180, rise: -10, law: 'harmonic' },
    ],
  },
  follower: { form: 'roller', size: 20, width: 12, stem: 0 },
  sector: { teeth: 60, arcTeeth: 15, module: 2, width: 18, bore: 20 },
  'ratchet-wheel': { teeth: 24, diameter: 100, width: 10, bore: 20 },
  pawl: { length: 40, width: 10 },
  lever: { length: 120, eye: 30, hole: 12, thickness: 10 },
  pointer: { length: 60 },
  dial: { diameter: 100, divisions: 24 },
  crank: { radius: 200 },
  rod: { diameter: 30, length: 100, bore: 10 },
  block: { length: 30, depth: 20, height: 10 },
  shape: {
    content: 'ab'.repeat(32),
    file: 'bracket.step',
    part: 'Bracket',
    volume: 6,
    centroid: [1, 2, 3],
    inertia: [42, 83, 108],
    products: [1, -2, 3],
    least: [-14, -8, -2],
    most: [16, 12, 8],
    places: [
      { key: 'p1', kind: 'axis', point: [5, 0, 3], direction: [0, 0, 1], size: 8 },
      { key: 'p2', kind: 'face', point: [16, 2, 3], direction: [1, 0, 0], size: 200 },
    ],
  },
};
export const sample = (type: string): Element => ({ id: 'e', name: 'e', type, member: 'm', ...SAMPLES[type] });
