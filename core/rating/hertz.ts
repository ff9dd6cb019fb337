import { completeElliptic } from '../math/index';
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

/** The touch of two surfaces in a point: half axes of the ellipse, mm, and its greatest pressure, MPa. */
export interface PointContact {
  readonly long: number;
  readonly short: number;
  readonly pressure: number;
}
/**
 * Two surfaces that are each curved one way, as cylinders are, whose straight lines cross at an angle, rad (Hertz; Johnson,
 * Contact Mechanics, 4.2; from memory). Force N, radii mm. Throws RangeError where they touch along a line.
 */
export function crossedContact(force: number, rho1: number, rho2: number, angle: number, modulus = STEEL): PointContact {
  const [k1, k2] = [1 / rho1, 1 / rho2];
  // B + A and B − A of z = A·x² + B·y².
  const sum = (k1 + k2) / 2;
  const difference = Math.sqrt(k1 * k1 + k2 * k2 + 2 * k1 * k2 * Math.cos(2 * angle)) / 2;
  if (!(sum - difference > 1e-9 * sum)) throw new RangeError('the surfaces touch along a line');
  const wanted = (sum + difference) / (sum - difference);
  const effective = modulus / (2 * (1 - POISSON ** 2));
  // B/A grows with the slenderness of the ellipse, of which these are logarithms.
  let [low, high] = [0, Math.log(1e6)];
  for (let k = 0; k < 60; k++) {
    const middle = (low + high) / 2;
    if (ratioOf(Math.exp(-middle)) < wanted) low = middle;
    else high = middle;
  }
  const slender = Math.exp(-low);
  const { second } = completeElliptic(slender * slender);
  const short = Math.cbrt((3 * Math.abs(force) * second * slender) / (2 * Math.PI * effective * sum));
  const long = short / slender;
  return { long, short, pressure: (effective * short * sum) / second };
}
/** B/A of an ellipse whose short axis is so much of the long one. */
function ratioOf(slender: number): number {
  const complement = slender * slender;
  const { first, second } = completeElliptic(complement);
  // Near the circle both differences vanish alike: B/A = 1 + 3/4·m there.
  if (1 - complement < 1e-6) return 1 + 0.75 * (1 - complement);
  return (second / complement - first) / (first - second);
}
