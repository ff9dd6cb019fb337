import type { Member } from '../fields/types';
import { carriedOver } from './keys';
import type { Figure } from './protocol';
import { type Given, type Results, applicationFigure, timesBorne } from './rater';
import type { RatedPin, RatedSplines } from './shaft-sections';
import type { ShaftMaterial } from './shaft-steel';

/**
 * What of the teeth of a spline carries, and the safety against yield of their flanks (Roloff/Matek, shaft-hub joints; from
 * memory).
 */
const CARRYING = 0.75;
const SPLINE_SAFETY = 1.5;
/**
 * What of a tensile strength pins bear by how the load comes: pressure of the holes, shear of the pin (Roloff/Matek, pins pressed
 * in; from memory).
 */
const PIN_BEARS = { steady: [0.35, 0.2], pulsating: [0.25, 0.15], reversing: [0.18, 0.1] } as const;

/**
 * Pressure on the flanks of splines, MPa: p = 2·T/(dm·h·l·z·φ), φ = 0.75 (Roloff/Matek; from memory). T in N·m, the smaller and
 * the larger diameter and the length in mm.
 */
export const splinePressure = (torque: number, { inner, outer, length, teeth }: RatedSplines['sizes']): number =>
  (2e3 * torque) / (((inner + outer) / 2) * ((outer - inner) / 2) * length * teeth * CARRYING);

/**
 * A pin across shaft and hub under a torque, N·m, MPa: pressure in the hub T/(d·s·(D + s)), greatest pressure in the shaft
 * 6·T/(d·D²), shear 4·T/(π·d²·D), with the wall s of the hub on one side (Roloff/Matek, cross pins; from memory). mm
 */
export function pinStress(torque: number, { pin: d, shaft: D, outer }: RatedPin['sizes']): { hub: number; shaft: number; shear: number } {
  const T = torque * 1e3;
  const s = (outer - D) / 2;
  return { hub: T / (d * s * (D + s)), shaft: (6 * T) / (d * D * D), shear: (4 * T) / (Math.PI * d * d * D) };
}

/** Splines: the pressure of what goes over between shaft and hub. */
export function rateSplines(given: Given, results: Results, m: Member, material: ShaftMaterial, r: RatedSplines): void {
  const { wishes } = given;
  const KA = wishes.applicationFactor;
  const may = Math.min(material.yield, r.strength ?? Infinity) / SPLINE_SAFETY;
  for (const [c, all] of carriedOver(given, results, m, r)) {
    const torque = Math.max(...all.map((x) => x.torque));
    const pressure = splinePressure(KA * torque, r.sizes);
    const value = timesBorne(may, pressure);
    results.line(r.key, {
      item: m.id,
      name: `${m.name}: ${r.name}`,
      case: c.name,
      what: 'splines',
      value,
      wanted: 1,
      reserve: value,
      method: 'Mean pressure of the flanks after Roloff/Matek',
      figures: [
        applicationFigure(wishes),
        { symbol: 'T', label: 'Greatest torque that goes over', value: torque, unit: 'N·m' },
        { symbol: 'z', label: 'Teeth', value: r.sizes.teeth },
        { symbol: 'dm', label: 'Mean diameter', value: (r.sizes.inner + r.sizes.outer) / 2, unit: 'mm' },
        { symbol: 'h', label: 'Bearing height', value: (r.sizes.outer - r.sizes.inner) / 2, unit: 'mm' },
        { symbol: 'l', label: 'Bearing length', value: r.sizes.length, unit: 'mm' },
        { symbol: 'p', label: 'Pressure', value: pressure, unit: 'MPa', formula: 'p = 2·KA·T/(dm·h·l·z·0.75)' },
        { symbol: 'pzul', label: 'Permissible pressure', value: may, unit: 'MPa', formula: 'σS of the weaker of shaft and hub over 1.5' },
      ],
      assumptions: [
        r.strength === undefined ? 'the hub is taken to be as strong as the shaft' : 'yield strength of the hub as stated',
        'three quarters of the teeth carry; chamfers are not taken off; the shaft is rated where a section is stated',
      ],
    });
  }
}

/** Pins across shaft and hub: pressure in both, and shear of the pin. */
export function ratePin(given: Given, results: Results, m: Member, material: ShaftMaterial, r: RatedPin): void {
  const { wishes } = given;
  const KA = wishes.applicationFactor;
  const course = m.loadCourse ?? 'pulsating';
  const [presses, shears] = PIN_BEARS[course];
  const pin = r.pinStrength ?? material.tensile;
  const may = { hub: presses * Math.min(pin, r.strength ?? material.tensile), shaft: presses * Math.min(pin, material.tensile), shear: shears * pin };
  for (const [c, all] of carriedOver(given, results, m, r)) {
    const torque = Math.max(...all.map((x) => x.torque));
    const thrust = Math.max(...all.map((x) => x.thrust));
    const stress = pinStress(KA * torque, r.sizes);
    const value = Math.min(...(['hub', 'shaft', 'shear'] as const).map((k) => timesBorne(may[k], stress[k])));
    const figure = (symbol: string, label: string, is: number, formula?: string): Figure => ({ symbol, label, value: is, unit: 'MPa', formula });
    results.line(r.key, {
      item: m.id,
      name: `${m.name}: ${r.name}`,
      case: c.name,
      what: 'pin',
      value,
      wanted: 1,
      reserve: value,
      method: 'Cross pin after Roloff/Matek',
      figures: [
        applicationFigure(wishes),
        { symbol: 'T', label: 'Greatest torque that goes over', value: torque, unit: 'N·m' },
        { symbol: 'd', label: 'Diameter of the pin', value: r.sizes.pin, unit: 'mm' },
        { symbol: 'D', label: 'Diameter of the shaft', value: r.sizes.shaft, unit: 'mm' },
        { symbol: 's', label: 'Wall of the hub', value: (r.sizes.outer - r.sizes.shaft) / 2, unit: 'mm' },
        figure('pN', 'Pressure in the hub', stress.hub, 'pN = KA·T/(d·s·(D + s))'),
        figure('pW', 'Greatest pressure in the shaft', stress.shaft, 'pW = 6·KA·T/(d·D²)'),
        figure('τ', 'Shear of the pin', stress.shear, 'τ = 4·KA·T/(π·d²·D)'),
        figure('pzul', 'Permissible pressure, hub', may.hub),
        figure('pzul,W', 'Permissible pressure, shaft', may.shaft),
        figure('τzul', 'Permissible shear', may.shear),
      ],
      assumptions: [
        `a smooth pin, pressed in; load ${course}`,
        r.pinStrength === undefined ? 'the pin is taken to be as strong as the shaft' : 'tensile strength of the pin as stated',
        ...(thrust > 0 ? [`up to ${thrust.toPrecision(3)} N along the shaft goes over too and is not counted here`] : []),
        'the hole weakens the shaft: its fatigue there is not rated',
      ],
    });
  }
}
