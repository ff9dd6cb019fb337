/** Motion laws of a cam segment, as shares: progress 0 … 1 of the angle to share 0 … 1 of the rise. */
export const LAWS = [
  'dwell',
  'constant velocity',
  'harmonic',
  'cycloidal',
  'modified sine',
  'modified trapezoid',
  '3-4-5',
  '4-5-6-7',
  'snail drop',
] as const;
export type Law = (typeof LAWS)[number];

/** Share of the rise, and its first and second derivative by progress. */
export type Share = [s: number, v: number, a: number];

const PI = Math.PI;

/** First half of the modified trapezoid: a quarter sine, constant acceleration, a quarter cosine. The second half mirrors it. */
function trapezoidHalf(t: number): Share {
  const A = (8 * PI) / (2 + PI),
    w = 4 * PI;
  if (t <= 1 / 8) return [(A / w) * (t - Math.sin(w * t) / w), (A / w) * (1 - Math.cos(w * t)), A * Math.sin(w * t)];
  const s1 = (A / w) * (1 / 8 - 1 / w),
    v1 = A / w;
  if (t <= 3 / 8) {
    const d = t - 1 / 8;
    return [s1 + v1 * d + (A * d * d) / 2, v1 + A * d, A];
  }
  const d = t - 3 / 8,
    s2 = s1 + v1 / 4 + A / 32,
    v2 = v1 + A / 4;
  return [s2 + v2 * d + (A / (w * w)) * (1 - Math.cos(w * d)), v2 + (A / w) * Math.sin(w * d), A * Math.cos(w * d)];
}

/**
 * A law at progress t of its segment. Source: Norton, Cam Design and Manufacturing Handbook,
 * ch. 2–3; harmonic and cycloidal as in any textbook of mechanisms. The snail drop falls
 * evenly over its angle: a follower that is only pushed falls by itself and waits below.
 */
export function lawAt(law: Law, t: number): Share {
  switch (law) {
    case 'dwell':
      return [0, 0, 0];
    case 'constant velocity':
    case 'snail drop':
      return [t, 1, 0];
    case 'harmonic':
      return [(1 - Math.cos(PI * t)) / 2, (PI / 2) * Math.sin(PI * t), ((PI * PI) / 2) * Math.cos(PI * t)];
    case 'cycloidal':
      return [t - Math.sin(2 * PI * t) / (2 * PI), 1 - Math.cos(2 * PI * t), 2 * PI * Math.sin(2 * PI * t)];
    case 'modified sine': {
      const k = 1 / (4 + PI);
      if (t >= 1 / 8 && t <= 7 / 8) {
        const u = (4 * PI * t + PI) / 3;
        return [k * (2 + PI * t - 2.25 * Math.sin(u)), k * PI * (1 - 3 * Math.cos(u)), k * 4 * PI * PI * Math.sin(u)];
      }
      const w = 4 * PI * t;
      return [k * ((t < 0.5 ? 0 : 4) + PI * t - Math.sin(w) / 4), k * PI * (1 - Math.cos(w)), k * 4 * PI * PI * Math.sin(w)];
    }
    case 'modified trapezoid': {
      if (t <= 0.5) return trapezoidHalf(t);
      const [s, v, a] = trapezoidHalf(1 - t);
      return [1 - s, v, -a];
    }
    case '3-4-5':
      return [t ** 3 * (10 + t * (-15 + 6 * t)), 30 * t * t * (1 + t * (-2 + t)), 60 * t * (1 + t * (-3 + 2 * t))];
    case '4-5-6-7':
      return [
        t ** 4 * (35 + t * (-84 + t * (70 - 20 * t))),
        140 * t ** 3 * (1 + t * (-3 + t * (3 - t))),
        420 * t * t * (1 + t * (-4 + t * (5 - 2 * t))),
      ];
  }
}
