/** A chart as a drawing: curves of one unit over one abscissa. */
export interface ChartCurve {
  label: string;
  xs: ArrayLike<number>;
  ys: ArrayLike<number>;
}
export interface ChartOptions {
  xLabel: string;
  yLabel: string;
  curves: readonly ChartCurve[];
  /** Places on the abscissa that are marked, in order. */
  marks?: readonly number[];
}

const [W, H] = [520, 190];
const [LEFT, RIGHT, TOP, BOTTOM] = [58, 12, 10, 32];
/** Told apart by colour and by how they are broken. */
const STROKES: readonly (readonly [colour: string, dash: string])[] = [
  ['#26272b', ''],
  ['#8a5a00', '6 3'],
  ['#1f6f5c', '2 2'],
  ['#6a3d8f', '8 3 2 3'],
  ['#a03a23', '4 4'],
  ['#2b5f8a', '10 4'],
];
/** Points of a curve that are drawn at most. */
const MOST = 600;

/** Round steps that divide a range in about `n`; the range widened to them. */
export function ticksOf(least: number, most: number, n = 5): { from: number; to: number; ticks: number[] } {
  let [a, b] = [least, most];
  if (!(b > a)) {
    const pad = Math.abs(a) > 0 ? Math.abs(a) / 2 : 1;
    [a, b] = [a - pad, b + pad];
  }
  const raw = (b - a) / n;
  const decade = 10 ** Math.floor(Math.log10(raw));
  const step = decade * [1, 2, 5, 10].find((k) => k * decade >= raw * (1 - 1e-9))!;
  const [first, last] = [Math.floor(a / step + 1e-9), Math.ceil(b / step - 1e-9)];
  const ticks = Array.from({ length: last - first + 1 }, (_, k) => Number(((first + k) * step).toPrecision(12)));
  return { from: ticks[0], to: ticks[ticks.length - 1], ticks };
}

const escaped = (s: string): string => s.replace(/[&<>]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;' })[c]!);
const tick = (x: number): string => String(x).replace('-', '−');
const text = (x: number, y: number, s: string, anchor: string, more = ''): string =>
  `<text x="${x.toFixed(1)}" y="${y.toFixed(1)}" text-anchor="${anchor}"${more}>${escaped(s)}</text>`;

/** Least and greatest of all curves where they have a value; undefined where none has. */
function rangeOf(curves: readonly ChartCurve[], of: 'xs' | 'ys'): [number, number] | undefined {
  let [least, most] = [Infinity, -Infinity];
  for (const c of curves) {
    for (let i = 0; i < c[of].length; i++) {
      const v = c[of][i];
      if (Number.isFinite(v)) [least, most] = [Math.min(least, v), Math.max(most, v)];
    }
  }
  if (least > most) return undefined;
  // What differs by rounding alone is one value.
  const size = Math.max(Math.abs(least), Math.abs(most));
  return most - least < 1e-9 * size ? [(least + most) / 2, (least + most) / 2] : [least, most];
}

/**
 * The points of a curve, least and greatest of each interval where there are more than can be seen; a gap where it has no
 * value.
 */
function pathOf({ xs, ys }: ChartCurve, x: (v: number) => number, y: (v: number) => number): string {
  const n = Math.min(xs.length, ys.length);
  const each = Math.max(1, Math.ceil(n / (MOST / 2)));
  let d = '';
  let pen = 'M';
  const put = (i: number): void => {
    if (!Number.isFinite(ys[i]) || !Number.isFinite(xs[i])) {
      pen = 'M';
      return;
    }
    d += `${pen}${x(xs[i]).toFixed(1)} ${y(ys[i]).toFixed(1)}`;
    pen = 'L';
  };
  if (each === 1) for (let i = 0; i < n; i++) put(i);
  else {
    for (let i = 0; i < n; i += each) {
      let [low, high] = [i, i];
      for (let k = i; k < Math.min(n, i + each); k++) {
        if (ys[k] < ys[low]) low = k;
        if (ys[k] > ys[high]) high = k;
      }
      put(Math.min(low, high));
      if (low !== high) put(Math.max(low, high));
    }
    put(n - 1);
  }
  return d;
}

/** Draws a chart; undefined where no curve has a value. */
export function chartSvg({ xLabel, yLabel, curves, marks = [] }: ChartOptions): { svg: string; width: number; height: number } | undefined {
  const [xr, yr] = [rangeOf(curves, 'xs'), rangeOf(curves, 'ys')];
  if (!xr || !yr) return undefined;
  // Zero belongs to the picture where the values stand on one side of it and not far off.
  const [low, high] = [Math.min(yr[0], 0), Math.max(yr[1], 0)];
  const near = high - low < 4 * (yr[1] - yr[0]) || yr[0] === yr[1];
  const [xt, yt] = [ticksOf(...xr), near ? ticksOf(low, high, 4) : ticksOf(...yr, 4)];
  // The curves fill the width: only the ticks that stand in it are drawn.
  const [x0, x1] = xr[0] < xr[1] ? xr : [xt.from, xt.to];
  const x = (v: number): number => LEFT + ((v - x0) / (x1 - x0)) * (W - LEFT - RIGHT);
  const y = (v: number): number => H - BOTTOM - ((v - yt.from) / (yt.to - yt.from)) * (H - TOP - BOTTOM);
  const height = H + 14 * Math.ceil(curves.length / 2);
  let out = '';
  for (const t of yt.ticks) {
    out += `<path d="M${LEFT} ${y(t).toFixed(1)}H${W - RIGHT}" stroke="${t === 0 ? '#5a564c' : '#d8d0bd'}" stroke-width="0.6"/>`;
    out += text(LEFT - 5, y(t) + 3.5, tick(t), 'end');
  }
  for (const t of xt.ticks.filter((v) => v >= x0 - 1e-9 * Math.abs(x1 - x0) && v <= x1 + 1e-9 * Math.abs(x1 - x0))) {
    out += `<path d="M${x(t).toFixed(1)} ${TOP}V${H - BOTTOM}" stroke="#d8d0bd" stroke-width="0.6"/>`;
    out += text(x(t), H - BOTTOM + 12, tick(t), 'middle');
  }
  marks.forEach((at, k) => {
    if (at < x0 || at > x1) return;
    out += `<path d="M${x(at).toFixed(1)} ${TOP}V${H - BOTTOM}" stroke="#a03a23" stroke-width="0.7" stroke-dasharray="3 2"/>`;
    out += text(x(at) + 2, TOP + 8, String(k + 1), 'start', ' fill="#a03a23"');
  });
  out += `<path d="M${LEFT} ${TOP}V${H - BOTTOM}H${W - RIGHT}" fill="none" stroke="#26272b" stroke-width="0.8"/>`;
  curves.forEach((c, k) => {
    const [colour, dash] = STROKES[k % STROKES.length];
    out += `<path d="${pathOf(c, x, y)}" fill="none" stroke="${colour}" stroke-width="1.3"${dash && ` stroke-dasharray="${dash}"`}/>`;
    const [lx, ly] = [LEFT + (k % 2) * ((W - LEFT) / 2), H + 6 + 14 * Math.floor(k / 2)];
    out += `<path d="M${lx} ${ly - 3}h24" stroke="${colour}" stroke-width="1.6"${dash && ` stroke-dasharray="${dash}"`}/>${text(lx + 30, ly, c.label, 'start')}`;
  });
  out += text(W - RIGHT, H - 6, xLabel, 'end') + text(LEFT, H - 6, yLabel, 'start', ' font-weight="bold"');
  const svg =
    `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 ${W} ${height}" width="${W}" height="${height}" ` +
    `font-family="IBM Plex Sans Condensed" font-size="10" fill="#26272b">${out}</svg>`;
  return { svg, width: W, height };
}
