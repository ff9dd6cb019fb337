import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { figure } from '../testing/figures';
import type { Design } from '../fields/types';
import { Builder } from '../testing/designs';
import { analyse } from '../checks/index';
import { ratingOf } from './trial';
import { savedRuns } from './instants';
import { bushLimits } from './plain-bearing';
import { rate } from './rate';
import type { RatingLine } from './protocol';

const MOTOR = ['its rated torque is not stated: no warming', 'its torque limit is not stated'];
describe('the rating of a design', () => {
  function pair(material: object, more: { torque?: number; bearings?: object[] } = {}): Design {
    const b = new Builder();
    const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([120, 0, 0])];
    b.mesh(b.gear(s1.member, 20, 3, { ...material, width: 30 }), b.gear(s2.member, 60, 3, { ...material, width: 30 }));
    b.motor(s1.joint, 300);
    b.load('joint-load', { joint: s2.joint, value: -(more.torque ?? 200) });
    if (more.bearings) {
      Object.assign(
        b.design.joints.find((j) => j.id === s1.joint)!,
        { bearings: more.bearings },
      );
    }
    return b.design;
  }
  const hard = { materialGroup: 'case-hardened steel' };
  const bearing = (at: number, more: object = {}): object => ({
    at,
    thrust: at < 0 ? 'takes' : 'free',
    form: 'rolling',
    inner: 25,
    outer: 52,
    width: 15,
    block: 'no',
    ...more,
  });
  const [SHAFT, BARE] = ['the steel of the shaft is not stated', 'it states no bearings'];
  it('in a design: the life is aISO times as long, and at its reserve of load it is the wanted life', () => {
    const make = (k: number, more: object): Design => {
      const stated = bearing(-30, { inner: 40, outer: 80, dynamicRating: 30_000, staticRating: 20_000, ...more });
      const d = pair(hard, { torque: 200 * k, bearings: [stated, bearing(30, { dynamicRating: 30_000, staticRating: 20_000 })] });
      return { ...d, settings: { gravity: [0, 0, 0] } };
    };
    const life = (d: Design): RatingLine => ratingOf(d).lines.find((l) => l.what === 'bearing life' && l.bearing === 0)!;
    const more = { fatigueLimit: 800, viscosity: 150, contamination: 0.6 };
    const [basic, modified] = [life(make(1, {})), life(make(1, more))];
    const factor = figure(modified, 'aISO');
    expect(modified.value).toBeCloseTo(factor * basic.value, 3);
    expect(modified.method).toContain('modified rating life');
    const { reserve } = modified;
    const at = life(make(reserve, more));
    expect(Math.abs(at.value / at.wanted - 1)).toBeLessThan(1e-6);
    const thin = ratingOf(make(1, { ...more, viscosity: 1 })).unrated.map((u) => u.why);
    expect(thin.join()).toContain('its oil is too thin for ISO 281');
  });
  it('blocked, with the source at its limit: as the same load at rest for no time, without an application factor', () => {
    const settings = { gravity: [0, 0, 0] as const, applicationFactor: 1.5 };
    const at = (torque: number, mostTorque?: number): Design => {
      const d = pair(hard, { torque });
      return { ...d, settings, sources: d.sources.map((s) => ({ ...s, ...(mostTorque !== undefined && { mostTorque }) })) } as Design;
    };
    const [light] = analyse(at(100)).ledger.sources;
    const blocked = ratingOf(at(100, 3 * Math.abs(light.load))).lines.filter((l) => l.what.endsWith('static'));
    expect(blocked.map((l) => l.what).sort()).toEqual(['flank, static', 'flank, static', 'root, static', 'root, static']);
    // Three times the load, so slow and for so short that no factor of speed or life is left.
    const slow = at(300);
    const still = ratingOf({
      ...slow,
      settings: { ...settings, applicationFactor: 1, ratingHours: 1e-6 },
      sources: slow.sources.map((s) => ({ ...s, speed: 1e-6 })),
    } as Design).lines;
    for (const l of blocked) {
      const same = still.find((x) => x.element === l.element && x.what === l.what.replace(', static', ''))!;
      expect(l.value, `${l.name} ${l.what}`).toBeCloseTo(same.value, 5);
      expect(l.method).toMatch(/static$/);
    }
    // A source that carries next to nothing says nothing of how its limit would go on.
    const idle = ratingOf(at(0, 50));
    expect(idle.lines.some((l) => l.what === 'root, static')).toBe(false);
    expect(idle.unrated.map((u) => u.why)).toContain('its teeth when the output is blocked: the source carries next to nothing in “as stated”');
    // Nothing is added where the source has no limit, or one below what it is asked for.
    for (const none of [at(100), at(100, 0.5 * Math.abs(light.load))]) {
      expect(ratingOf(none).lines.some((l) => l.what === 'root, static')).toBe(false);
    }
  });
  it('blocked, by what a source gives at standstill: of a limit over speed its first rows, of a torque-speed line its points', () => {
    const limitOf = (source: object): number => {
      const d = pair(hard, { torque: 100 });
      const made = { ...d, settings: { gravity: [0, 0, 0] }, sources: d.sources.map((s) => ({ ...s, ...source })) } as Design;
      return figure(
        ratingOf(made).lines.find((l) => l.what === 'root, static')!,
        'Tlim',
      );
    };
    const torqueLimits = [
      { speed: 0, torque: 80 },
      { speed: 100, torque: 120 },
      { speed: 400, torque: 60 },
    ];
    expect(limitOf({ torqueLimits })).toBe(80);
    expect(limitOf({ torqueLimits, mostTorque: 70 })).toBe(70);
    const line = [
      { speed: 0, torque: 90 },
      { speed: 300, torque: 60 },
      { speed: 600, torque: 0 },
    ];
    // By its points, whatever torque at standstill is stated for the straight line.
    expect(limitOf({ type: 'torque-line', stall: 500, noLoad: 600, line })).toBeCloseTo(90, 9);
    expect(limitOf({ type: 'torque-line', stall: 500, noLoad: 600 })).toBeCloseTo(500, 9);
  });
  it('a limit of speed, and a least load by which rolling elements roll: 0.02 of C, as is common for rollers', () => {
    const stated = bearing(-30, { dynamicRating: 30_000, staticRating: 20_000, speedLimit: 500, leastLoad: 0.02 });
    const d = pair(hard, { torque: 20, bearings: [stated, bearing(30, { dynamicRating: 30_000, staticRating: 20_000 })] });
    const of = (what: string): RatingLine[] => ratingOf({ ...d, settings: { gravity: [0, 0, 0] } }).lines.filter((l) => l.what === what);
    const life = of('bearing life').find((l) => l.bearing === 0)!;
    const [speed] = of('bearing, speed');
    expect(speed.value).toBeCloseTo(500 / figure(life, 'n'), 9);
    const [least] = of('bearing, least load');
    expect(figure(least, 'Pmin')).toBe(600);
    expect(least.value).toBeCloseTo(figure(life, 'P') / 600, 9);
    // A plain bearing has a limit of speed too.
    const plain = pair(hard, { torque: 20, bearings: [bearing(-30, { form: 'plain', speedLimit: 600 }), bearing(30)] });
    expect(
      ratingOf(plain)
        .lines.filter((l) => l.what === 'bearing, speed')
        .map((l) => l.value),
    ).toEqual([expect.closeTo(600 / figure(life, 'n'), 9)]);
    // A factor on the load does not count here: it may be absent.
    const shaken = ratingOf({ ...d, settings: { gravity: [0, 0, 0], applicationFactor: 1.5 } }).lines.find((l) => l.what === 'bearing, least load')!;
    expect(shaken.value).toBeCloseTo(least.value, 9);
  });
  it('Kγ counts as the application factor does: 1.25 of either is the same stress; without it planets are taken to share evenly', () => {
    const roots = (d: Design): number[] =>
      ratingOf(d)
        .lines.filter((l) => l.what === 'root')
        .map((l) => figure(l, 'σF'));
    const d = pair(hard);
    const shared = { ...d, couplings: d.couplings.map((c) => ({ ...c, meshLoadFactor: 1.25 })) };
    const raised = { ...d, settings: { ...d.settings, applicationFactor: 1.25 } };
    expect(roots(shared)).toEqual(roots(raised));
    expect(roots(shared)[0]).toBeGreaterThan(1.1 * roots(d)[0]);
    const bridge = JSON.parse(readFileSync(new URL('../../demo/swing-footbridge.json', import.meta.url), 'utf8')) as Design;
    const sun = (x: Design): RatingLine => ratingOf(x, false).lines.find((l) => l.name.startsWith('Sun, '))!;
    expect(figure(sun(bridge), 'Kγ')).toBe(1.1);
    const even = { ...bridge, couplings: bridge.couplings.map((c) => ({ ...c, meshLoadFactor: undefined })) } as Design;
    expect(sun(even).assumptions.join()).toContain('flanks mesh 3 times in a turn; the meshes share the load evenly');
  });
  it('a run at constant speed and load bears what the load case bears; a heavier half wears more', () => {
    const bearings = [-40, 40].map((at) => bearing(at, { dynamicRating: 14_000, staticRating: 7800 }));
    const d = pair(hard, { bearings });
    const [steady] = [ratingOf(d)];
    const runs = [{ id: 'r', name: 'Steady', duration: 2, frames: 41 }];
    const only = (x: Design): ReturnType<typeof ratingOf> => rate(analyse(x).compiled, savedRuns(x));
    const run = only({ ...d, runs });
    expect(run.lines.map((l) => l.case)).toEqual(Array(steady.lines.length).fill('Steady'));
    const key = (l: { what: string; item: string; element?: string; bearing?: number }): string => [l.what, l.item, l.element, l.bearing].join();
    for (const l of run.lines) {
      const same = steady.lines.find((x) => key(x) === key(l))!;
      expect(l.value / same.value, key(l)).toBeCloseTo(1, 6);
    }
    // A spring that is wound from nothing to 200 N·m in the run: more than without it, less than with the whole all the time.
    const against = { ...d, loads: d.loads.map((l) => ({ ...l, value: 200 })), runs } as Design;
    const spring = { id: 'sp', name: 'Spring', type: 'joint-spring', joint: (d.loads[0] as { joint?: string }).joint, rate: 200 / 1200 };
    const heavier = { ...against, loads: [...against.loads, spring] } as Design;
    const all = { ...against, loads: against.loads.map((l) => ({ ...l, value: 400 })) } as Design;
    const root = (x: Design): number => only(x).lines.find((l) => l.what === 'root')!.value;
    expect(root(heavier)).toBeLessThan(0.95 * root(against));
    expect(root(heavier)).toBeGreaterThan(1.02 * root(all));
  });
  it('a run that cannot be computed as stated is named, not rated', () => {
    const d = { ...pair(hard), runs: [{ id: 'r', name: 'To the stop', until: 'stop to stop' }] } as Design;
    const { lines, unrated } = ratingOf(d);
    expect(lines.every((l) => l.case === 'as stated')).toBe(true);
    expect(unrated.filter((u) => u.name === 'To the stop')).toMatchObject([{ item: 'r', why: expect.any(String) }]);
  });
  it('takes the force that the ledger gives: Ft = 2000·T/d, the pinion’s speed, and the larger side', () => {
    const { lines, unrated } = ratingOf(pair(hard));
    // Shafts bear it too, and no method here covers them; nothing states where they are carried.
    expect(unrated.map((u) => u.why)).toEqual([SHAFT, SHAFT, ...MOTOR, BARE, BARE]);
    expect(lines.map((l) => l.what).sort()).toEqual(['flank', 'flank', 'root', 'root']);
    // 200 N·m at 180 mm.
    for (const l of lines) expect(l.figures.find((f) => f.symbol === 'Ft')!.value).toBeCloseTo((2000 * 200) / 180, 6);
    expect(lines.map((l) => l.reserve)).toEqual([...lines.map((l) => l.reserve)].sort((a, b) => a - b));
  });
  it('names what it does not rate, and why; nothing of it is among what is', () => {
    const none = ratingOf(pair({}));
    expect(none.lines).toEqual([]);
    expect(none.unrated[0].why).toMatch(/material group is not stated/);
    const soft = ratingOf(pair({ materialGroup: 'through-hardened steel' }));
    expect(soft.unrated[0].why).toMatch(/hardness is not stated/);
  });
  it('rates bearings with their forces and speed, and says which have no rating', () => {
    const { lines, unrated } = ratingOf(
      pair(hard, { bearings: [bearing(-40, { dynamicRating: 14_000, staticRating: 7800 }), bearing(40), bearing(41, { form: 'plain' })] }),
    );
    const life = lines.filter((l) => l.what === 'bearing life');
    expect(life).toHaveLength(1);
    expect(life[0].figures.find((f) => f.symbol === 'n')!.value).toBeCloseTo(300, 9);
    expect(life[0].unit).toBe('h');
    expect(unrated.map((u) => u.why)).toEqual([
      'its dynamic rating C is not stated',
      'what its bush is made of is not stated',
      SHAFT,
      SHAFT,
      ...MOTOR,
      BARE,
    ]);
  });
  it('plain bearings by pressure, speed and both: cast bronze bears 31 MPa, 7.6 m/s, 1.75 MPa·m/s (Shigley, from memory)', () => {
    expect(bushLimits('cast bronze').map((x) => Number(x.toPrecision(2)))).toEqual([31, 7.6, 1.8]);
    const bearings = [bearing(-40, { form: 'plain', bush: 'cast bronze' }), bearing(40, { form: 'plain', bush: 'polyamide' })];
    const upright = pair(hard, { bearings });
    // Upright it stands on a collar by its weight, which is named; without weight nothing is left.
    expect(
      ratingOf(upright)
        .unrated.map((u) => u.why)
        .join(),
    ).toMatch(/the collar that takes its thrust of up to 6.43 N is not rated/);
    const { lines, unrated } = ratingOf({ ...upright, settings: { gravity: [0, 0, 0] } });
    const [polyamide, bronze] = lines.filter((l) => l.what === 'plain bearing');
    const force = 200 / 0.09 / Math.cos(Math.PI / 9) / 2;
    const [p, v] = [force / (25 * 15), Math.PI * 0.025 * 5];
    expect(figure(bronze, 'p')).toBeCloseTo(p, 6);
    expect(figure(bronze, 'v')).toBeCloseTo(1e3 * v, 6);
    expect(bronze.value).toBeCloseTo(bushLimits('cast bronze')[2] / (p * v), 6);
    expect(polyamide.value / bronze.value).toBeCloseTo(3 / 50, 6);
    expect(unrated.map((u) => u.why).join()).not.toMatch(/collar|bush/);
  });
  it('a heavier load bears less: the reserve of a root goes with one over the load', () => {
    const at = (torque: number) => ratingOf(pair(hard, { torque })).lines.find((l) => l.what === 'root')!;
    expect(at(200).value).toBeGreaterThan(at(400).value);
    expect(at(4000).reserve).toBeLessThan(1);
  });
  it('counts what a tooth meets in a turn: a sun with three planets three times on one flank, a planet on both', () => {
    const d = JSON.parse(readFileSync(new URL('../../demo/swing-footbridge.json', import.meta.url), 'utf8')) as Design;
    const { lines } = ratingOf(d);
    const of = (element: string, what: string) => lines.find((l) => l.element === element && l.what === what)!;
    const bendsBothWays = (element: string): boolean => of(element, 'root').figures.some((f) => f.symbol === 'YM');
    expect([bendsBothWays('sun'), bendsBothWays('p1')]).toEqual([false, true]);
    expect(of('sun', 'flank').assumptions.join()).toContain('mesh 3 times in a turn');
  });
  it('an idler bends both ways, the wheels before and behind it one way', () => {
    const b = new Builder();
    const [s1, s2, s3] = [b.shaft([0, 0, 0]), b.shaft([120, 0, 0]), b.shaft([240, 0, 0])];
    const [g1, g2, g3] = [s1, s2, s3].map((s) => b.gear(s.member, 40, 3, { ...hard, width: 30 }));
    b.mesh(g1, g2);
    b.mesh(g2, g3);
    b.motor(s1.joint, 100);
    b.load('joint-load', { joint: s3.joint, value: 100 });
    const { lines } = ratingOf(b.design);
    const reversed = (id: string): boolean => lines.find((l) => l.element === id && l.what === 'root')!.figures.some((f) => f.symbol === 'YM');
    expect([g1, g2, g3].map(reversed)).toEqual([false, true, false]);
  });
  it('a rack is rated with its pinion', () => {
    const d = JSON.parse(readFileSync(new URL('../../demo/paddle-winding-gear.json', import.meta.url), 'utf8')) as Design;
    const made = {
      ...d,
      elements: d.elements.map((e) =>
        e.type === 'gear' || e.type === 'rack' ? { ...e, materialGroup: 'through-hardened steel', hardness: 250 } : e,
      ),
    } as Design;
    const { lines } = ratingOf(made);
    const rack = made.elements.find((e) => e.type === 'rack')!;
    const root = lines.find((l) => l.element === rack.id && l.what === 'root')!;
    expect(root.value).toBeGreaterThan(0.5);
    // The rack carries 3879 N (docs, paddle winding gear); the pinion's side drives, by the mesh's loss more.
    const driven = root.figures.find((f) => f.symbol === 'Ft')!.value;
    expect(driven).toBeGreaterThan(3879 - 1);
    expect(driven).toBeLessThan(3879 / 0.94);
  });
});

describe('sectors', () => {
  it('teeth of a sector bear what those of its whole wheel bear', () => {
    const make = (whole: boolean): Design => {
      const b = new Builder().weightless();
      const [s1, s2] = [b.shaft([0, 0, 0]), b.shaft([120, 0, 0])];
      const steel = { materialGroup: 'case-hardened steel', width: 30 };
      const pinion = b.gear(s2.member, 20, 3, steel);
      const wheel = whole
        ? b.gear(s1.member, 60, 3, steel)
        : b.element('sector', s1.member, { teeth: 60, arcTeeth: 20, module: 3, phase: -57, ...steel });
      if (whole) b.mesh(wheel, pinion);
      else b.couple('sector-mesh', { a: wheel, b: pinion, efficiency: 1 });
      b.motor(s2.joint, 30);
      b.load('joint-load', { joint: s1.joint, value: 200 });
      return b.design;
    };
    const values = (d: Design): number[] =>
      ratingOf(d)
        .lines.filter((l) => l.what === 'root' || l.what === 'flank')
        .map((l) => l.value)
        .sort((x, y) => x - y);
    const [sector, wheel] = [values(make(false)), values(make(true))];
    expect(sector).toHaveLength(4);
    sector.forEach((v, i) => expect(v).toBeCloseTo(wheel[i], 9));
    expect(ratingOf(make(false)).lines[0].assumptions.join()).toContain('sectors count as whole wheels');
  });
});
