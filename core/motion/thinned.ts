/** A curve with as few points as a picture can show. */
export interface Thinned {
  x: Float64Array;
  y: Float64Array;
}

/**
 * Least, greatest, mean and root mean square of a curve over time: by
 * trapezia, so that unevenly recorded instants count by their length.
 */
export interface Figures {
  least: number;
  greatest: number;
  mean: number;
  rms: number;
}

/**
 * Of every stretch of frames the first, the least, the greatest and the last in their
 * order: nothing that stands out is lost. `stretches`: about as many as pixels.
 */
export function thinned(x: ArrayLike<number>, at: (frame: number) => number, frames: number, stretches = 450): Thinned {
  if (frames <= 4 * stretches) {
    const y = Float64Array.from({ length: frames }, (_, f) => at(f));
    return { x: Float64Array.from({ length: frames }, (_, f) => x[f]), y };
  }
  const xs: number[] = [],
    ys: number[] = [];
  for (let k = 0; k < stretches; k++) {
    const from = Math.floor((k * frames) / stretches),
      to = Math.floor(((k + 1) * frames) / stretches) - 1;
    let lo = from,
      hi = from,
      low = at(from),
      high = low;
    for (let f = from + 1; f <= to; f++) {
      const v = at(f);
      if (v < low) {
        low = v;
        lo = f;
      }
      if (v > high) {
        high = v;
        hi = f;
      }
    }
    for (const f of [...new Set([from, Math.min(lo, hi), Math.max(lo, hi), to])]) {
      xs.push(x[f]);
      ys.push(at(f));
    }
  }
  return { x: Float64Array.from(xs), y: Float64Array.from(ys) };
}

/** A curve of one quantity over another, with the time of each point. */
export interface ThinnedOver extends Thinned {
  time: Float64Array;
}

/**
 * A curve of one quantity over another as the run goes through it, with as few points
 * as a picture can show: of every stretch of time what stands out in either is kept.
 */
export function thinnedOver(
  time: ArrayLike<number>,
  x: (frame: number) => number,
  y: (frame: number) => number,
  frames: number,
  stretches = 450,
): ThinnedOver {
  const index = Float64Array.from({ length: frames }, (_, f) => f);
  const kept = new Set([...thinned(index, y, frames, stretches).x, ...thinned(index, x, frames, stretches).x]);
  const list = [...kept].sort((a, b) => a - b);
  return { x: Float64Array.from(list, x), y: Float64Array.from(list, y), time: Float64Array.from(list, (f) => time[f]) };
}

/** Least, greatest, mean and RMS of a series over `x`, by trapezoids. */
export function figuresOf(x: ArrayLike<number>, at: (frame: number) => number, frames: number): Figures {
  let least = Infinity,
    greatest = -Infinity,
    area = 0,
    square = 0;
  let before = at(0);
  for (let f = 0; f < frames; f++) {
    const v = at(f);
    least = Math.min(least, v);
    greatest = Math.max(greatest, v);
    if (f) {
      const dt = x[f] - x[f - 1];
      area += (dt * (v + before)) / 2;
      // The square of a straight line between two instants, exactly.
      square += (dt * (v * v + v * before + before * before)) / 3;
    }
    before = v;
  }
  const span = frames > 1 ? x[frames - 1] - x[0] : 0;
  return { least, greatest, mean: span > 0 ? area / span : before, rms: span > 0 ? Math.sqrt(square / span) : Math.abs(before) };
}
