import type { Bearing, Bush, CarriedJoint } from '../joints/index';
import { convert } from '../units/index';
import type { Figure } from './protocol';
import { type Given, type Results, applicationFigure, timesBorne, unknownIn } from './rater';

/** Limits in psi, ft/min and their product as the source prints them. */
const limits = (psi: number, fpm: number, both: number): readonly [number, number, number] => [
  convert(psi, 'psi', 'MPa'),
  convert(fpm, 'ft/min', 'm/s'),
  both * convert(1, 'psi', 'MPa') * convert(1, 'ft/min', 'm/s'),
];
/**
 * Greatest pressure, MPa, speed, m/s, and their product, of bushes that run without a full film of oil: Shigley, Mechanical
 * Engineering Design, table of materials for boundary-lubricated bearings (from memory).
 */
const LIMITS: Readonly<Record<Bush, readonly [pressure: number, speed: number, both: number]>> = {
  'cast bronze': limits(4500, 1500, 50_000),
  'porous bronze': limits(4500, 1500, 50_000),
  'porous iron': limits(8000, 800, 50_000),
  phenolic: limits(6000, 2500, 15_000),
  polyamide: limits(1000, 1000, 3000),
  PTFE: limits(500, 100, 1000),
  'reinforced PTFE': limits(2500, 1000, 10_000),
  'PTFE fabric': limits(60_000, 150, 25_000),
  acetal: limits(1000, 1000, 3000),
  'carbon graphite': limits(600, 2500, 15_000),
  wood: limits(2000, 2000, 15_000),
};
export const bushLimits = (bush: Bush): readonly [pressure: number, speed: number, both: number] => LIMITS[bush];

/** Pressure on the projected area, MPa, and sliding speed, m/s: force N, sizes mm, rev/min. */
export const bushPressure = (force: number, b: Pick<Bearing, 'inner' | 'width'>): number => force / (b.inner * b.width);
export const bushSpeed = (speed: number, b: Pick<Bearing, 'inner'>): number => (Math.PI * b.inner * 1e-3 * speed) / 60;

/** What a bush or a shoe bears: the least of three safeties, over pressures, MPa, and speeds, m/s, of a case. */
export function slides(
  bush: Bush,
  each: readonly { readonly p: number; readonly v: number }[],
  ofPressure: string,
  ofSpeed?: string,
): { p: number; value: number; figures: readonly Figure[] } {
  const [mayPress, mayRun, mayBoth] = bushLimits(bush);
  const most = (of: (x: (typeof each)[number]) => number): number => Math.max(...each.map(of));
  const [p, v, pv] = [most((x) => x.p), most((x) => x.v), most((x) => x.p * x.v)];
  return {
    p,
    value: Math.min(timesBorne(mayPress, p), timesBorne(mayRun, v), timesBorne(mayBoth, pv)),
    figures: [
      { symbol: 'p', label: 'Pressure', value: p, unit: 'MPa', formula: ofPressure },
      { symbol: 'pzul', label: 'Permissible pressure', value: mayPress, unit: 'MPa' },
      { symbol: 'v', label: 'Sliding speed', value: 1e3 * v, unit: 'mm/s', ...(ofSpeed && { formula: ofSpeed }) },
      { symbol: 'vzul', label: 'Permissible speed', value: 1e3 * mayRun, unit: 'mm/s' },
      { symbol: 'pv', label: 'Pressure × speed, MPa·m/s', value: pv },
      { symbol: 'pvzul', label: 'Permissible pressure × speed, MPa·m/s', value: mayBoth },
    ],
  };
}
export const SLIDES = 'Pressure, sliding speed and their product; limits after Shigley, Mechanical Engineering Design';
export const slidesBy = (run: boolean): string[] => [
  'without a full film of oil; wear over time is not reckoned',
  ...(run ? ['each is the greatest of the run'] : []),
];

interface Named {
  readonly joint: CarriedJoint;
  readonly k: number;
  readonly name: string;
  readonly no: (why: string) => void;
}
/** A plain bearing by its pressure, its speed and their product, each the greatest of a case. */
export function ratePlain({ cases, wishes }: Pick<Given, 'cases' | 'wishes'>, results: Results, { joint, k, name, no }: Named, b: Bearing): void {
  if (b.bush === undefined) return no('what its bush is made of is not stated');
  const KA = wishes.applicationFactor;
  for (const c of cases) {
    const loads = c.instants.map((i) => i.bearings(joint.id)?.[k]);
    if (loads.some((l) => !l || ![l.radial, l.axial, l.speed].every(Number.isFinite))) {
      no(unknownIn(c));
      continue;
    }
    const each = loads.map((l) => ({ p: bushPressure(KA * l!.radial, b), v: bushSpeed(l!.speed, b), axial: l!.axial }));
    const axial = Math.max(...each.map((x) => x.axial));
    const { p, value, figures } = slides(b.bush, each, 'p = KA·Fr/(d·b)', 'v = π·d·n');
    if (axial > 1e-6 * (p * b.inner * b.width) && axial > 1e-9) {
      no(`the collar that takes its thrust of up to ${axial.toPrecision(3)} N is not rated`);
    }
    results.line(`${joint.id} ${k} plain`, {
      item: joint.id,
      bearing: k,
      name,
      case: c.name,
      what: 'plain bearing',
      value,
      wanted: 1,
      reserve: value,
      method: SLIDES,
      figures: [
        applicationFigure(wishes),
        { symbol: 'Fr', label: 'Greatest radial force', value: (p * b.inner * b.width) / KA, unit: 'N' },
        { symbol: 'd', label: 'Inner diameter', value: b.inner, unit: 'mm' },
        { symbol: 'b', label: 'Width', value: b.width, unit: 'mm' },
        ...figures,
      ],
      assumptions: [`bush of ${b.bush}`, ...slidesBy(c.run)],
    });
  }
}
