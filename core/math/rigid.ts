/**
 * Rigid placements as twelve numbers in a flat array, row by row: [R | t] (r00 r01 r02 tx, r10 …).
 * Nothing here allocates.
 */
export const PLACEMENT = 12;

export function setIdentity(t: Float64Array, at: number): void {
  t.fill(0, at, at + 12);
  t[at] = t[at + 5] = t[at + 10] = 1;
}

/**
 * out = parent · (rotation by `angle` about the line through p along unit vector a, then `travel` along a).
 * Point and axis are constants of the joint, stated in the reference position. Angles rad, lengths m.
 * A parent index of −1 means the frame, whose placement is the identity: most shafts of most trains.
 */
export function turnAbout(
  out: Float64Array,
  o: number,
  b: number,
  ax: number,
  ay: number,
  az: number,
  px: number,
  py: number,
  pz: number,
  angle: number,
  travel: number,
): void {
  const c = Math.cos(angle);
  const s = Math.sin(angle);
  const k = 1 - c;
  const m00 = c + ax * ax * k;
  const m11 = c + ay * ay * k;
  const m22 = c + az * az * k;
  const xy = ax * ay * k;
  const yz = ay * az * k;
  const zx = az * ax * k;
  const m01 = xy - az * s;
  const m10 = xy + az * s;
  const m12 = yz - ax * s;
  const m21 = yz + ax * s;
  const m20 = zx - ay * s;
  const m02 = zx + ay * s;
  const tx = px - (m00 * px + m01 * py + m02 * pz) + ax * travel;
  const ty = py - (m10 * px + m11 * py + m12 * pz) + ay * travel;
  const tz = pz - (m20 * px + m21 * py + m22 * pz) + az * travel;
  if (b < 0) {
    out[o] = m00;
    out[o + 1] = m01;
    out[o + 2] = m02;
    out[o + 3] = tx;
    out[o + 4] = m10;
    out[o + 5] = m11;
    out[o + 6] = m12;
    out[o + 7] = ty;
    out[o + 8] = m20;
    out[o + 9] = m21;
    out[o + 10] = m22;
    out[o + 11] = tz;
    return;
  }
  for (let r = 0; r < 12; r += 4) {
    const x = out[b + r];
    const y = out[b + r + 1];
    const z = out[b + r + 2];
    out[o + r] = x * m00 + y * m10 + z * m20;
    out[o + r + 1] = x * m01 + y * m11 + z * m21;
    out[o + r + 2] = x * m02 + y * m12 + z * m22;
    out[o + r + 3] = x * tx + y * ty + z * tz + out[b + r + 3];
  }
}

/** out = parent moved by `travel` along the unit vector a, which is stated in the reference position. */
export function slideAlong(out: Float64Array, o: number, par: Float64Array, b: number, ax: number, ay: number, az: number, travel: number): void {
  for (let r = 0; r < 3; r++) {
    const i = b + 4 * r;
    const j = o + 4 * r;
    out[j] = par[i];
    out[j + 1] = par[i + 1];
    out[j + 2] = par[i + 2];
    out[j + 3] = par[i + 3] + travel * (par[i] * ax + par[i + 1] * ay + par[i + 2] * az);
  }
}

/** out[0..2] = placement applied to a point of the reference position. */
export function movePoint(out: Float64Array, o: number, t: Float64Array, b: number, x: number, y: number, z: number): void {
  for (let r = 0; r < 3; r++) out[o + r] = t[b + 4 * r] * x + t[b + 4 * r + 1] * y + t[b + 4 * r + 2] * z + t[b + 4 * r + 3];
}

/** out[0..2] = placement applied to a direction of the reference position. */
export function moveVector(out: Float64Array, o: number, t: Float64Array, b: number, x: number, y: number, z: number): void {
  for (let r = 0; r < 3; r++) out[o + r] = t[b + 4 * r] * x + t[b + 4 * r + 1] * y + t[b + 4 * r + 2] * z;
}
