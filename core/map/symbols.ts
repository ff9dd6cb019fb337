import type { MapCoupling, MapMember } from './layout';

/** Half the gap with which a vertical bridges a line that it is not tied to. */
const HOP = 5;

/** A vertical that bridges what it crosses. */
function vertical(x: number, from: number, to: number, crossings: readonly (readonly [number, number])[] = []): string {
  const [a, b] = from < to ? [from, to] : [to, from];
  let d = `M${x} ${a}`;
  for (const [, y] of [...crossings].filter(([cx, cy]) => cx === x && cy > a + HOP && cy < b - HOP).sort((p, q) => p[1] - q[1])) {
    d += `V${y - HOP}a${HOP} ${HOP} 0 0 1 0 ${2 * HOP}`;
  }
  return `${d}V${b}`;
}

/** The hatch of the frame under, or over, a short line. */
export function hatch(x: number, y: number, up: boolean): string {
  const s = up ? -1 : 1;
  let d = `M${x - 11} ${y}h22`;
  for (let k = 0; k < 4; k++) d += `M${x - 9 + 6 * k} ${y}l-4 ${6 * s}`;
  return d;
}

/** The bearing of a shaft in the frame, or the guide of a slide. */
export function bearing(m: MapMember): string {
  if (m.bearing === undefined) return '';
  const half = m.slide ? 11 : 8;
  let d = '';
  for (const s of [-1, 1]) {
    const e = m.y + s * 4;
    d += `M${m.bearing - half} ${e}h${2 * half}`;
    for (let k = 0; k < 4; k++) d += `M${m.bearing - half + 2 + (k * (2 * half - 4)) / 3} ${e}l-3 ${s * 4}`;
  }
  return d;
}

/**
 * A coupling's symbol, after ISO 3952: wheels as bars across their shafts, a rack's teeth, a belt's two runs, a screw's thread, a
 * pin.
 */
export function symbolPath(c: MapCoupling): string {
  const { x, meet, crossings, turned } = c;
  const [farA, farB] = turned ? [c.farB, c.farA] : [c.farA, c.farB];
  const bar = (from: number, to: number, at = x): string => `${vertical(at, from, to, crossings)}M${at - 6} ${from}h12M${at - 6} ${to}h12`;
  if (c.set) return setPath(c, bar);
  const [a, b] = c.touches;
  if (!b) return c.ground ? groundPath(c) : '';
  // From the coupling's own first element to its second, whichever drives.
  const [ya, yb] = turned ? [b.y, a.y] : [a.y, b.y];
  if (ya === yb) return onLine(c, ya);
  const s = Math.sign(yb - ya);
  const ys = c.touches.map((t) => t.y);
  switch (c.type) {
    case 'joint':
    case 'proportional':
      return vertical(x, Math.min(...ys), Math.max(...ys), crossings);
    case 'rack-mesh': {
      let d = `${bar(farA, meet)}M${x - 17} ${yb}`;
      for (let k = 0; k < 6; k++) d += `l2 ${-5 * s}h2l2 ${5 * s}`;
      return d;
    }
    case 'belt':
    case 'chain': {
      const [top, bottom] = [Math.min(...ys), Math.max(...ys)];
      const wheels = ys.map((y) => `M${x - 9} ${y - 12}h18M${x - 9} ${y + 12}h18M${x} ${y - 12}v24`).join('');
      const run = (at: number): string =>
        vertical(
          at,
          top,
          bottom,
          crossings.map(([, y]) => [at, y] as const),
        );
      return wheels + run(x - 7) + run(x + 7);
    }
    case 'rope':
      // The drum between its flanges, the rope down to a hook.
      return `M${x - 12} ${ya - 9}v18M${x + 12} ${ya - 9}v18M${x - 12} ${ya - 5}h24M${x - 12} ${ya + 5}h24${vertical(x, ya + 5 * s, yb - 8 * s, crossings)}M${x} ${yb - 8 * s}v${3 * s}a4 4 0 1 ${s > 0 ? 1 : 0} -4 ${4 * s}`;
    case 'cam-contact':
      return `M${x - 11} ${ya}a11 11 0 1 1 22 0c0 ${9 * s} -6 ${10 * s} -11 ${16 * s}c-5 ${-6 * s} -11 ${-7 * s} -11 ${-16 * s}${vertical(x, ya + 18 * s, yb, crossings)}M${x - 7} ${ya + 18 * s}h14`;
    case 'ratchet':
    case 'one-way-clutch':
      return `M${x - 8} ${ya}h16M${x - 8} ${yb}h16${vertical(x, ya, yb, crossings)}M${x - 6} ${yb - 14 * s}l6 ${10 * s}l6 ${-10 * s}Z`;
    case 'screw-drive': {
      const [top, bottom] = [ya + 10 * s, yb - 10 * s];
      const step = (bottom - top) / 6;
      let d = `M${x} ${ya}V${top}`;
      for (let k = 0; k < 6; k++) d += `L${x + (k % 2 ? -7 : 7)} ${top + (k + 0.5) * step}`;
      return `${d}L${x} ${bottom}V${yb}`;
    }
    case 'worm-drive': {
      // The worm's thread across its shaft, the wheel as a bar.
      let d = `${bar(meet + 3 * s, farB)}M${x - 14} ${ya - 7}h28v14h-28Z`;
      for (let k = 0; k < 3; k++) d += `M${x - 12 + 9 * k} ${ya + 7}l6 -14`;
      return d;
    }
    case 'bevel-pair':
      return `M${x - 10} ${ya - 10}l10 ${10 + (meet - ya) * 0}M${x - 10} ${ya + 10 * s}L${x} ${meet}${vertical(x, meet, yb, crossings)}M${x - 10} ${ya - 10}V${ya + 10}M${x - 9} ${yb}h18L${x} ${meet}Z`;
    default:
      return `${bar(farA, meet)}${bar(meet + 3 * s, farB)}`;
  }
}

/** A coupling to the frame: a stub with its symbol, and the ground over it. */
function groundPath(c: MapCoupling): string {
  const { x, ground } = c;
  const [{ y }] = c.touches;
  const top = ground!.y;
  switch (c.type) {
    case 'ratchet':
    case 'one-way-clutch':
      return `M${x - 5} ${y - 9}v18M${x + 5} ${y - 9}v18M${x - 5} ${y - 9}l5 -7l5 7M${x} ${y - 16}V${top}${hatch(x, top, true)}`;
    case 'rack-mesh': {
      let d = `M${x - 6} ${y + 12}h12M${x} ${y + 12}V${top + 7}M${x - 18} ${top}`;
      for (let k = 0; k < 6; k++) d += `l2 6h2l2 -6`;
      return d + hatch(x, top, true);
    }
    case 'proportional':
      return `M${x} ${y}V${top}${hatch(x, top, true)}`;
    default:
      return `M${x - 6} ${y + 12}h12M${x} ${y + 12}V${top + 4}M${x - 7} ${top + 4}h14M${x} ${top}v4${hatch(x, top, true)}`;
  }
}

/** What ties two members on one line: drawn on it. */
function onLine(c: MapCoupling, y: number): string {
  const { x } = c;
  if (c.type === 'one-way-clutch' || c.type === 'ratchet') return `M${x - 6} ${y - 12}v24M${x + 6} ${y - 12}v24M${x - 6} ${y - 6}l12 6l-12 6Z`;
  return `M${x - 4} ${y - 9}v18M${x + 4} ${y - 9}v18`;
}

/** A planetary set: planets over the axis on their pin, suns under them, rings over them. */
function setPath(c: MapCoupling, bar: (from: number, to: number, at?: number) => string): string {
  const { verticals, pin } = c.set!;
  let d = vertical(pin.x, pin.from, pin.to, c.crossings);
  for (const v of verticals) {
    const s = Math.sign(v.to - v.from) || 1;
    const half = Math.abs(v.meet - v.from);
    d += bar(v.from - s * Math.min(half, 24), v.meet, v.x);
    if (v.held) {
      // A ring, or a wheel, that the frame holds.
      d += `M${v.x - 8} ${v.meet - 3}h16M${v.x} ${v.meet - 3}V${v.to + 4}${hatch(v.x, v.to + 4, true)}`;
    } else if (v.ring) d += `M${v.x - 9} ${v.meet + 3 * s}h18${vertical(v.x, v.meet + 3 * s, v.to, c.crossings)}`;
    else d += bar(v.meet + 3 * s, v.to + s * Math.min(Math.abs(v.to - v.meet), 20), v.x);
  }
  return d;
}
