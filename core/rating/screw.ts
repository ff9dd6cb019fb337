import { DENSITY_STEEL, type NutMaterial, type ScrewEnds } from '../elements/index';
import { STEEL } from '../forces/index';
import { convert } from '../units/index';

const [PSI, FPM] = [convert(1, 'psi', 'MPa'), convert(1, 'ft/min', 'm/s')];

/**
 * Permissible pressure of threads on a steel screw, MPa, up to a sliding speed, m/s: the lower of the figures of Shigley,
 * Mechanical Engineering Design, table of screw bearing pressures (from memory).
 */
const PRESSURES: Readonly<Record<NutMaterial, readonly (readonly [upTo: number, pressure: number])[]>> = {
  bronze: [
    [10 * FPM, 1600 * PSI],
    [40 * FPM, 800 * PSI],
    [Infinity, 150 * PSI],
  ],
  'cast iron': [
    [8 * FPM, 1800 * PSI],
    [40 * FPM, 600 * PSI],
  ],
};
/** Undefined where the source has no figure at that speed, m/s. */
export const threadPressure = (material: NutMaterial, speed: number): number | undefined =>
  PRESSURES[material].find(([upTo]) => speed <= upTo * (1 + 1e-9))?.[1];

/** How deep the threads bear, of the pitch: ISO 2904 for trapezoidal, ISO 68-1 for metric. */
export const bearingDepth = (form: string): number => (form === 'metric' ? 0.54127 : 0.5);

/** Pressure on the flanks, MPa, shared evenly by all turns in the nut: p = F·P/(π·d2·H1·L). N, mm */
export const flankPressure = (force: number, pitch: number, d2: number, depth: number, nut: number): number =>
  (force * pitch) / (Math.PI * d2 * depth * nut);

/** Equivalent stress of the core by distortion energy, MPa. N, N·m, mm */
export const coreStress = (force: number, torque: number, d3: number): { along: number; torsion: number; both: number } => {
  const along = (4 * force) / (Math.PI * d3 * d3);
  const torsion = (16e3 * torque) / (Math.PI * d3 ** 3);
  return { along, torsion, both: Math.hypot(along, Math.sqrt(3) * torsion) };
};

/** Part of the free length that buckles as one half wave; first root of the bending wave. Timoshenko, textbook values. */
const ENDS: Readonly<Record<ScrewEnds, readonly [buckles: number, root: number]>> = {
  'guided and guided': [1, Math.PI],
  'clamped and guided': [0.699, 3.9266],
  'clamped and clamped': [0.5, 4.73004],
  'clamped and free': [2, 1.8751],
};

/**
 * Force at which a bar buckles, N: Euler's, or Johnson's parabola where it is stocky. Lengths mm, yield strength MPa.
 */
export function bucklingForce(
  d3: number,
  length: number,
  ends: ScrewEnds,
  yields: number,
): { force: number; slenderness: number; by: 'Euler' | 'Johnson' } {
  const slenderness = (ENDS[ends][0] * length) / (d3 / 4);
  const area = (Math.PI * d3 * d3) / 4;
  const euler = (Math.PI ** 2 * STEEL) / slenderness ** 2;
  // The two meet where Euler's stress is half the yield strength.
  if (euler <= yields / 2) return { force: euler * area, slenderness, by: 'Euler' };
  return { force: yields * (1 - yields / (4 * euler)) * area, slenderness, by: 'Johnson' };
}

/** Speed at which a screw whirls, rev/min: a bar of its core, steel. mm */
export const whirlingSpeed = (d3: number, length: number, ends: ScrewEnds): number =>
  ((ENDS[ends][1] / (length * 1e-3)) ** 2 * Math.sqrt((STEEL * 1e6) / DENSITY_STEEL) * ((d3 * 1e-3) / 4) * 60) / (2 * Math.PI);
