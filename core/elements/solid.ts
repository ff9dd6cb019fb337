import { Frame, Vec3, WORLD, toWorldPoint, toWorldVector, vmap } from '../math/index';

/** Points x0, y0, x1, y1, … of a closed curve, counter-clockwise, mm. */
export type Loop = readonly number[];

/**
 * What an element looks like and what its mass is computed from, in the element's frame, mm. A taper is an outline
 * at z = height that shrinks straight towards the origin, cut off at the part `inner` of the way (bevel gears). A
 * prism is an outline along z, twisted evenly by `twist` rad from end to end, or leaning by `lean` mm of x for each
 * mm of z (a helical rack; weighed as if it stood upright). A turned body is a half section (r, z), closed, about z.
 */
export type Solid =
  | { kind: 'prism'; outline: Loop; holes?: Loop[]; from: number; to: number; twist?: number; lean?: number; place?: Frame }
  | { kind: 'turned'; section: Loop; place?: Frame }
  | { kind: 'taper'; outline: Loop; holes?: Loop[]; height: number; inner: number; place?: Frame };

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

/** Signed area, first and second moments of a closed polygon, by Green's theorem. */
function areaMoments(p: Loop): { a: number; x: number; y: number; xx: number; yy: number; xy: number } {
  let a = 0,
    x = 0,
    y = 0,
    xx = 0,
    yy = 0,
    xy = 0;
  for (let i = 0, n = p.length; i < n; i += 2) {
    const x0 = p[i],
      y0 = p[i + 1],
      x1 = p[(i + 2) % n],
      y1 = p[(i + 3) % n];
    const c = x0 * y1 - x1 * y0;
    a += c / 2;
    x += (c * (x0 + x1)) / 6;
    y += (c * (y0 + y1)) / 6;
    xx += (c * (x0 * x0 + x0 * x1 + x1 * x1)) / 12;
    yy += (c * (y0 * y0 + y0 * y1 + y1 * y1)) / 12;
    xy += (c * (x0 * y1 + 2 * x0 * y0 + 2 * x1 * y1 + x1 * y0)) / 24;
  }
  return { a, x, y, xx, yy, xy };
}

/** Moments of an outline less its holes. */
function sectionMoments(s: { outline: Loop; holes?: Loop[] }): ReturnType<typeof areaMoments> {
  const sum = areaMoments(s.outline);
  const sgn = Math.sign(sum.a) || 1;
  for (const k of Object.keys(sum) as (keyof typeof sum)[]) sum[k] *= sgn;
  for (const h of s.holes ?? []) {
    const m = areaMoments(h);
    const hs = Math.sign(m.a) || 1;
    for (const k of Object.keys(sum) as (keyof typeof sum)[]) sum[k] -= hs * m[k];
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

/** A half section turned about z: Pappus for the volume, Green's theorem for ∫r³ and ∫r z². */
function turnedMass(s: Extract<Solid, { kind: 'turned' }>, rho: number): MassProperties {
  let v = 0,
    vz = 0,
    r3 = 0,
    rzz = 0;
  const p = s.section;
  for (let i = 0, n = p.length; i < n; i += 2) {
    const r0 = p[i],
      z0 = p[i + 1],
      r1 = p[(i + 2) % n],
      z1 = p[(i + 3) % n];
    const dz = z1 - z0;
    // Integrals over the edge of r^k z^l dz with Gauss's three points, exact up to the fifth degree.
    for (const [t, w] of [
      [0.1127016653792583, 5 / 18],
      [0.5, 8 / 18],
      [0.8872983346207417, 5 / 18],
    ]) {
      const r = r0 + (r1 - r0) * t,
        z = z0 + dz * t;
      v += (w * dz * r * r) / 2;
      vz += (w * dz * r * r * z) / 2;
      r3 += (w * dz * r ** 4) / 4;
      rzz += (w * dz * r * r * z * z) / 2;
    }
  }
  const sgn = Math.sign(v) || 1;
  const k = 2 * Math.PI * rho * sgn;
  const mass = k * v;
  if (!(mass > 0)) return NO_MASS;
  const cz = vz / v;
  const izz = k * r3,
    ixx = izz / 2 + k * rzz - mass * cz * cz;
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

/** A closed circle of n points, counter-clockwise. */
export const circle = (r: number, n = 48, cx = 0, cy = 0): number[] =>
  Array.from({ length: 2 * n }, (_, i) => (i % 2 ? cy + r * Math.sin((Math.PI * (i - 1)) / n) : cx + r * Math.cos((Math.PI * i) / n)));

export const rectangle = (x0: number, y0: number, x1: number, y1: number): number[] => [x0, y0, x1, y0, x1, y1, x0, y1];

/** A round bar or ring along z as a turned body. */
export const bar = (radius: number, from: number, to: number, bore = 0, place?: Frame): Solid => ({
  kind: 'turned',
  section: [bore, from, radius, from, radius, to, bore, to],
  place,
});
