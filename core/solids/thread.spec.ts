import { describe, expect, it } from 'vitest';
import { elementKind } from '../elements/index';
import { sample } from '../testing/samples';
import { sizeOfMesh } from '../shapes/index';
import { areaOf, flattened, massOf, meshOf, threadSection } from './index';

const screw = (more: object) => ({ ...sample('screw'), ...more });
const made = (type: string, more: object) => elementKind(type)!.threaded!({ ...sample(type), ...more } as never)!;

describe('a modelled thread', () => {
  it.each([
    // Tr 20 × 4: d3 = 15.5 mm; Tr 40 × 7: d3 = 32 mm (ISO 2904, tables; from memory).
    [{ diameter: 20, pitch: 4 }, 15.5],
    [{ diameter: 40, pitch: 7 }, 32],
    // M20: d3 = 16.933 mm (ISO 68-1, ISO 724; from memory).
    [{ diameter: 20, pitch: 2.5, form: 'metric' }, 16.933],
  ])('of %j has the core of its standard', (size, core) => {
    const [solid] = elementKind('screw')!.threaded!(screw({ ...size, length: 30 }) as never)!;
    if (solid.kind !== 'prism') throw new Error('prism');
    const p = flattened(solid.outline, { turn: 0.01, tolerance: 1e-4 });
    const radii = Array.from({ length: p.length / 2 }, (_, i) => Math.hypot(p[2 * i], p[2 * i + 1]));
    expect(2 * Math.min(...radii)).toBeCloseTo(core, 2);
    expect(2 * Math.max(...radii)).toBeCloseTo(size.diameter, 6);
  });

  it('has straight flanks in the axial section: across it the radius grows evenly with the angle', () => {
    const profile = { crest: 20, root: 16, pitch: 8, crestFlat: 3, rootFlat: 2.6, starts: 1 };
    const o = threadSection(profile)!;
    const p = flattened(o, { turn: 0.005, tolerance: 1e-6 });
    for (let i = 0; i < p.length; i += 2) {
      const r = Math.hypot(p[i], p[i + 1]);
      const z = ((Math.atan2(p[i + 1], p[i]) + 2 * Math.PI) % (2 * Math.PI)) * (profile.pitch / (2 * Math.PI));
      // Over a pitch: half the root, up, crest, down, half the root.
      const flank = (profile.pitch - profile.crestFlat - profile.rootFlat) / 2;
      const up = (z - profile.rootFlat / 2) / flank,
        down = (profile.pitch - profile.rootFlat / 2 - z) / flank;
      const due = 16 + 4 * Math.max(0, Math.min(1, up, down));
      expect(r).toBeCloseTo(due, 3);
    }
  });

  it('winds as its hand says, and weighs between its core and its outside', () => {
    const right = made('worm', { hand: 'right' }),
      left = made('worm', { hand: 'left' });
    const twist = (s: typeof right): number => (s[0].kind === 'prism' ? s[0].twist! : NaN);
    expect(twist(right)).toBeCloseTo(-twist(left), 12);
    expect(twist(right)).toBeGreaterThan(0);
    // Samples: two starts, module 3: lead 6π over 60 mm.
    expect(twist(right)).toBeCloseTo((60 / (6 * Math.PI)) * 2 * Math.PI, 9);
    const mass = (s: typeof right): number => massOf(s, 1e9).mass;
    const [core, outside] = [(Math.PI * (40 - 7.2) ** 2 * 60) / 4, (Math.PI * 46 ** 2 * 60) / 4];
    expect(mass(right)).toBeGreaterThan(core);
    expect(mass(right)).toBeLessThan(outside);
    expect(mass(right)).toBeCloseTo(mass(left), 6);
  });

  it('its surface is closed and holds its volume', () => {
    const [s] = made('screw', { diameter: 30, pitch: 6, length: 24 });
    const { size } = sizeOfMesh(meshOf(s));
    expect(size.closed).toBe(true);
    expect(size.volume / massOf([s], 1e9).mass).toBeCloseTo(1, 2);
  });

  it('with several starts has as many in its section; a square thread’s flanks stand along the radius', () => {
    const section = (starts: number, form: string) => {
      const [s] = made('screw', { diameter: 30, pitch: 6, length: 24, starts, form });
      return s.kind === 'prism' ? s.outline : undefined;
    };
    expect(areaOf(section(3, 'trapezoidal')!)).toBeCloseTo(areaOf(section(1, 'trapezoidal')!), 2);
    expect(areaOf(section(1, 'square')!)).toBeCloseTo((Math.PI * (15 ** 2 + 12 ** 2)) / 2, 6);
  });

  it('is none of a ball screw, nor where the flanks meet', () => {
    expect(elementKind('screw')!.threaded!(screw({ form: 'ball' }) as never)).toBeUndefined();
    expect(threadSection({ crest: 10, root: 5, pitch: 2, crestFlat: 1.5, rootFlat: 1, starts: 1 })).toBeUndefined();
  });
});
