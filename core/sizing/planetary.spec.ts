import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { Design } from '../document/index';
import { setPhases } from '../kinematics/index';
import { Builder } from '../testing/designs';
import { type Values, assembles, assemblyAngles, choicesNear, mostPlanets, stageKind, stageValues } from './index';

/** Sun, planets at the given angles (deg) and a held ring, standard gears of module 1. */
function planetary(zs: number, zp: number, angles: readonly number[]): Design {
  const b = new Builder().weightless();
  const zr = zs + 2 * zp;
  const sun = b.shaft([0, 0, 0]),
    arm = b.shaft([0, 0, 0], 'frame', { kind: 'carrier', name: 'Carrier' });
  const s = b.gear(sun.member, zs),
    r = b.gear('frame', zr, 1, { internal: true, rim: zr + 10 });
  for (const a of angles) {
    const t = (a * Math.PI) / 180,
      c = (zs + zp) / 2;
    const p = b.shaft([c * Math.cos(t), c * Math.sin(t), 0], arm.member);
    const g = b.gear(p.member, zp);
    b.mesh(s, g);
    b.mesh(g, r);
  }
  b.motor(sun.joint);
  return b.design;
}

const even = (n: number): number[] => Array.from({ length: n }, (_, k) => (360 * k) / n);

describe('assembly of planetary sets', () => {
  it('goes together evenly where sun and ring add up to a multiple of the planets', () => {
    // Müller, Epicyclic Drive Trains, assembly condition (from memory): 24 + 84 = 108 takes 2, 3, 4 and 6 planets, not 5.
    expect([2, 3, 4, 5, 6].filter((n) => assembles(24, 84, n))).toEqual([2, 3, 4, 6]);
    for (const n of [3, 4]) {
      const d = setPhases(planetary(24, 30, even(n)));
      expect(d.findings).toEqual([]);
      expect(analyse(d.design).findings.filter((f) => f.severity === 'fault')).toEqual([]);
    }
  });

  it('says that others cannot be put together, with the angles and the counts that would do', () => {
    const d = setPhases(planetary(25, 30, even(3))).design;
    const f = analyse(d).findings.find((x) => x.code === 'planets-do-not-assemble')!;
    expect(f.severity).toBe('fault');
    expect(f.message).toMatch(/divisible by 3/);
    // Counts offered do assemble, and the angles offered too.
    for (const c of choicesNear(25, 85, 3)) {
      expect(assembles(c.sun, c.ring, 3)).toBe(true);
      expect(c.ring).toBe(c.sun + 2 * c.planet);
    }
    const at = setPhases(planetary(25, 30, assemblyAngles(25, 85, 3)));
    expect(at.findings).toEqual([]);
    expect(analyse(at.design).findings.filter((x) => x.severity === 'fault')).toEqual([]);
  });

  it('keeps tips of neighbours apart', () => {
    // sin(180°/n) > (zp + 2)/(zs + zp): common practice.
    expect(mostPlanets(24, 30)).toBe(4);
    expect(mostPlanets(60, 15)).toBe(13);
  });
});

describe('counts of a planetary stage', () => {
  const kind = stageKind('planetary')!;
  const typed = (...list: [string, number][]): Values => {
    let values = stageValues(kind);
    const stated: string[] = [];
    for (const [key, v] of list) {
      values = kind.follow!({ ...values, [key]: v }, key, stated);
      stated.unshift(key);
    }
    return values;
  };
  it.each<[[string, number][], Values]>([
    [[['sun', 20]], { sun: 20, planet: 30, ring: 80 }],
    [[['planet', 20]], { sun: 24, planet: 20, ring: 64 }],
    [[['ring', 96]], { sun: 24, planet: 36, ring: 96 }],
    [
      [
        ['sun', 20],
        ['ring', 100],
      ],
      { sun: 20, planet: 40, ring: 100 },
    ],
    [
      [
        ['ring', 100],
        ['planet', 30],
      ],
      { sun: 40, planet: 30, ring: 100 },
    ],
    [
      [
        ['ring', 100],
        ['sun', 20],
        ['planet', 25],
      ],
      { sun: 20, planet: 25, ring: 70 },
    ],
    [
      [
        ['sun', 20],
        ['sun', 22],
        ['ring', 90],
      ],
      { sun: 22, planet: 34, ring: 90 },
    ],
  ])('follow from the two that were typed last: %j', (list, counts) => {
    expect(typed(...list)).toMatchObject(counts);
  });
  it('that leave no whole planet are refused with ones that do, never rounded in silence', () => {
    const values = typed(['sun', 20], ['ring', 99]);
    const wrong = kind.problem!(values)!;
    expect(wrong).toMatchObject({ field: 'ring' });
    expect(wrong.message).toContain('must be even');
    for (const c of wrong.choices!) expect(kind.problem!({ ...values, ...c })).toBeUndefined();
  });
  it('stated in part are filled in with what fits', () => {
    expect(stageValues(kind, { sun: 18, ring: 90 })).toMatchObject({ sun: 18, planet: 36, ring: 90 });
    expect(stageValues(kind, { planet: 36, ring: 90 })).toMatchObject({ sun: 18, planet: 36, ring: 90 });
    expect(stageValues(kind, { sun: 18, planet: 36 })).toMatchObject({ ring: 90 });
  });
  it('without a source, no finding asks for the carrier to be fastened', () => {
    const d = planetary(24, 30, even(3));
    const found = analyse({ ...d, sources: [] }).findings.map((f) => f.code);
    expect(found).toContain('no-source');
    expect(found).not.toContain('support-left-free');
  });
});
