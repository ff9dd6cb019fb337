import { describe, expect, it } from 'vitest';
import type { Design } from '../fields/types';
import { cross, dot, norm, unit, vadd, vscale, vsub } from '../math/index';
import { gearData } from '../teeth/index';
import { Builder } from '../testing/designs';
import { figure } from '../testing/figures';
import { crossedContact } from './hertz';
import { type CrossedMesh, flankRadius, linesApart, rateCrossed } from './crossed';
import { ratingOf } from './trial';
import { gearMaterial } from './gear-material';
import type { RatedGear } from './mesh';
import { deviations } from './accuracy';

const DEG = Math.PI / 180;
const CONDITIONS = { application: 1, hours: 1000, viscosity: 220 };

function rated(teeth: number, helix: number, module = 2): RatedGear {
  const gear = gearData({
    module,
    teeth,
    alpha: 20 * DEG,
    beta: helix * DEG,
    shift: 0,
    internal: false,
    addendum: 1,
    dedendum: 1.25,
    fillet: 0.38,
    thinning: 0,
    tipCut: 0,
  });
  const material = gearMaterial({ materialGroup: 'case-hardened steel' });
  if (typeof material === 'string') throw new Error(material);
  return { gear, width: 10 * module, bore: 0, density: 7850, material, deviations: deviations(6, module, 2 * gear.pitchRadius, 20), roughness: 6 };
}
const PAIRS: [number, number][] = [
  [45, 45],
  [30, 60],
  [20, 15],
  [60, -25],
  [0, 35],
];

/** Two crossed gears, the second with a torque, N·m. */
function crossing(torque: number, b1 = 45, b2 = 45, more: object = {}): Design {
  const b = new Builder().weightless();
  const r = (z: number, beta: number): number => z / Math.cos(beta * DEG);
  const turned = (b1 + b2) * DEG;
  const s1 = b.shaft([0, 0, 0]);
  const s2 = b.shaft([r(20, b1) + r(30, b2), 0, 0], 'frame', { axis: [0, Math.sin(turned), Math.cos(turned)] });
  const helical = (beta: number): object => ({
    helix: Math.abs(beta),
    hand: beta < 0 ? 'left' : 'right',
    materialGroup: 'case-hardened steel',
    ...more,
  });
  b.couple('crossed-gears', {
    name: 'Crossing',
    a: b.gear(s1.member, 20, 2, { ...helical(b1) }),
    b: b.gear(s2.member, 30, 2, { ...helical(b2) }),
    efficiency: 0.8,
  });
  b.motor(s1.joint, 30);
  b.load('joint-load', { joint: s2.joint, value: torque });
  return b.design;
}

describe('crossed helical gears', () => {
  it.each(PAIRS)('helices of %s° and %s°: lines of the flanks are where both tangent planes of the base cylinders meet the flank', (b1, b2) => {
    const mesh: CrossedMesh = [rated(20, b1), rated(30, b2)];
    // The common tooth line is t, the line of centres r; axes leave t to the side of their hand.
    const [t, r] = [
      [0, 0, 1],
      [1, 0, 0],
    ] as const;
    const across = cross(t as never, r as never);
    const axis = (beta: number, side: number) => vadd(vscale(t as never, Math.cos(beta)), vscale(across, side * Math.sin(beta)));
    const z = [axis(b1 * DEG, 1), axis(b2 * DEG, -1)];
    const n = vadd(vscale(across, Math.cos(20 * DEG)), vscale(r as never, Math.sin(20 * DEG)));
    const [l1, l2] = z.map((a) => unit(vsub(a, vscale(n, dot(a, n)))));
    expect(linesApart(mesh)).toBeCloseTo(Math.asin(norm(cross(l1, l2))), 9);
    // And the axes cross at the sum of the helices.
    expect(Math.acos(dot(z[0], z[1])) / DEG).toBeCloseTo(Math.abs(b1 + b2), 6);
  });
  it.each(PAIRS)('helices of %s° and %s°: square to the tooth line a flank is that of the virtual gear r/cos²β (textbooks)', (b1) => {
    const gear = rated(20, b1);
    const along = Math.atan(Math.sin(20 * DEG) * Math.tan(b1 * DEG));
    // Euler: the curvature of a section is that of the curved way by cos² of the angle to it.
    const curvature = Math.cos(along) ** 2 / flankRadius(gear);
    expect(1 / curvature).toBeCloseTo((gear.gear.pitchRadius / Math.cos(b1 * DEG) ** 2) * Math.sin(20 * DEG), 9);
  });
  it('parallel axes, and axes that nearly are, are none', () => {
    const load = { force: 500, speed: 30 };
    expect(() => rateCrossed([rated(20, 20), rated(30, -20)], load, CONDITIONS)).toThrow('along a line');
    expect(() => rateCrossed([rated(20, 20), rated(30, -19.5)], load, CONDITIONS)).toThrow('so small an angle');
  });
  it('pressure and root stress by hand: 20 N·m behind 20/30 teeth at 90° with losses of 20 %', () => {
    const { lines, unrated } = ratingOf(crossing(20));
    expect(unrated.filter((u) => u.name === 'Crossing')).toEqual([]);
    const flank = lines.find((l) => l.what === 'flank')!;
    // The torque at the first is 20·(20/30)/0.8, its radius 20/cos 45°.
    const force = ((20 * (2 / 3)) / 0.8 / 20e-3) * Math.cos(45 * DEG);
    expect(figure(flank, 'Ft')).toBeCloseTo(force, 6);
    expect(figure(flank, 'Fn')).toBeCloseTo(force / Math.cos(20 * DEG) / Math.cos(45 * DEG), 6);
    const touch = crossedContact(figure(flank, 'Fn'), figure(flank, 'ρ1'), figure(flank, 'ρ2'), figure(flank, 'φ') * DEG);
    expect(figure(flank, 'pH')).toBeCloseTo(touch.pressure, 6);
    expect(figure(flank, 'vs')).toBeCloseTo((2 * Math.PI * 30 * 20) / Math.cos(45 * DEG) / 60 / Math.cos(45 * DEG), 6);
    const root = lines.find((l) => l.what === 'root')!;
    expect(figure(root, 'b')).toBeCloseTo(2 * 2.25 * 2, 9);
    expect(figure(root, 'σF')).toBeCloseTo(((figure(root, 'Fn') * Math.cos(20 * DEG)) / (9 * 2)) * figure(root, 'YF') * figure(root, 'YS'), 6);
  });
  it('its reserve is of load: as much more torque, with as long a life, is just borne', () => {
    const flank = ratingOf(crossing(20)).lines.find((l) => l.what === 'flank')!;
    const more = ratingOf(crossing(20 * flank.reserve)).lines.find((l) => l.what === 'flank')!;
    expect(more.reserve).toBeCloseTo(1, 6);
  });
  it('a run of one speed is as its load case', () => {
    const steady = ratingOf(crossing(20)).lines;
    const run = ratingOf({ ...crossing(20), runs: [{ id: 'r', name: 'Run', duration: 2, frames: 9 }] } as Design).lines;
    for (const l of steady.filter((x) => x.what === 'flank' || x.what === 'root')) {
      const same = run.find((x) => x.what === l.what && x.element === l.element)!;
      expect(same.value / l.value, l.name).toBeCloseTo(1, 6);
    }
  });
  it('what is not stated is named', () => {
    expect(
      ratingOf(crossing(20, 45, 45, { materialGroup: undefined }))
        .unrated.map((u) => u.why)
        .join(),
    ).toContain('material group is not stated');
  });
});
