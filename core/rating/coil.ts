import type { Design, Load } from '../fields/types';
import type { Coil, SpringWire } from '../loads/index';

/** Moduli of patented wire, MPa (EN 13906-1, table 2; from memory). */
export const SHEAR_MODULUS = 81_500;
export const YOUNG = 206_000;

/**
 * Tensile strength of patented wire, MPa: A − B·log10 d (EN 10270-1; lower limits by the lines that fit its tables, from
 * memory).
 */
const WIRES: Readonly<Record<SpringWire, readonly [number, number]>> = { SL: [1720, 660], SM: [1980, 740], SH: [2220, 820] };
export const wireStrength = (wire: SpringWire, diameter: number): number => WIRES[wire][0] - WIRES[wire][1] * Math.log10(diameter);

/** A helical spring of round wire: diameters of wire and coil, mm, and active coils. */
export interface Helix {
  readonly wire: number;
  readonly mean: number;
  readonly coils: number;
}
/** Spring index w = D/d. */
export const indexOf = ({ mean, wire }: Helix): number => mean / wire;
/** Rate of a compression or extension spring, N/mm (EN 13906-1, eq. 3: R = G·d⁴/(8·D³·n)). */
export const helixRate = ({ wire, mean, coils }: Helix, shear = SHEAR_MODULUS): number => (shear * wire ** 4) / (8 * mean ** 3 * coils);
/** Shear stress without what the curvature adds, MPa (EN 13906-1, eq. 6: τ = 8·D·F/(π·d³)). */
export const shearStress = ({ wire, mean }: Helix, force: number): number => (8 * mean * force) / (Math.PI * wire ** 3);
/** Factor of the curvature k, with which stresses that change are found (EN 13906-1: (w + 0.5)/(w − 0.75)). */
export const curvatureFactor = (h: Helix): number => (indexOf(h) + 0.5) / (indexOf(h) - 0.75);
/** Rate of a torsion spring, N·mm for each degree (EN 13906-3: E·d⁴/(3667·D·n)). */
export const torsionRate = ({ wire, mean, coils }: Helix, young = YOUNG): number => (young * wire ** 4) / (3667 * mean * coils);
/** Bending stress of a torsion spring, MPa, moment N·mm (EN 13906-3: σ = 32·M/(π·d³)), and its curvature factor. */
export const bendingStress = ({ wire }: Helix, moment: number): number => (32 * moment) / (Math.PI * wire ** 3);
export const bendingCurvature = (h: Helix): number => (indexOf(h) + 0.07) / (indexOf(h) - 0.75);

/**
 * Solid length of a compression spring with closed and ground ends, and the least gap of all coils together, mm (EN 13906-1, 8
 * and 9).
 */
export const solidLength = ({ wire, coils }: Helix): number => (coils + 2) * wire;
export const leastGap = ({ wire, mean, coils }: Helix): number => coils * ((0.0015 * (mean * mean)) / wire + 0.1 * wire);

/**
 * Deflection at which a compression spring buckles, mm; infinite where it does not (EN 13906-1, 9.14, with both ends on parallel
 * seats, ν = 0.5; from memory). `free`: its unloaded length, mm.
 */
export function bucklingDeflection({ mean }: Helix, free: number, shear = SHEAR_MODULUS, young = YOUNG, seats = 0.5): number {
  const g = 1 - shear / young;
  const inside = 1 - (g / (0.5 + shear / young)) * ((Math.PI * mean) / (seats * free)) ** 2;
  return inside < 0 ? Infinity : ((free * 0.5) / g) * (1 - Math.sqrt(inside));
}

/**
 * Parts of the tensile strength that a spring bears under a steady load: compression, extension, torsion
 * (EN 13906-1 to -3).
 */
export const PARTS = { compression: 0.5, extension: 0.45, torsion: 0.7 } as const;

/** Amplitude and mean of the shear stress that unpeened spring wire bears without end, MPa (Zimmerli, in Shigley, eq. 10-28). */
const ZIMMERLI = { amplitude: 241, mean: 379 };
/** Shear strength of wire, of its tensile strength (Shigley, eq. 10-30). */
const SHEAR_STRENGTH = 0.67;
/**
 * Safety of a compression spring against fatigue: amplitude and mean of shear stress, MPa, by Gerber through Zimmerli's data
 * (Shigley, example 10-4).
 */
export function springFatigue(amplitude: number, mean: number, tensile: number): number {
  const Su = SHEAR_STRENGTH * tensile;
  const Se = ZIMMERLI.amplitude / (1 - (ZIMMERLI.mean / Su) ** 2);
  if (!(Se > 0)) throw new RangeError('its wire is too weak for the fatigue data');
  if (amplitude <= 0) return Infinity;
  if (mean <= 0) return Se / amplitude;
  return 0.5 * (Su / mean) ** 2 * (amplitude / Se) * (Math.sqrt(1 + ((2 * mean * Se) / (Su * amplitude)) ** 2) - 1);
}

/** A spring with what is stated of its coil. */
export type RatedSpring = Load & Coil & { rate?: number; damping?: number };
/** Springs whose coil is stated. */
export const askedSprings = (design: Design): RatedSpring[] =>
  design.loads.filter((l) => (l.type === 'spring' || l.type === 'joint-spring') && (l as RatedSpring).coil !== undefined) as RatedSpring[];
