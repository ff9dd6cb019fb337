import { type Bearing, type CarriedJoint } from '../joints/index';
import { ratePlain } from './plain-bearing';
import type { Figure, RatingLine } from './protocol';
import { type Given, type Results, applicationFigure, timesBorne, unknownIn } from './rater';
import {
  type Lubrication,
  type SpectrumRating,
  type StatedBearing,
  equivalentLoad,
  lifeFactor,
  rateSpectrum,
  referenceViscosity,
} from './rolling-bearing';

/** Bearings of joints: rolling ones by ISO 281 and ISO 76, plain ones by pressure and speed. */
export function rateBearings(given: Given, results: Results): void {
  for (const j of given.compiled.design.joints as CarriedJoint[]) {
    for (const [k, b] of (j.bearings ?? []).entries()) rateOne(given, results, j, k, b);
  }
}

function rateOne({ cases, wishes }: Pick<Given, 'cases' | 'wishes'>, results: Results, j: CarriedJoint, k: number, b: Bearing): void {
  const name = `Bearing ${k + 1}, ${j.name ?? j.id}`;
  const no = (why: string): void => results.unrated(j.id, name, why);
  if (b.speedLimit !== undefined) rateSpeed(cases, results, j, k, name, b.speedLimit);
  if (b.form === 'plain') return ratePlain({ cases, wishes }, results, { joint: j, k, name, no }, b);
  if (b.dynamicRating === undefined) return no('its dynamic rating C is not stated');
  if (b.staticRating === undefined) no('its static rating C₀ is not stated: no static safety');
  const stated: StatedBearing = {
    dynamic: b.dynamicRating,
    rolls: b.rolls ?? 'balls',
    ...(b.staticRating !== undefined && { static: b.staticRating }),
  };
  const KA = wishes.applicationFactor;
  for (const given of cases) {
    const loads = given.instants.map((i) => ({ part: i.part, ...i.bearings(j.id)?.[k] }));
    if (loads.some((l) => ![l.radial, l.axial, l.speed].every(Number.isFinite))) {
      no(unknownIn(given));
      continue;
    }
    const rated = rateSpectrum(
      stated,
      loads.map((l) => ({ part: l.part, radial: KA * l.radial!, axial: KA * l.axial!, speed: l.speed! })),
      wishes.ratingHours,
    );
    if (!rated) {
      no(`its rollers take no thrust, but up to ${Math.max(...loads.map((l) => l.axial!)).toPrecision(3)} N acts along it`);
      continue;
    }
    const base = { item: j.id, bearing: k, name, case: given.name };
    const figures = (at: number): Figure[] => [
      applicationFigure(wishes),
      { symbol: 'Fr', label: 'Radial force', value: loads[at].radial!, unit: 'N' },
      { symbol: 'Fa', label: 'Axial force', value: loads[at].axial!, unit: 'N' },
    ];
    const basic = lifeOf(stated, rated, figures(rated.worst), given.run, wishes.ratingHours);
    const modified = modifiedOf(stated, rated, b, wishes.ratingHours);
    if (typeof modified === 'string') no(modified);
    results.line(`${j.id} ${k} life`, { ...base, ...(typeof modified === 'object' ? withFactor(basic, modified) : basic) });
    const steps = loads.map((l): Step => ({ speed: l.speed!, load: equivalentLoad(stated, l.radial!, l.axial!)?.load ?? 0 }));
    const slips = b.leastLoad === undefined ? undefined : leastLoadOf(steps, b.leastLoad * b.dynamicRating);
    if (slips) results.line(`${j.id} ${k} least load`, { ...base, ...slips });
    if (b.staticRating !== undefined) {
      results.line(`${j.id} ${k} static`, { ...base, ...staticOf(stated, rated.staticLoad, b.staticRating, figures(rated.worstStatic)) });
    }
  }
}

/** How fast a bearing of any sort turns, against its limit, rev/min. */
function rateSpeed(cases: Given['cases'], results: Results, j: CarriedJoint, k: number, name: string, limit: number): void {
  for (const c of cases) {
    const speeds = c.instants.map((i) => i.bearings(j.id)?.[k]?.speed ?? NaN);
    if (speeds.every(Number.isFinite)) results.line(`${j.id} ${k} speed`, { item: j.id, bearing: k, name, case: c.name, ...speedOf(speeds, limit) });
    else results.unrated(j.id, name, unknownIn(c));
  }
}
/** Speed, rev/min, and equivalent load without the application factor, N. */
interface Step {
  readonly speed: number;
  readonly load: number;
}
function speedOf(speeds: readonly number[], limit: number): Said {
  const fastest = speeds.reduce((most, s) => Math.max(most, s), 0);
  const value = timesBorne(limit, fastest);
  return {
    what: 'bearing, speed',
    value,
    wanted: 1,
    reserve: value,
    method: 'Speed against the stated limit',
    figures: [
      { symbol: 'n', label: 'Greatest speed', value: fastest, unit: 'rev/min' },
      { symbol: 'nlim', label: 'Limit', value: limit, unit: 'rev/min' },
    ],
    assumptions: [],
  };
}
/** Rolling elements need a load, N, to roll; nothing where the bearing does not turn. */
function leastLoadOf(steps: readonly Step[], least: number): Said | undefined {
  const turning = steps.filter((s) => s.speed > 0);
  if (!turning.length) return undefined;
  const lightest = turning.reduce((a, s) => Math.min(a, s.load), Infinity);
  const value = lightest / least;
  return {
    what: 'bearing, least load',
    value,
    wanted: 1,
    reserve: value,
    method: 'Least load, so that it rolls and does not slip (common practice)',
    figures: [
      { symbol: 'P', label: 'Least equivalent load', value: lightest, unit: 'N', formula: 'P = X·Fr + Y·Fa' },
      { symbol: 'Pmin', label: 'Load that it needs', value: least, unit: 'N' },
    ],
    assumptions: ['without the application factor; more load cures it'],
  };
}

type Said = Omit<RatingLine, 'item' | 'bearing' | 'name' | 'case'>;
const sortOf = ({ rolls }: StatedBearing): string => (rolls === 'balls' ? 'deep-groove balls, f0 = 14' : 'cylindrical rollers');

function lifeOf(stated: StatedBearing, r: SpectrumRating, loads: readonly Figure[], run: boolean, wanted: number): Said {
  const { at } = r;
  return {
    what: 'bearing life',
    value: r.hours,
    unit: 'h',
    wanted,
    reserve: timesBorne(stated.dynamic, r.needed),
    method: `ISO 281:2007, basic rating life${run ? ' under the loads of the run' : ''}`,
    figures: [
      ...loads,
      ...(stated.rolls === 'balls' ? [{ symbol: 'e', label: 'Limit of Fa/Fr', value: at.e }] : []),
      { symbol: 'X', label: 'Radial factor', value: at.X },
      { symbol: 'Y', label: 'Axial factor', value: at.Y },
      { symbol: 'P', label: 'Equivalent load', value: at.load, unit: 'N', formula: 'P = KA·(X·Fr + Y·Fa)' },
      ...(run ? [{ symbol: 'Pm', label: 'Mean equivalent load', value: r.load, unit: 'N', formula: 'Pm = (Σ Pi^p·ni·ti / Σ ni·ti)^(1/p)' }] : []),
      { symbol: 'n', label: run ? 'Mean speed' : 'Speed', value: r.speed, unit: 'rev/min' },
      { symbol: 'C', label: 'Dynamic rating', value: stated.dynamic, unit: 'N' },
      { symbol: 'Cneed', label: 'Dynamic rating that is needed', value: r.needed, unit: 'N' },
      { symbol: 'L10h', label: 'Basic rating life', value: r.hours, unit: 'h', formula: 'L10h = 10⁶/(60·n)·(C/P)^p' },
    ],
    assumptions: [
      sortOf(stated),
      ...(stated.rolls === 'balls' && stated.static === undefined && at.Y > 0
        ? ['C₀ is not stated: e = 0.19 and Y = 2.3, the least favourable']
        : []),
      'reliability 90 % (a1 = 1); lubrication and cleanness are not reckoned with (aISO = 1)',
      ...(run ? ['the run is repeated over the wanted life; turning to and fro counts by its path'] : []),
    ],
  };
}

interface Modified {
  readonly factor: number;
  readonly hours: number;
  readonly reserve: number;
  readonly figures: readonly Figure[];
}
/**
 * The modified life where everything for it is stated: a reason where the standard has none, nothing where it is not asked
 * for.
 */
function modifiedOf(stated: StatedBearing, r: SpectrumRating, b: Bearing, wanted: number): Modified | string | undefined {
  const { fatigueLimit, viscosity, contamination } = b;
  if (fatigueLimit === undefined || viscosity === undefined || contamination === undefined) return undefined;
  if (!Number.isFinite(r.hours)) return undefined;
  const film: Lubrication = { pitchDiameter: (b.inner + b.outer) / 2, viscosity, contamination, fatigueLimit };
  const reference = referenceViscosity(film.pitchDiameter, r.speed);
  const kappa = viscosity / reference;
  const p = stated.rolls === 'balls' ? 3 : 10 / 3;
  try {
    const at = (times: number): number => (lifeFactor(stated.rolls, kappa, times * r.load, film) * r.hours) / times ** p;
    const factor = at(1) / r.hours;
    // More load makes both the factor and the basic life less: by halves between two that enclose what is wanted.
    let [low, high] = [1, 1];
    while (at(high) >= wanted && high < 1e6) [low, high] = [high, 2 * high];
    while (at(low) < wanted && low > 1e-9) [low, high] = [low / 2, low];
    for (let k = 0; k < 60; k++) {
      const middle = Math.sqrt(low * high);
      if (at(middle) >= wanted) low = middle;
      else high = middle;
    }
    return {
      factor,
      hours: at(1),
      reserve: low,
      figures: [
        { symbol: 'ν1', label: 'Reference viscosity, mm²/s', value: reference },
        { symbol: 'κ', label: 'Viscosity ratio', value: kappa, formula: 'κ = ν/ν1' },
        { symbol: 'eC', label: 'Contamination factor', value: contamination },
        { symbol: 'Cu', label: 'Fatigue load limit', value: fatigueLimit, unit: 'N' },
        { symbol: 'aISO', label: 'Life modification factor', value: factor },
        { symbol: 'Lnmh', label: 'Modified rating life', value: at(1), unit: 'h', formula: 'Lnmh = a1·aISO·L10h' },
      ],
    };
  } catch (e) {
    if (!(e instanceof RangeError)) throw e;
    return e.message;
  }
}
const withFactor = (basic: Said, m: Modified): Said => ({
  ...basic,
  value: m.hours,
  reserve: m.reserve,
  method: basic.method.replace('basic rating life', 'modified rating life'),
  figures: [...basic.figures, ...m.figures],
  assumptions: basic.assumptions.map((a) =>
    a.startsWith('reliability') ? 'reliability 90 % (a1 = 1); pitch diameter as the mean of both diameters' : a,
  ),
});

function staticOf(stated: StatedBearing, load: number, rating: number, loads: readonly Figure[]): Said {
  const safety = timesBorne(rating, load);
  return {
    what: 'bearing, static',
    value: safety,
    wanted: 1,
    reserve: safety,
    method: 'ISO 76:2006',
    figures: [
      ...loads,
      { symbol: 'P0', label: 'Equivalent static load', value: load, unit: 'N', formula: 'P0 = max(Fr, 0.6·Fr + 0.5·Fa)·KA' },
      { symbol: 'C0', label: 'Static rating', value: rating, unit: 'N' },
      { symbol: 'S0', label: 'Static safety', value: safety, formula: 'S0 = C0/P0' },
    ],
    assumptions: [sortOf(stated)],
  };
}
