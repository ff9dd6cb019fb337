/** Involute function inv α = tan α − α, α in rad (ISO 21771-1:2007, 4.3). */
export const involute = (alpha: number): number => Math.tan(alpha) - alpha;

/**
 * The angle whose involute function is `inv`, rad, for inv ≥ 0 (NaN below). Newton from the usual cube-root start;
 * agrees with the function to rounding in a bounded number of steps.
 */
export function inverseInvolute(inv: number): number {
  if (!(inv >= 0)) return NaN;
  if (inv === 0) return 0;
  let a = inv < 1.8 ? Math.cbrt(3 * inv) / (1 + 0.25 * Math.cbrt(inv) ** 2) : Math.atan(inv + Math.PI / 2);
  for (let i = 0; i < 60; i++) {
    const t = Math.tan(a);
    const step = (t - a - inv) / (t * t);
    a = Math.min(Math.max(a - step, a / 2), (a + Math.PI / 2) / 2);
    if (Math.abs(step) < 1e-15) break;
  }
  return a;
}

/** Transverse pressure angle from the normal one and the helix angle, rad (ISO 21771-1:2007, 4.2). */
export const transverseAngle = (alphaN: number, beta: number): number => Math.atan(Math.tan(alphaN) / Math.cos(beta));
