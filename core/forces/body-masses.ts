import type { Compiled } from '../kinematics/index';
import { massesOf } from './masses';

const MM = 1e-3;

/** What is fastened together moves as one: mass (kg), centre (m, reference position) and inertia about it (kg·m²: xx, yy, zz, xy, yz, zx) of each body. */
export interface BodyMasses {
  readonly mass: Float64Array;
  readonly centre: Float64Array;
  readonly inertia: Float64Array;
}

/** Kept with the compiled design that they follow from. */
const known = new WeakMap<Compiled, BodyMasses>();

/** Sums the masses of members over the bodies that they make up, by the parallel-axis theorem. */
export function bodyMasses(compiled: Compiled): BodyMasses {
  let masses = known.get(compiled);
  if (!masses) known.set(compiled, (masses = sumBodies(compiled)));
  return masses;
}

function sumBodies(compiled: Compiled): BodyMasses {
  const { structure } = compiled;
  const mass = new Float64Array(structure.bodies);
  const centre = new Float64Array(3 * structure.bodies);
  const inertia = new Float64Array(6 * structure.bodies);
  for (const [id, p] of massesOf(compiled)) {
    const b = structure.bodyOf.get(id)!;
    if (b === 0 || p.mass === 0) continue;
    const total = mass[b] + p.mass;
    const old = [centre[3 * b], centre[3 * b + 1], centre[3 * b + 2]];
    const add = p.centre.map((v) => v * MM);
    const merged = [0, 1, 2].map((k) => (mass[b] * old[k] + p.mass * add[k]) / total);
    const steiner = (part: number, c: number[], into: number): void => {
      const [x, y, z] = [c[0] - merged[0], c[1] - merged[1], c[2] - merged[2]];
      const t = [y * y + z * z, z * z + x * x, x * x + y * y, -x * y, -y * z, -z * x];
      for (let k = 0; k < 6; k++) inertia[into + k] += part * t[k];
    };
    steiner(mass[b], old, 6 * b);
    steiner(p.mass, add, 6 * b);
    for (let k = 0; k < 6; k++) inertia[6 * b + k] += p.inertia[k] * 1e-6;
    mass[b] = total;
    for (let k = 0; k < 3; k++) centre[3 * b + k] = merged[k];
  }
  return { mass, centre, inertia };
}
