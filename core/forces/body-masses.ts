import type { DrivingSource } from '../document/kinds';
import { num } from '../elements/index';
import type { MassProperties } from '../solids/index';
import type { Id } from '../fields/types';
import type { Compiled, Coordinate } from '../kinematics/index';
import type { Vec3 } from '../math/index';
import { massesOf } from './masses';

const MM = 1e-3;

/**
 * What is fastened together moves as one: mass (kg), centre (m, reference
 * position) and inertia about it (kg·m²: xx, yy, zz, xy, yz, zx) of each body.
 */
export interface BodyMasses {
  readonly mass: Float64Array;
  readonly centre: Float64Array;
  readonly inertia: Float64Array;
  /** 1 where a body resists being moved: it has a mass, or a rotor fast on it. */
  readonly heavy: Uint8Array;
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
  for (const [id, p] of [...massesOf(compiled), ...sliders(compiled)]) {
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
  for (const { body, axis, rotor } of rotors(compiled)) {
    const [x, y, z] = axis;
    [x * x, y * y, z * z, x * y, y * z, z * x].forEach((part, k) => (inertia[6 * body + k] += rotor * part));
  }
  const heavy = Uint8Array.from(mass, (m, b) => (m > 0 || inertia.subarray(6 * b, 6 * b + 6).some((i) => i !== 0) ? 1 : 0));
  return { mass, centre, inertia, heavy };
}

/** Sources with a rotor, and what they drive. */
const driven = ({ sources, structure }: Compiled): { rotor: number; coordinate: Coordinate }[] =>
  sources.flatMap(({ source, coordinate }: { source: DrivingSource; coordinate: number }) =>
    num(source.rotor) > 0 ? [{ rotor: num(source.rotor), coordinate: structure.coordinates[coordinate] }] : [],
  );

/** Rotors of sources that turn: kg·m² about an axis of the reference position, on the body of the member that is driven. */
function rotors(compiled: Compiled): { body: number; axis: Vec3; rotor: number }[] {
  return driven(compiled).flatMap(({ rotor, coordinate }) => {
    const body = compiled.structure.bodyOf.get(coordinate.joint.child) ?? 0;
    return coordinate.motion === 'slide' || body === 0 ? [] : [{ body, axis: coordinate.axis, rotor }];
  });
}

/** Sliders of linear motors: a mass at the joint, on the member that is driven. */
function sliders(compiled: Compiled): [Id, MassProperties][] {
  return driven(compiled)
    .filter(({ coordinate }) => coordinate.motion === 'slide')
    .map(({ rotor, coordinate }) => [coordinate.joint.child, { mass: rotor, centre: coordinate.point, inertia: [0, 0, 0, 0, 0, 0] }]);
}
