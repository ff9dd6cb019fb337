import { readFileSync, readdirSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { type Design, ITEM_FORMS, type ItemList, fieldsOfItem, readDesign } from '../document/index';
import { RATING_FIELDS } from '../elements/index';
import { RATING_SETTINGS } from '../fields/index';
import type { Field } from '../fields/fields';
import { Builder } from '../testing/designs';
import { ELSEWHERE } from '../testing/changes';
import { vibrationOf } from '../vibration/index';
import { ratingOf } from './trial';

const DEMOS = new URL('../../demo/', import.meta.url);
const demos = readdirSync(DEMOS)
  .filter((f) => f.endsWith('.json'))
  .map((f) => JSON.parse(readFileSync(new URL(f, DEMOS), 'utf8')) as Design)
  // Runs are computed again for each value: load cases are enough here.
  .map((d): Design => ({ ...d, runs: [], settings: { ...d.settings, agma: true } }));

/** A hoist, which no demo has. */
function hoist(): Design {
  const b = new Builder().weightless();
  const s = b.shaft([0, 0, 0]);
  const l = b.slide([100, -500, 0], [0, 1, 0]);
  const drum = b.element('drum', s.member, { diameter: 200, rope: 10, width: 300 });
  b.couple('rope', { name: 'Hoist', a: drum, b: l.joint, efficiency: 1, wound: 5, falls: 2, breakingForce: 40_000, mechanismClass: 'M4' });
  b.motor(s.joint, 30);
  b.load('joint-load', { joint: l.joint, value: -2000 });
  return { ...b.design, name: 'Hoist' };
}
/** Crossed helical gears and a one-way clutch, which no demo has either. */
function crossing(): Design {
  const b = new Builder().weightless();
  const s1 = b.shaft([0, 0, 0]);
  const s2 = b.shaft([50 * Math.SQRT2, 0, 0], 'frame', { axis: [0, 1, 0] });
  const s3 = b.shaft([50 * Math.SQRT2, 0, 0], 'frame', { axis: [0, 1, 0] });
  const given = { helix: 45, materialGroup: 'case-hardened steel' };
  b.couple('crossed-gears', { name: 'Crossing', a: b.gear(s1.member, 20, 2, given), b: b.gear(s2.member, 30, 2, given), efficiency: 0.8 });
  b.couple('one-way-clutch', { name: 'Clutch', a: s2.joint, b: s3.joint, grips: 'back', clutchTorque: 40 });
  b.motor(s1.joint, 30);
  b.load('joint-load', { joint: s3.joint, value: 20 });
  return { ...b.design, name: 'Crossing' };
}
demos.push(hoist(), crossing());

/** Fields that only a rating, a natural frequency or a lost motion reads: the matrix of laws leaves them to these. */
const ownerOf = (key: string): string => {
  const said = ELSEWHERE[key] ?? '';
  return said.startsWith('as ') ? ownerOf(said.slice(3)) : said;
};
const OURS = [
  ...RATING_FIELDS.map((f): string => f.key),
  ...Object.keys(ELSEWHERE).filter((key) => /^(the rating|natural frequencies|lost motion|limits of backlash)/.test(ownerOf(key))),
];

/** Values of a field from small to large, all of which it takes; of a table one row, then two. */
function valuesOf(f: Field): unknown[] {
  const [low, high] = [f.above ?? f.min ?? -1e3, f.below ?? f.max ?? 1e6];
  const inside = (x: number): number => Math.min(f.below === undefined ? high : high - 1e-3, Math.max(f.above === undefined ? low : low + 1e-6, x));
  switch (f.kind) {
    case 'choice':
      return [...f.choices!];
    case 'flag':
      return [true, false];
    case 'text':
      return ['H7/s6', 'H7/r6', 'H8/u8'];
    case 'whole':
      return [low, 2, 20, Math.min(high, 400)].map((x) => Math.round(inside(x)));
    case 'table': {
      const columns = f.columns!.filter((c) => c.kind !== 'ref' && c.kind !== 'refs');
      const row = (k: number): object => Object.fromEntries(columns.map((c) => [c.key, valuesOf(c)[k % valuesOf(c).length]]));
      return [[row(0)], [row(1)], [row(1), row(2)], [row(2), row(3)]];
    }
    default:
      return [low, 0.01, 1, 30, 700, high].map((x) => Number(inside(x).toPrecision(9)));
  }
}

/** What is wrong with the rating of a design, its wind-up and its lost motion. */
function faultsOf(design: Design): string[] {
  const wrong: string[] = [];
  try {
    for (const l of ratingOf(design).lines) {
      if (!(l.value >= 0) || !(l.reserve >= 0)) wrong.push(`${l.name} ${l.what} ${l.value}, ${l.reserve}`);
      wrong.push(...l.figures.filter((g) => Number.isNaN(g.value)).map((g) => `${l.name} ${l.what} ${g.symbol}`));
    }
    const { outputs, forced } = vibrationOf(design, false);
    for (const x of forced?.responses ?? []) {
      if (![x.nominal, x.most, ...x.amplitudes].every((a) => a >= 0 && a < Infinity)) wrong.push(`response ${x.name}`);
    }
    for (const o of outputs) {
      if ([o.least, o.statistical, o.worst, o.windUp].some((x) => x !== undefined && !Number.isFinite(x))) wrong.push(`output ${o.name}`);
    }
  } catch (e) {
    wrong.push(`throws ${(e as Error).message}`);
  }
  return wrong;
}

describe('a rating of whatever may be stated', () => {
  const reached = new Map<string, number>();
  for (const base of demos) {
    it(`${base.name}: no value of a field that it reads breaks it, or makes a figure that is no number`, { timeout: 120_000 }, () => {
      const seen = new Set<string>();
      const wrong: string[] = [];
      for (const list of Object.keys(ITEM_FORMS) as ItemList[]) {
        for (const item of base[list] as readonly { readonly id: string; readonly type?: string }[]) {
          for (const f of fieldsOfItem(list, item)) {
            const cell = `${list} ${item.type ?? ''} ${f.key}`;
            if (!OURS.includes(f.key) && f.key !== 'bearings') continue;
            if (seen.has(cell)) continue;
            seen.add(cell);
            for (const value of valuesOf(f)) {
              const stated = { ...base, [list]: (base[list] as readonly { id: string }[]).map((x) => (x === item ? { ...x, [f.key]: value } : x)) };
              const { design } = readDesign(stated);
              if (!design) continue;
              reached.set(f.key, (reached.get(f.key) ?? 0) + 1);
              wrong.push(...faultsOf(design).map((what) => `${cell} = ${JSON.stringify(value)}: ${what}`));
            }
          }
        }
      }
      for (const f of RATING_SETTINGS) {
        for (const value of valuesOf(f)) {
          const { design } = readDesign({ ...base, settings: { ...base.settings, [f.key]: value } });
          if (!design) continue;
          reached.set(f.key, (reached.get(f.key) ?? 0) + 1);
          wrong.push(...faultsOf(design).map((what) => `${f.key} = ${String(value)}: ${what}`));
        }
      }
      expect(wrong).toEqual([]);
    });
  }
  it('reaches every field that only ratings read; how often is printed', () => {
    console.log(`Rated fields, values tried: ${[...reached].map(([k, n]) => `${k} ${n}`).join(', ')}`);
    expect(OURS.filter((key) => !reached.has(key) && key !== 'agma')).toEqual([]);
  });
});
