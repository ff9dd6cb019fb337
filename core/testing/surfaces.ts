import type { Mesh } from '../solids/index';

/** What a closed surface holds, mm³ (divergence theorem); negative where it looks inward. */
export function meshVolume({ points: p, triangles: t }: Mesh): number {
  let v = 0;
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
    v +=
      p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) +
      p[a + 1] * (p[b + 2] * p[c] - p[b] * p[c + 2]) +
      p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c]);
  }
  return v / 6;
}

/** Edges that do not have exactly one triangle on either side: none on a closed surface. */
export function openEdges({ triangles: t }: Mesh): number {
  const seen = new Map<string, number>();
  for (let i = 0; i < t.length; i += 3) {
    for (const [a, b] of [
      [t[i], t[i + 1]],
      [t[i + 1], t[i + 2]],
      [t[i + 2], t[i]],
    ]) {
      const key = a < b ? `${a} ${b}` : `${b} ${a}`;
      seen.set(key, (seen.get(key) ?? 0) + (a < b ? 1 : 1_000_000));
    }
  }
  return [...seen.values()].filter((n) => n !== 1_000_001).length;
}
