import { POISSON } from './gear-material';

/** Modulus of steel, MPa. */
const STEEL = 206_000;

/**
 * Greatest pressure between two steel surfaces that touch along a line, MPa (Hertz; Timoshenko and Goodier, Theory of
 * Elasticity):
 * p = √(F·E/(2π·(1 − ν²)·b·R)), R of 1/R = 1/ρ1 + 1/ρ2, infinite radii are flat, negative ones hollow. N, mm.
 */
export function linePressure(force: number, width: number, rho1: number, rho2: number, modulus = STEEL): number {
  const curved = 1 / rho1 + 1 / rho2;
  if (!(curved > 0)) throw new RangeError('the surfaces fit into each other: no contact along a line');
  return Math.sqrt((Math.abs(force) * modulus * curved) / (2 * Math.PI * (1 - POISSON ** 2) * width));
}

/** Bending stress of a tooth as a short beam, MPa: force at its tip, N, height, thickness of its foot and width, mm. */
export const toothBending = (force: number, height: number, foot: number, width: number): number => (6 * force * height) / (width * foot * foot);
