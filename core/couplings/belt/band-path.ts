/**
 * A wheel of a belt in the belt's plane, mm; side +1 where the belt runs
 * round it inside the loop, −1 where it bears on it from outside or crosses.
 */
export interface BeltWheel {
  x: number;
  y: number;
  r: number;
  side: 1 | -1;
}

/**
 * The run of a belt round its wheels: per wheel the wrap (rad) and
 * the tangent point where it leaves; per strand direction and length.
 */
export interface BeltPath {
  wraps: number[];
  strands: { from: [number, number]; to: [number, number]; direction: [number, number]; length: number }[];
  length: number;
  /** Set where two wheels are too near for the strand between them. */
  impossible?: number;
}

/**
 * Tangents and wraps in closed form. With u the direction of a strand and n its right normal, the belt touches
 * wheel i at c + σ r n, so (cj − ci)·n = σi ri − σj rj. The belt runs counter-clockwise round wheels of side +1.
 */
export function beltPath(wheels: readonly BeltWheel[]): BeltPath {
  const n = wheels.length;
  const strands: BeltPath['strands'] = [];
  let impossible: number | undefined;
  for (let i = 0; i < n; i++) {
    const a = wheels[i],
      b = wheels[(i + 1) % n];
    const dx = b.x - a.x,
      dy = b.y - a.y,
      d = Math.hypot(dx, dy);
    const s = (a.side * a.r - b.side * b.r) / d;
    if (!(Math.abs(s) < 1)) impossible ??= i;
    const phi = Math.asin(Math.max(-1, Math.min(1, Number.isFinite(s) ? s : 1)));
    const e = Math.atan2(dy, dx) + phi;
    const u: [number, number] = [Math.cos(e), Math.sin(e)];
    const normal = [u[1], -u[0]];
    strands.push({
      from: [a.x + a.side * a.r * normal[0], a.y + a.side * a.r * normal[1]],
      to: [b.x + b.side * b.r * normal[0], b.y + b.side * b.r * normal[1]],
      direction: u,
      length: d * Math.cos(phi),
    });
  }
  const wraps = wheels.map((w, i) => {
    const into = strands[(i + n - 1) % n].direction,
      out = strands[i].direction;
    const turn = Math.atan2(into[0] * out[1] - into[1] * out[0], into[0] * out[0] + into[1] * out[1]) * w.side;
    return turn < -1e-9 ? turn + 2 * Math.PI : Math.max(0, turn);
  });
  const length = strands.reduce((s, x) => s + x.length, 0) + wheels.reduce((s, w, i) => s + w.r * wraps[i], 0);
  return { wraps, strands, length, impossible };
}
