import { num } from '../elements/index';
import type { GuideForces } from '../forces/index';
import type { GuidedJoint } from '../joints/index';
import { SLIDES, slides, slidesBy } from './plain-bearing';
import type { Figure, RatingLine } from './protocol';
import { type Given, type Results, applicationFigure, knownIn, timesBorne } from './rater';
import { rateSpectrum } from './rolling-bearing';

/** Distance for which C of a carriage holds, m (ISO 14728-1). */
const RATED_WAY = 1e5;
/** Part of what else acts on the guide from which a moment about the travel counts. */
const ROLLS = 1e-6;

type Base = Pick<RatingLine, 'item' | 'name' | 'case'>;

/** Guides of what slides: plain shoes by pressure and speed, carriages on balls by ISO 14728. */
export function rateGuides({ compiled, cases, wishes }: Given, results: Results): void {
  for (const j of compiled.design.joints as GuidedJoint[]) {
    if (j.type !== 'prismatic' || j.shoeSpacing === undefined) continue;
    const name = j.name ?? j.id;
    const no = (why: string): void => results.unrated(j.id, name, why);
    const plain = j.shoeArea !== undefined && j.shoeMaterial !== undefined;
    const rolling = j.shoeDynamic !== undefined || j.shoeStatic !== undefined;
    if (!plain && !rolling) {
      no('neither material and area of its shoes nor ratings of its carriages are stated');
      continue;
    }
    for (const [c, all] of knownIn(cases, no, (i): Instant => ({ part: i.part, ...(i.guide(j.id) ?? UNKNOWN) }))) {
      const alone = Math.max(...all.map((x) => (x.untaken > ROLLS * momentOf(x, j) ? x.untaken : 0)));
      if (alone > 0) {
        no(`one rail does not take the moment about its travel, up to ${alone.toPrecision(3)} N·m`);
        continue;
      }
      const base = { item: j.id, name, case: c.name };
      const figures: Figure[] = [
        applicationFigure(wishes),
        { symbol: 'L', label: 'Shoes apart', value: j.shoeSpacing, unit: 'mm' },
        ...(num(j.railSpacing) > 0 ? [{ symbol: 'S', label: 'Rails apart', value: num(j.railSpacing), unit: 'mm' }] : []),
      ];
      if (plain) plainShoes(results, base, all, j, wishes.applicationFactor, figures, c.run);
      if (rolling) carriages(results, base, all, j, wishes.applicationFactor, wishes.ratingHours, figures, c.run);
    }
  }
}
type Instant = { readonly part: number } & GuideForces;
const UNKNOWN: GuideForces = { shoes: [[NaN, NaN]], untaken: NaN, speed: NaN };
/** What moments on the shoes come to, N·m. */
const momentOf = ({ shoes }: GuideForces, j: GuidedJoint): number => shoes.reduce((sum, f) => sum + Math.hypot(...f), 0) * num(j.shoeSpacing) * 1e-3;
const SHARE = 'shoes of one stiffness on straight rails: forces in equal parts, moments by pairs';

/** Pressure, speed and their product at the shoe that carries most. */
function plainShoes(
  results: Results,
  base: Base,
  all: readonly Instant[],
  j: GuidedJoint,
  KA: number,
  figures: readonly Figure[],
  run: boolean,
): void {
  const area = num(j.shoeArea);
  const each = all.map(({ shoes, speed }) => ({ p: (KA * Math.max(...shoes.map((f) => Math.hypot(...f)))) / area, v: speed }));
  const { p, value, figures: found } = slides(j.shoeMaterial!, each, 'p = KA·F/A');
  results.line(`${base.item} guide plain`, {
    ...base,
    what: 'guide, plain',
    value,
    wanted: 1,
    reserve: value,
    method: SLIDES,
    figures: [
      ...figures,
      { symbol: 'F', label: 'Greatest force on a shoe', value: (p * area) / KA, unit: 'N' },
      { symbol: 'A', label: 'Bearing area of a shoe', value: area, unit: 'mm²' },
      ...found,
    ],
    assumptions: [`shoes of ${j.shoeMaterial}, pressed evenly`, SHARE, ...slidesBy(run)],
  });
}

/** Life and static safety of the carriage that carries most. */
function carriages(
  results: Results,
  base: Base,
  all: readonly Instant[],
  j: GuidedJoint,
  KA: number,
  hours: number,
  figures: readonly Figure[],
  run: boolean,
): void {
  // Of a square carriage both directions add up.
  const load = (f: readonly [number, number]): number => KA * (Math.abs(f[0]) + Math.abs(f[1]));
  const at = all[0].shoes.map((_, k) => k);
  if (j.shoeDynamic !== undefined) {
    const C = j.shoeDynamic;
    const lives = at.map((k) => {
      // A million turns of a bearing are its rated way here: so many turns a minute.
      const steps = all.map((x) => ({ part: x.part, radial: load(x.shoes[k]), axial: 0, speed: ((60 * x.speed) / RATED_WAY) * 1e6 }));
      return rateSpectrum({ dynamic: C, rolls: 'balls' }, steps, hours)!;
    });
    const worst = lives.reduce((least, x) => (x.hours < least.hours || (x.hours === least.hours && x.load > least.load) ? x : least));
    results.line(`${base.item} guide life`, {
      ...base,
      what: 'guide life',
      value: worst.hours,
      unit: 'h',
      wanted: hours,
      reserve: worst.needed > 0 ? C / worst.needed : Infinity,
      method: run ? 'ISO 14728-1:2017, mean load of the run' : 'ISO 14728-1:2017',
      figures: [
        ...figures,
        { symbol: 'P', label: 'Equivalent load of a carriage', value: worst.load, unit: 'N', formula: 'P = KA·(|Fy| + |Fx|)' },
        { symbol: 'C', label: 'Dynamic rating, for 100 km', value: C, unit: 'N' },
        { symbol: 'v', label: 'Mean speed', value: (worst.speed * RATED_WAY) / 60 / 1e3, unit: 'mm/s' },
        { symbol: 'L10', label: 'Life, 100 km', value: worst.turns, formula: 'L10 = (C/P)³' },
        { symbol: 'Cneed', label: 'Rating that the wanted life needs', value: worst.needed, unit: 'N' },
      ],
      assumptions: ['carriages on balls that bear alike in all directions', SHARE, ...(run ? ['the run is repeated over the wanted life'] : [])],
    });
  }
  if (j.shoeStatic !== undefined) {
    const most = Math.max(...all.flatMap((x) => x.shoes.map(load)));
    const value = timesBorne(j.shoeStatic, most);
    results.line(`${base.item} guide static`, {
      ...base,
      what: 'guide, static',
      value,
      wanted: 1,
      reserve: value,
      method: 'ISO 14728-2:2017',
      figures: [
        ...figures,
        { symbol: 'P0', label: 'Greatest load of a carriage', value: most, unit: 'N', formula: 'P0 = KA·(|Fy| + |Fx|)' },
        { symbol: 'C0', label: 'Static rating', value: j.shoeStatic, unit: 'N' },
        { symbol: 'S0', label: 'Static safety', value, formula: 'S0 = C0/P0' },
      ],
      assumptions: ['carriages that bear alike in all directions', SHARE, ...(run ? ['the greatest of the run'] : [])],
    });
  }
}
