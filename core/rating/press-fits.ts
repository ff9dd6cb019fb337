import type { Member } from '../fields/types';
import { USUAL_SEAT_ROUGHNESS, fitHolds, fitPressure, fitStress } from './press-fit';
import { carriedOver } from './keys';
import type { Figure, RatingLine } from './protocol';
import { type Given, type Results, applicationFigure, timesBorne } from './rater';
import type { RatedFit } from './shaft-sections';
import type { ShaftMaterial } from './shaft-steel';

/**
 * Friction of steel on steel, shrunk and dry, where none is stated (DIN 7190-1, lower figure for longitudinal press fits; from
 * memory).
 */
const USUAL_FRICTION = 0.12;

/** Press fits: what their friction holds against torque and thrust, and the stress of hub and shaft. */
export function rateFit(given: Given, results: Results, m: Member, material: ShaftMaterial, r: RatedFit): void {
  const { wishes } = given;
  const { sizes, interference, friction = USUAL_FRICTION } = r;
  const [holding, stressing] = [interference.least, interference.greatest].map((u) => fitPressure(sizes, u));
  const holds = fitHolds(sizes, holding, friction);
  const stress = fitStress(sizes, stressing);
  const KA = wishes.applicationFactor;
  const common = (counts: number, pressure: number): Figure[] => [
    ...(r.fit
      ? [{ symbol: 'ΔU', label: `Smoothed away, of ${r.fit.name}`, value: r.fit.smoothed, unit: 'mm', formula: 'ΔU = 0.8·(RzA + RzI)' }]
      : []),
    { symbol: 'U', label: 'Interference that counts', value: counts, unit: 'mm' },
    { symbol: 'd', label: 'Diameter of the joint', value: sizes.diameter, unit: 'mm' },
    { symbol: 'D', label: 'Outside diameter of the hub', value: sizes.outer, unit: 'mm' },
    { symbol: 'p', label: 'Pressure', value: pressure, unit: 'MPa', formula: 'p = (U/d)·E/((1 + QA²)/(1 − QA²) + (1 + QI²)/(1 − QI²))' },
  ];
  for (const [c, loads] of carriedOver(given, results, m, r)) {
    const pull = (l: (typeof loads)[number]): number => Math.hypot((2e3 * l.torque) / sizes.diameter, l.thrust);
    const worst = loads.reduce((a, b) => (pull(b) > pull(a) ? b : a));
    const base = { item: m.id, name: `${m.name}: ${r.name}`, case: c.name } as const;
    const take = (
      what: RatingLine['what'],
      value: number,
      wanted: number,
      reserve: number,
      figures: readonly Figure[],
      assumptions: readonly string[],
    ): void =>
      results.line(`${r.key} ${what}`, {
        ...base,
        what,
        value,
        wanted,
        reserve,
        method: 'Press fit by Lamé (DIN 7190-1), elastic',
        figures: [...figures],
        assumptions: [
          ...assumptions,
          ...(r.fit && r.fit.roughness === undefined ? [`Rz of shaft and hub ${USUAL_SEAT_ROUGHNESS} μm, not stated`] : []),
          'hub and shaft of steel, as warm as each other, at rest or turning slowly',
        ],
      });
    const slips = timesBorne(holds, KA * pull(worst));
    take(
      'press fit, slip',
      slips,
      wishes.shaftSafety,
      slips / wishes.shaftSafety,
      [
        applicationFigure(wishes),
        { symbol: 'T', label: 'Greatest torque that goes over', value: worst.torque, unit: 'N·m' },
        { symbol: 'F', label: 'Force along the shaft with it', value: worst.thrust, unit: 'N' },
        ...common(interference.least, holding),
        { symbol: 'μ', label: 'Friction', value: friction },
        { symbol: 'FH', label: 'What friction holds', value: holds, unit: 'N', formula: 'FH = μ·p·π·d·l' },
      ],
      [r.friction === undefined ? `friction ${USUAL_FRICTION}, not stated` : 'friction as stated'],
    );
    const hub = r.strength ?? material.yield;
    const yields = Math.min(timesBorne(hub, stress.hub), timesBorne(material.yield, stress.shaft));
    take(
      'press fit, stress',
      yields,
      1,
      yields,
      [
        ...common(interference.greatest, stressing),
        { symbol: 'σvA', label: 'Equivalent stress of the hub', value: stress.hub, unit: 'MPa', formula: 'p·√(3 + QA⁴)/(1 − QA²)' },
        { symbol: 'σvI', label: 'Equivalent stress of the shaft', value: stress.shaft, unit: 'MPa' },
        { symbol: 'σS', label: 'Yield strength of the hub', value: hub, unit: 'MPa' },
      ],
      [
        r.strength === undefined ? 'the hub is taken to be as strong as the shaft' : 'yield strength of the hub as stated',
        'stress from the fit alone: more load does not raise it',
      ],
    );
  }
}
