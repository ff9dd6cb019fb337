import type { NotchForm } from '../fields/shaft-rating';
import type { ShaftMaterial } from './shaft-steel';

/**
 * Shafts by DIN 743-1 and -2 (fatigue strength without end, and yield). Formulas and constants from memory of the standard;
 * docs/checks.md says against what they were checked. Lengths mm, stresses MPa.
 */

/** Along, bending, torsion. */
export const STRESSES = ['along', 'bending', 'torsion'] as const;
export type StressKind = (typeof STRESSES)[number];
type Each = Readonly<Record<StressKind, number>>;

/** A section of a shaft and what weakens it. */
export interface Section {
  readonly form: NotchForm | 'keyway' | 'two keyways';
  /** Diameter there, mm; of a groove at its bottom. */
  readonly diameter: number;
  readonly bore: number;
  /** Diameter beside it, mm; fillet radius; width of a groove with square corners. */
  readonly outer?: number;
  readonly radius?: number;
  readonly width?: number;
  /** Rz, μm */
  readonly roughness: number;
}

/** Coefficients of the stress concentration factors, A, B, C and z of DIN 743-2. */
const SHAPES: Readonly<Record<'shoulder' | 'round groove', Readonly<Record<StressKind, readonly [number, number, number, number]>>>> = {
  shoulder: { along: [0.62, 3.5, 0, 0], bending: [0.62, 5.8, 0.2, 3], torsion: [3.4, 19, 1, 2] },
  'round groove': { along: [0.22, 1.37, 0, 0], bending: [0.2, 2.75, 0, 0], torsion: [0.7, 10.3, 0, 0] },
};

/** Stress concentration factor α of a shoulder or a round groove: depth t = (D − d)/2. */
export function concentration(form: 'shoulder' | 'round groove', kind: StressKind, d: number, outer: number, r: number): number {
  const t = (outer - d) / 2;
  const [A, B, C, z] = SHAPES[form][kind];
  return 1 + 1 / Math.sqrt((A * r) / t + ((2 * B * r) / d) * (1 + (2 * r) / d) ** 2 + (C * (r / t) ** z * d) / outer);
}

/** Relative stress gradient G′, 1/mm. */
function gradient(form: 'shoulder' | 'round groove', kind: StressKind, d: number, outer: number, r: number): number {
  if (kind === 'torsion') return (form === 'shoulder' ? 1.15 : 1) / r;
  const phi = d / outer > 0.67 ? 1 / (4 * Math.sqrt((outer - d) / 2 / r) + 2) : 0;
  return ((form === 'shoulder' ? 2.3 : 2) * (1 + phi)) / r;
}

/** How much less a steep stress counts: n. */
const support = (gradient: number, m: ShaftMaterial): number => 1 + Math.sqrt(gradient) * 10 ** (m.hard ? -0.7 : -(0.33 + m.yield / 712));

const each = (of: (kind: StressKind) => number): Each => ({ along: of('along'), bending: of('bending'), torsion: of('torsion') });
const NONE = each(() => 1);
/** Size factor of bending and torsion, K2. */
const sizeFactor = (d: number): number => 1 - (0.2 * Math.log10(Math.min(Math.max(d, 7.5), 150) / 7.5)) / Math.log10(20);
/** A factor β that was measured on bars of 40 mm, at another diameter: K3. */
function atSize(beta: number, d: number): number {
  const k3 = (size: number): number => 1 - (0.2 * Math.log10(beta) * Math.log10(Math.min(Math.max(size, 7.5), 150) / 7.5)) / Math.log10(20);
  return (beta * k3(40)) / k3(d);
}
/** Two keyways opposite each other weaken by 15 % more than one. */
const TWO_KEYWAYS = 1.15;

/** Fatigue notch factors β; α where there is one. */
export function notchFactors(s: Section, m: ShaftMaterial): { beta: Each; alpha?: Each } {
  const { form, diameter: d, outer = d, radius: r = 0 } = s;
  if (form === 'plain' || ((form === 'shoulder' || form === 'round groove' || form === 'ring groove') && outer <= d)) return { beta: NONE };
  if (form === 'shoulder' || form === 'round groove') {
    const alpha = each((k) => concentration(form, k, d, outer, r));
    return { alpha, beta: each((k) => alpha[k] / support(gradient(form, k, d, outer, r), m)) };
  }
  if (form === 'ring groove') {
    const t = (outer - d) / 2;
    const root = Math.sqrt(t / (r + 2.9 * 10 ** -(0.514 + 0.00152 * m.yield)));
    const narrow = s.width! / t < 1.4 ? 1.08 * (s.width! / t) ** -0.2 : 1;
    return {
      beta: { along: 0.9 * (1.27 + 1.17 * root) * narrow, bending: 0.9 * (1.14 + 1.08 * root) * narrow, torsion: (1.48 + 0.45 * root) * narrow },
    };
  }
  const fit = form === 'press fit';
  const bending = atSize((fit ? 2.7 : 3) * (m.tensile / 1000) ** (fit ? 0.43 : 0.38) * (form === 'two keyways' ? TWO_KEYWAYS : 1), d);
  return { beta: { along: bending, bending, torsion: fit ? 0.65 * bending : 0.56 * bending + 0.1 } };
}

/** How much a rough surface weakens, KF; of torsion less. DIN 743-2. */
function surface(roughness: number, m: ShaftMaterial): Each {
  const sigma = 1 - 0.22 * Math.log10(roughness) * (Math.log10(m.tensile / 20) - 1);
  return { along: sigma, bending: sigma, torsion: 0.575 * sigma + 0.425 };
}
/** Roughness of the bars on which grooves with square corners were measured, μm. */
const MEASURED_ROUGHNESS = 20;
/** Forms whose measured factors hold whatever the surface is like. */
const ANY_SURFACE: readonly Section['form'][] = ['press fit', 'keyway', 'two keyways'];

/** Endurance of a smooth polished bar, of the tensile strength. */
const OF_TENSILE: Each = { along: 0.4, bending: 0.5, torsion: 0.3 };

/** What a section bears. MPa */
export interface SectionStrength {
  readonly alpha?: Each;
  readonly beta: Each;
  /** Whole factor of the notch, Kσ or Kτ. */
  readonly K: Each;
  /** Fatigue strength of the notched bar, σWK, reversed. */
  readonly reversed: Each;
  /** Influence of the mean stress, ψσK. */
  readonly psi: Each;
  /** Yield of the notched bar, σFK. */
  readonly yields: Each;
}

/** A notch raises the yield of a ductile bar by so much, along and in bending. γF */
const constraint = (alphaOrBeta: number): number => (alphaOrBeta < 1.5 ? 1 : alphaOrBeta < 2 ? 1.05 : alphaOrBeta < 3 ? 1.1 : 1.15);

export function sectionStrength(s: Section, m: ShaftMaterial): SectionStrength {
  const { alpha, beta } = notchFactors(s, m);
  const plain = surface(s.roughness, m);
  const measured = surface(MEASURED_ROUGHNESS, m);
  const KF = ANY_SURFACE.includes(s.form) ? NONE : s.form === 'ring groove' ? each((k) => plain[k] / measured[k]) : plain;
  const K2 = sizeFactor(s.diameter);
  const K = each((k) => beta[k] / (k === 'along' ? 1 : K2) + 1 / KF[k] - 1);
  const reversed = each((k) => (OF_TENSILE[k] * m.tensile) / K[k]);
  const psi = each((k) => reversed[k] / (2 * m.tensile - reversed[k]));
  const hollow = s.bore > 0;
  // A full bar that bends or twists yields at its surface first: K2F. A hard surface must not.
  const reserve: Each = { along: 1, bending: m.hard ? 1 : hollow ? 1.1 : 1.2, torsion: m.hard || hollow ? 1 : 1.2 };
  const round = s.form === 'shoulder' || s.form === 'round groove' || s.form === 'ring groove';
  const yields = each((k) => {
    if (k === 'torsion') return (reserve.torsion * m.yield) / Math.sqrt(3);
    return reserve[k] * (round && !m.hard ? constraint((alpha ?? beta)[k]) : 1) * m.yield;
  });
  return { ...(alpha && { alpha }), beta, K, reversed, psi, yields };
}

/** Area and section moduli of a bar, mm², mm³. */
export function sectionOf({ diameter: d, bore }: Pick<Section, 'diameter' | 'bore'>): Each {
  const bending = (Math.PI * (d ** 4 - bore ** 4)) / (32 * d);
  return { along: (Math.PI * (d * d - bore * bore)) / 4, bending, torsion: 2 * bending };
}

/** Mean, amplitude and greatest of each stress, MPa. */
export interface SectionStress {
  readonly mean: Each;
  readonly amplitude: Each;
  readonly greatest: Each;
}
/** An amplitude below this part of the mean stress is none: it would count by the mean alone. */
const NO_AMPLITUDE = 1e-6;

/** Mean stress by distortion energy, σmv. */
export const meanStress = ({ mean }: SectionStress): number => Math.hypot(mean.along + mean.bending, Math.sqrt(3) * mean.torsion);

/** Fatigue strength beside the mean stress, which grows with the load: σADK, case 2 of DIN 743-1. */
export function fatigueStrength(kind: StressKind, stress: SectionStress, { reversed, psi }: SectionStrength): number {
  const mean = meanStress(stress) / (kind === 'torsion' ? Math.sqrt(3) : 1);
  return reversed[kind] / (1 + (psi[kind] * mean) / stress.amplitude[kind]);
}
/** Safety against fatigue fracture, S; without end where nothing comes and goes. */
export function fatigueSafety(stress: SectionStress, strength: SectionStrength): number {
  const mean = meanStress(stress);
  const share = (k: StressKind): number =>
    stress.amplitude[k] > NO_AMPLITUDE * mean ? stress.amplitude[k] / fatigueStrength(k, stress, strength) : 0;
  return 1 / Math.hypot(share('along') + share('bending'), share('torsion'));
}
/** Safety against lasting deformation, S. */
export function yieldSafety({ greatest }: SectionStress, { yields }: SectionStrength): number {
  return 1 / Math.hypot(greatest.along / yields.along + greatest.bending / yields.bending, greatest.torsion / yields.torsion);
}
