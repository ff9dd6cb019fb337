import { type Along, type Outline, type Piece, type Point, TRUE_TO, along, arc, line, outline, turned } from '../solids/index';
import { GearData, halfToothAt } from './gear-data';

/** How many points a flank, a fillet and a tip take. */
export interface Detail {
  flank: number;
  fillet: number;
}
export const FINE: Detail = { flank: 10, fillet: 6 };
export const COARSE: Detail = { flank: 3, fillet: 2 };

/**
 * A place of a tooth's side by its polar coordinates about the wheel's axis, the angle from the middle of the space; with
 * derivatives.
 */
interface Polar {
  r: number;
  a: number;
  dr: number;
  da: number;
}

/** A part of a side as a curve of a parameter between two values. */
interface Part {
  at(t: number): Polar;
  from: number;
  to: number;
  /** The parameter at a share of it where it is drawn by points; evenly spread where not stated. */
  share?(of: number): number;
}

/** One side of a tooth space from its middle at the root to the tip. */
interface Side {
  fillet: Part;
  flank: Part;
  undercut: boolean;
}

/** The involute (or an internal gear's) by its roll angle: r = rb √(1 + t²), inv α = t − atan t. */
function involutePart(g: GearData, from: number, to: number): Part {
  const { baseRadius: rb } = g;
  const roll = (r: number): number => Math.sqrt(Math.max(0, (r / rb) ** 2 - 1));
  const sense = g.internal ? -1 : 1;
  return {
    at: (t) => {
      const k = Math.hypot(1, t);
      return { r: rb * k, a: Math.PI / g.teeth - halfToothAt(g, rb * k), dr: (rb * t) / k, da: (sense * t * t) / (k * k) };
    },
    from: roll(from),
    to: roll(to),
    // An external flank has even chord errors by even steps of roll angle; a hollow one is drawn by even steps of the radius.
    ...(g.internal && { share: (of: number) => roll(from + (to - from) * of) }),
  };
}

/**
 * Side of the space of an external gear as a rack cutter leaves it: the trochoid of the cutter's
 * rounded corner, then the involute. The corner's centre runs past the pitch point I; where the
 * cutter touches, the common normal goes through I, so the point lies on the line from I through the
 * corner's centre (Litvin, Gear Geometry and Applied Theory: envelope by the law of gearing). The
 * parameter is the angle of that line to the radius, from 0 at the root to 90° − α at the flank.
 */
function externalSide(g: GearData): Side {
  const { pitchRadius: r, baseRadius: rb, tipRadius: ra, alphaT, moduleT, module: m, teeth: z } = g;
  const tan = Math.tan(alphaT);
  const halfCutter = (Math.PI * moduleT) / 4 + g.thinning / Math.cos(g.beta) / 2;
  const reach = g.dedendum * m;
  // A corner too round for the cutter's tip is replaced by the full radius that fits.
  const room = (halfCutter - reach * tan) / ((1 - Math.sin(alphaT)) / Math.cos(alphaT));
  const rho = Math.max(0, Math.min(g.fillet * m, room));
  const hc = reach - rho;
  const xc = Math.max(0, halfCutter - hc * tan - rho / Math.cos(alphaT));
  const depth = hc - g.shift * m;
  const trochoid = (psi: number): Polar => {
    const [s, c] = [Math.sin(psi), Math.cos(psi)];
    const X = (depth * s) / c,
      dX = depth / (c * c);
    const [px, py] = [X + rho * s, r - depth - rho * c],
      [dpx, dpy] = [dX + rho * c, rho * s];
    const R = Math.hypot(px, py);
    return { r: R, a: Math.atan2(px, py) - (X - xc) / r, dr: (px * dpx + py * dpy) / R, da: (dpx * py - px * dpy) / (R * R) - dX / r };
  };
  const spaceAt = (ry: number): number => Math.PI / z - halfToothAt(g, ry);
  let end = Math.PI / 2 - alphaT;
  const undercut = depth + rho * Math.sin(alphaT) > r * Math.sin(alphaT) ** 2 + 1e-12;
  if (undercut) {
    // The corner cuts into the involute: the first place where the trochoid's space is narrower than the involute's.
    const out = (psi: number): number => {
      const p = trochoid(psi);
      return p.r <= rb ? -1 : spaceAt(p.r) - p.a;
    };
    const steps = 200,
      last = end;
    for (let i = 1; i <= steps; i++) {
      const psi = (last * i) / steps;
      if (trochoid(psi).r > rb && out(psi) >= 0) {
        let lo = (last * (i - 1)) / steps,
          hi = psi;
        for (let k = 0; k < 50; k++) {
          const mid = (lo + hi) / 2;
          if (out(mid) >= 0) hi = mid;
          else lo = mid;
        }
        end = hi;
        break;
      }
    }
  }
  const start = Math.max(rb, trochoid(end).r);
  // By points in even steps of the cutter's way: the fillet is longest where it meets the flank.
  const share = (of: number): number => Math.atan(of * Math.tan(end));
  return { fillet: { at: trochoid, from: 0, to: end, share }, flank: involutePart(g, start, Math.max(start, pointedTip(g, ra))), undercut };
}

/** The tip radius, or the radius at which the two flanks meet where that comes first. */
export function pointedTip(g: GearData, ra: number): number {
  if (g.internal || halfToothAt(g, ra) >= 0) return ra;
  let lo = g.pitchRadius,
    hi = ra;
  for (let i = 0; i < 60; i++) {
    const mid = (lo + hi) / 2;
    if (halfToothAt(g, mid) >= 0) lo = mid;
    else hi = mid;
  }
  return lo;
}

/** Radius at which the blend to the root of an internal gear begins. */
const internalJoin = (g: GearData): number =>
  g.rootRadius - Math.min(g.fillet * g.module, (g.rootRadius - Math.max(g.tipRadius, g.baseRadius * 1.0000001)) * 0.3);

/**
 * Side of the space of an internal gear, from the root outside
 * to the tip circle inside; the root corner is an arc-like blend.
 */
function internalSide(g: GearData): Side {
  const { rootRadius: rf, tipRadius, baseRadius: rb } = g;
  const join = internalJoin(g);
  const rho = rf - join;
  const a1 = Math.PI / g.teeth - halfToothAt(g, join);
  const round = Math.min(a1 * rf, rho) / rf;
  const blend = (t: number): Polar => ({
    r: join + rho * Math.cos(t),
    a: a1 - round * (1 - Math.sin(t)),
    dr: -rho * Math.sin(t),
    da: round * Math.cos(t),
  });
  return {
    fillet: { at: blend, from: 0, to: Math.PI / 2 },
    flank: involutePart(g, join, Math.max(tipRadius, rb * 1.0000001)),
    undercut: false,
  };
}

const sideOf = (g: GearData): Side => (g.internal ? internalSide(g) : externalSide(g));

/** Points of a side from the root to the tip. */
function sampled(side: Side, d: Detail): Polar[] {
  const on = (p: Part, share: number): Polar => p.at(p.share?.(share) ?? p.from + (p.to - p.from) * share);
  return [
    ...Array.from({ length: d.fillet + 1 }, (_, i) => on(side.fillet, i / d.fillet)),
    ...Array.from({ length: d.flank }, (_, i) => on(side.flank, (i + 1) / d.flank)),
  ];
}

/** Is the gear undercut by the rack cutter that makes it? */
export const isUndercut = (g: GearData): boolean => !g.internal && externalSide(g).undercut;

const endOf = (p: Part): Polar => p.at(p.to);

/** Radius at which the involute begins, mm. */
export function formRadius(g: GearData): number {
  const had = forms.get(g);
  if (had !== undefined) return had;
  const form = g.internal ? internalJoin(g) : Math.max(g.baseRadius, endOf(externalSide(g).fillet).r);
  forms.set(g, form);
  return form;
}
/** Gear data never change; the cut is worked out once. */
const forms = new WeakMap<GearData, number>();

/**
 * The whole outline of a gear in its transverse section, counter-clockwise, x0, y0, x1, y1 … in mm, with a tooth centred on +x
 * turned by `phase` rad. For an internal gear this is the curve of the hole.
 */
export function gearOutline(g: GearData, phase = 0, detail: Detail = FINE): number[] {
  const side = sampled(sideOf(g), detail);
  const n = side.length;
  const out: number[] = [];
  const tau = (2 * Math.PI) / g.teeth;
  const put = (r: number, a: number): void => void out.push(r * Math.cos(a), r * Math.sin(a));
  for (let k = 0; k < g.teeth; k++) {
    const space = phase + tau * (k + 0.5);
    for (let i = n - 1; i > 0; i--) put(side[i].r, space - side[i].a);
    if (side[0].a > 1e-9) put(side[0].r, space - side[0].a);
    for (let i = 0; i < n; i++) put(side[i].r, space + side[i].a);
  }
  return out;
}

/** A curve passes no further than this from the true one, mm: of a large module a millionth. */
const trueTo = (g: GearData): number => Math.max(TRUE_TO, 1e-6 * g.module);

/** Where the middle of a space lies for a tooth's sides: at angle 0; the side runs to either hand of it. */
const sideCurve =
  (part: Part, hand: 1 | -1, space: number) =>
  (t: number): Along => {
    const p = part.at(t);
    const a = space + hand * p.a;
    const [c, s] = [Math.cos(a), Math.sin(a)];
    return { at: [p.r * c, p.r * s], slope: [p.dr * c - p.r * s * hand * p.da, p.dr * s + p.r * c * hand * p.da] };
  };

/** Pieces of one tooth centred on +x, from the root of its clockwise side over its tip to the root of the other. */
function toothPieces(side: Side, half: number, tolerance: number): { start: Point; pieces: Piece[]; root: number } {
  const up = sideCurve(side.fillet, 1, -half),
    rise = sideCurve(side.flank, 1, -half),
    fall = sideCurve(side.flank, -1, half),
    down = sideCurve(side.fillet, -1, half);
  // A part that goes more than half round is no tooth (findings say so): it is drawn straight.
  const drawn = (part: Part, curve: (t: number) => Along, from: number, to: number): Piece[] => {
    if (!(Math.abs(to - from) > 1e-12)) return [];
    return Math.abs(part.at(to).a - part.at(from).a) < Math.PI ? along(curve, from, to, tolerance) : [line(curve(to).at)];
  };
  const { fillet, flank } = side;
  const tip = half - flank.at(flank.to).a;
  const pieces = [
    ...drawn(fillet, up, fillet.from, fillet.to),
    // From where an undercut ends below the base circle to where the involute begins.
    ...joined(up(fillet.to).at, rise(flank.from).at),
    ...drawn(flank, rise, flank.from, flank.to),
    ...(tip > 1e-9 && tip <= half ? [arc(rise(flank.to).at, [0, 0], 2 * tip)] : joined(rise(flank.to).at, fall(flank.to).at)),
    ...drawn(flank, fall, flank.to, flank.from),
    ...joined(fall(flank.from).at, down(fillet.to).at),
    ...drawn(fillet, down, fillet.to, fillet.from),
  ];
  return { start: up(side.fillet.from).at, pieces, root: Math.min(half, fillet.at(fillet.from).a) };
}

const joined = (a: Point, b: Point): Piece[] => (Math.hypot(a[0] - b[0], a[1] - b[1]) > 1e-9 ? [line(b)] : []);

/**
 * Teeth one after the other, the first centred on `phase`: from the root of the first to the root of the last, root arcs
 * between.
 */
function teethPieces(g: GearData, phase: number, count: number): { start: Point; pieces: Piece[]; root: number } {
  const half = Math.PI / g.teeth;
  const one = toothPieces(sideOf(g), half, trueTo(g));
  const pieces: Piece[] = [];
  let start: Point = one.start;
  for (let k = 0; k < count; k++) {
    const tooth = turned(one, phase + 2 * half * k);
    if (k === 0) start = tooth.start;
    else if (one.root > 1e-9) pieces.push(arc(pieces[pieces.length - 1].to, [0, 0], 2 * one.root));
    pieces.push(...tooth.pieces);
  }
  return { start, pieces, root: one.root };
}

/**
 * The outline of a gear as a true curve, counter-clockwise, mm: arcs at tips and roots, and cubic pieces within a third of
 * a micrometre of involute and trochoid. A tooth is centred on +x turned by `phase` rad. For an internal gear this is
 * the curve of the hole.
 */
export function gearCurve(g: GearData, phase = 0): Outline {
  const { start, pieces, root } = teethPieces(g, phase, g.teeth);
  const end = pieces[pieces.length - 1].to;
  return closed(start, root > 1e-9 ? [...pieces, arc(end, [0, 0], 2 * root)] : pieces);
}

/** An outline whose last piece ends exactly where it begins: what is off by rounding is taken to its start. */
function closed(start: Point, pieces: Piece[]): Outline {
  pieces[pieces.length - 1] = { ...pieces[pieces.length - 1], to: start };
  return { start, pieces };
}

/**
 * Some teeth of a gear as an open curve, from the middle of the space before the first to the middle of that behind the
 * last.
 */
export function teethCurve(g: GearData, phase: number, count: number): { start: Point; pieces: Piece[] } {
  const { start, pieces, root } = teethPieces(g, phase, count);
  if (!(root > 1e-9)) return { start, pieces };
  const first = turned({ start, pieces: [] }, -root).start;
  return { start: first, pieces: [arc(first, [0, 0], root), ...pieces, arc(pieces[pieces.length - 1].to, [0, 0], root)] };
}

/**
 * Whether the two sides of a tooth space cross: the side's angle from the
 * middle of the space is then negative, or beyond the middle of the tooth.
 */
export function outlineCrosses(g: GearData): boolean {
  const half = Math.PI / g.teeth;
  return sampled(sideOf(g), COARSE).some(({ a }) => a < -1e-9 || a > half + 1e-9);
}

/** What is given of a rack: mm and rad. */
export interface RackGiven {
  module: number;
  alpha: number;
  beta: number;
  teeth: number;
  addendum: number;
  dedendum: number;
  fillet: number;
  /** From the reference line to the back. */
  height: number;
}

/**
 * Sizes of a rack's tooth in its transverse section, mm and rad: a tooth centred on 0, and the corner at the root of its
 * flank.
 */
function rackTooth(k: RackGiven): { pitch: number; alphaT: number; tip: number; rho: number; corner: number; ha: number; hf: number } {
  const p = (Math.PI * k.module) / Math.cos(k.beta);
  const tan = Math.tan(k.alpha) / Math.cos(k.beta);
  const alphaT = Math.atan(tan);
  const ha = k.addendum * k.module,
    hf = k.dedendum * k.module;
  const room = (p / 4 - hf * tan) / ((1 - Math.sin(alphaT)) / Math.cos(alphaT));
  const rho = Math.max(0, Math.min(k.fillet * k.module, room));
  return { pitch: p, alphaT, tip: p / 4 - ha * tan, rho, corner: p / 4 + (hf - rho) * tan + rho / Math.cos(alphaT), ha, hf };
}

/**
 * Outline of a rack in its transverse section: the reference line on the x axis, teeth towards +y, a tooth centred on x = phase,
 * teeth spread evenly to both sides of the origin; counter-clockwise, mm.
 */
export function rackOutline(k: RackGiven, phase = 0, detail: Detail = FINE): number[] {
  const { pitch: p, alphaT, tip, rho, corner, ha, hf } = rackTooth(k);
  const first = -Math.floor(k.teeth / 2);
  const out: number[] = [];
  // Right half of a tooth from the tip down to the middle of the space, mirrored for the left half.
  const right: [number, number][] = [[tip, ha]];
  for (let i = 0; i <= detail.fillet; i++) {
    const t = alphaT + ((Math.PI / 2 - alphaT) * i) / detail.fillet;
    right.push([corner - rho * Math.cos(t), -hf + rho - rho * Math.sin(t)]);
  }
  const x0 = phase + (first - 0.5) * p,
    x1 = phase + (first + k.teeth - 0.5) * p;
  const blunt = p / 2 - corner > 1e-9;
  out.push(x0, -k.height, x1, -k.height, ...(blunt ? [x1, -hf] : []));
  for (let n = k.teeth - 1; n >= 0; n--) {
    const c = phase + (first + n) * p;
    for (let i = right.length - 1; i >= 0; i--) out.push(c + right[i][0], right[i][1]);
    for (const [x, y] of right) out.push(c - x, y);
  }
  if (blunt) out.push(x0, -hf);
  return out;
}

/** The same outline as a true curve: straight flanks, tips and roots, arcs in the corners. It begins along the back. */
export function rackCurve(k: RackGiven, phase = 0): Outline {
  const { pitch: p, alphaT, tip, rho, corner, ha, hf } = rackTooth(k);
  const first = -Math.floor(k.teeth / 2);
  const x0 = phase + (first - 0.5) * p,
    x1 = phase + (first + k.teeth - 0.5) * p;
  const pieces: Piece[] = [line([x1, -k.height]), line([x1, -hf])];
  const angle = Math.PI / 2 - alphaT;
  const to = (x: number, y: number): void => {
    const last = pieces[pieces.length - 1].to;
    if (Math.hypot(last[0] - x, last[1] - y) > 1e-9) pieces.push(line([x, y]));
  };
  for (let n = k.teeth - 1; n >= 0; n--) {
    const c = phase + (first + n) * p;
    to(c + corner, -hf);
    if (rho > 0) pieces.push(arc([c + corner, -hf], [c + corner, -hf + rho], -angle));
    to(c + tip, ha);
    to(c - tip, ha);
    const foot: Point = [c - corner + rho * Math.cos(alphaT), -hf + rho - rho * Math.sin(alphaT)];
    to(...foot);
    if (rho > 0) pieces.push(arc(foot, [c - corner, -hf + rho], -angle));
  }
  to(x0, -hf);
  return outline([x0, -k.height], pieces);
}
