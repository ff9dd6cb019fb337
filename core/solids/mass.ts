import { type Frame, type Vec3, WORLD, toWorldPoint, toWorldVector, vmap } from '../math/index';
import { type Outline, areaOf, integrated } from './outline';
import type { Solid } from './solid';

/**
 * Mass kg, centre mm, inertia about the centre kg·mm² as [xx, yy,
 * zz, xy, yz, zx] (products of inertia with sign of the tensor).
 */
export interface MassProperties {
  mass: number;
  centre: Vec3;
  inertia: readonly [number, number, number, number, number, number];
}

export const NO_MASS: MassProperties = { mass: 0, centre: [0, 0, 0], inertia: [0, 0, 0, 0, 0, 0] };

/** Area, first and second moments of an outline less its holes, mm to the power that each has. */
interface Moments {
  a: number;
  x: number;
  y: number;
  xx: number;
  yy: number;
  xy: number;
}

/** Moments inside one outline, whichever way it runs, by Green's theorem. */
function momentsOf(o: Outline): Moments {
  const sense = Math.sign(areaOf(o)) || 1;
  const over = (f: (x: number, y: number, dx: number, dy: number) => number): number => sense * integrated(o, f);
  return {
    a: over((x, y, dx, dy) => (x * dy - y * dx) / 2),
    x: over((x, _y, _dx, dy) => (x * x * dy) / 2),
    y: over((_x, y, dx) => (-y * y * dx) / 2),
    xx: over((x, _y, _dx, dy) => (x * x * x * dy) / 3),
    yy: over((_x, y, dx) => (-y * y * y * dx) / 3),
    xy: over((x, y, _dx, dy) => (x * x * y * dy) / 2),
  };
}

function sectionMoments(s: { outline: Outline; holes?: readonly Outline[] }): Moments {
  const sum = momentsOf(s.outline);
  for (const h of s.holes ?? []) {
    const m = momentsOf(h);
    for (const k of Object.keys(sum) as (keyof Moments)[]) sum[k] -= m[k];
  }
  return sum;
}

/** Slices shrink with s² in area and s⁴ in second moment on their way to the origin. */
function taperMass(s: Extract<Solid, { kind: 'taper' }>, rho: number): MassProperties {
  const sum = sectionMoments(s);
  const h = s.height,
    k = s.inner;
  const part = (n: number): number => (1 - k ** n) / n;
  const mass = rho * sum.a * h * part(3);
  if (!(mass > 0)) return NO_MASS;
  const first = (rho * h * part(4)) / mass;
  const cx = sum.x * first,
    cy = sum.y * first,
    cz = sum.a * h * first;
  const second = rho * h * part(5);
  const xx = second * sum.xx,
    yy = second * sum.yy,
    xy = second * sum.xy,
    zz = second * sum.a * h * h,
    zx = second * sum.x * h,
    yz = second * sum.y * h;
  return {
    mass,
    centre: [cx, cy, cz],
    inertia: [
      yy + zz - mass * (cy * cy + cz * cz),
      xx + zz - mass * (cx * cx + cz * cz),
      xx + yy - mass * (cx * cx + cy * cy),
      -(xy - mass * cx * cy),
      -(yz - mass * cy * cz),
      -(zx - mass * cz * cx),
    ],
  };
}

/** Density kg/m³ → kg/mm³ inside. */
function prismMass(s: Extract<Solid, { kind: 'prism' }>, rho: number): MassProperties {
  const sum = sectionMoments(s);
  const depth = Math.abs(s.to - s.from);
  const mass = rho * sum.a * depth;
  if (!(mass > 0)) return NO_MASS;
  const cx = sum.x / sum.a,
    cy = sum.y / sum.a,
    cz = (s.from + s.to) / 2;
  const ixx = sum.yy - sum.a * cy * cy,
    iyy = sum.xx - sum.a * cx * cx,
    ixy = sum.xy - sum.a * cx * cy;
  const along = (mass * depth * depth) / 12;
  return {
    mass,
    centre: [cx, cy, cz],
    inertia: [rho * depth * ixx + along, rho * depth * iyy + along, rho * depth * (ixx + iyy), -rho * depth * ixy, 0, 0],
  };
}

/** A half section turned about z: the volume by Pappus, ∫r³ and ∫r z² over it by Green's theorem. */
function turnedMass(s: Extract<Solid, { kind: 'turned' }>, rho: number): MassProperties {
  const over = (f: (r: number, z: number) => number): number => integrated(s.section, (r, z, _dr, dz) => f(r, z) * dz);
  const v = over((r) => (r * r) / 2);
  const k = 2 * Math.PI * rho * (Math.sign(v) || 1);
  const mass = k * v;
  if (!(mass > 0)) return NO_MASS;
  const cz = over((r, z) => (r * r * z) / 2) / v;
  const izz = k * over((r) => r ** 4 / 4);
  const ixx = izz / 2 + k * over((r, z) => (r * r * z * z) / 2) - mass * cz * cz;
  return { mass, centre: [0, 0, cz], inertia: [ixx, ixx, izz, 0, 0, 0] };
}

/** The same properties stated in the outer frame. */
export function placeMass(m: MassProperties, f: Frame): MassProperties {
  const [xx, yy, zz, xy, yz, zx] = m.inertia;
  const cols: Vec3[] = [
    [xx, xy, zx],
    [xy, yy, yz],
    [zx, yz, zz],
  ];
  const ax = [f.x, f.y, f.z];
  const turned = cols.map((c) => toWorldVector(f, c));
  const out = [0, 1, 2].map((i) => [0, 1, 2].map((j) => ax.reduce((s, a, k) => s + turned[k][i] * a[j], 0)));
  return { mass: m.mass, centre: toWorldPoint(f, m.centre), inertia: [out[0][0], out[1][1], out[2][2], out[0][1], out[1][2], out[0][2]] };
}

/** Several bodies as one: masses added, inertias moved to the common centre (Steiner). */
export function sumMass(parts: readonly MassProperties[]): MassProperties {
  const mass = parts.reduce((s, p) => s + p.mass, 0);
  if (!(mass > 0)) return NO_MASS;
  const centre = vmap(NO_MASS.centre, (_, i) => parts.reduce((s, p) => s + p.mass * p.centre[i], 0) / mass);
  const inertia: [number, number, number, number, number, number] = [0, 0, 0, 0, 0, 0];
  for (const p of parts) {
    const [x, y, z] = [p.centre[0] - centre[0], p.centre[1] - centre[1], p.centre[2] - centre[2]];
    const moved = [y * y + z * z, z * z + x * x, x * x + y * y, -x * y, -y * z, -z * x];
    for (let i = 0; i < 6; i++) inertia[i] += p.inertia[i] + p.mass * moved[i];
  }
  return { mass, centre, inertia };
}

/** Mass, centre and inertia of a list of solids of one density (kg/m³). */
export function massOf(solids: readonly Solid[], density: number): MassProperties {
  const rho = density * 1e-9;
  return sumMass(
    solids.map((s) =>
      placeMass(s.kind === 'prism' ? prismMass(s, rho) : s.kind === 'taper' ? taperMass(s, rho) : turnedMass(s, rho), s.place ?? WORLD),
    ),
  );
}

/** What rounding may take from a moment, as part of the whole. */
const SLACK = 1e-9;

/** Whether a body can have moments of inertia xx, yy, zz, xy, yz, zx: Σmx², Σmy², Σmz² and their products allow it. */
export function possibleInertia([xx, yy, zz, xy, yz, zx]: MassProperties['inertia']): boolean {
  const [a, b, c] = [(yy + zz - xx) / 2, (zz + xx - yy) / 2, (xx + yy - zz) / 2];
  const size = xx + yy + zz;
  const pairs = [a * b - xy * xy, b * c - yz * yz, c * a - zx * zx];
  const det = a * (b * c - yz * yz) - xy * (xy * c + yz * zx) - zx * (xy * yz + b * zx);
  return [a, b, c].every((x) => x >= -SLACK * size) && pairs.every((x) => x >= -SLACK * size ** 2) && det >= -SLACK * size ** 3;
}
