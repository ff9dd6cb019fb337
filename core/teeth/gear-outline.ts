import { GearData, halfToothAt } from './gear-data';

/** How many points a flank, a fillet and a tip take. */
export interface Detail {
  flank: number;
  fillet: number;
}
export const FINE: Detail = { flank: 10, fillet: 6 };
export const COARSE: Detail = { flank: 3, fillet: 2 };

/** One side of a tooth space from its middle at the root out to the tip: radius and angle from the middle of the space. */
interface Side {
  radius: number[];
  angle: number[];
  undercut: boolean;
}

/**
 * Side of the space of an external gear as a rack cutter leaves it: the trochoid of the cutter's
 * rounded corner, then the involute. The corner's centre runs past the pitch point I; where the
 * cutter touches, the common normal goes through I, so the point lies beyond the corner's centre
 * on the line from I (Litvin, Gear Geometry and Applied Theory: envelope by the law of gearing).
 */
function externalSide(g: GearData, d: Detail): Side {
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
  const trochoid = (phi: number): [number, number] => {
    const X = xc + r * phi;
    const len = Math.hypot(X, depth) || 1;
    const px = X + (rho * X) / len,
      py = r - depth - (rho * depth) / len;
    return [Math.hypot(px, py), Math.atan2(px, py) - phi];
  };
  const spaceAt = (ry: number): number => Math.PI / z - halfToothAt(g, ry);
  const phi0 = -xc / r;
  let phi1 = (Math.max(depth, 1e-9 * m) / tan - xc) / r;
  const undercut = depth + rho * Math.sin(alphaT) > r * Math.sin(alphaT) ** 2 + 1e-12;
  if (undercut) {
    // The corner cuts into the involute: the first place where the trochoid's space is narrower than the involute's.
    const out = (phi: number): number => {
      const [ry, a] = trochoid(phi);
      return ry <= rb ? -1 : spaceAt(ry) - a;
    };
    const steps = 200;
    for (let i = 1; i <= steps; i++) {
      const phi = phi0 + ((phi1 - phi0) * i) / steps;
      if (trochoid(phi)[0] > rb && out(phi) >= 0) {
        let lo = phi0 + ((phi1 - phi0) * (i - 1)) / steps,
          hi = phi;
        for (let k = 0; k < 50; k++) {
          const mid = (lo + hi) / 2;
          if (out(mid) >= 0) hi = mid;
          else lo = mid;
        }
        phi1 = hi;
        break;
      }
    }
  }
  const radius: number[] = [],
    angle: number[] = [];
  for (let i = 0; i <= d.fillet; i++) {
    const [ry, a] = trochoid(phi0 + ((phi1 - phi0) * i) / d.fillet);
    radius.push(ry);
    angle.push(a);
  }
  const start = Math.max(rb, radius[radius.length - 1]);
  const tip = Math.max(start, pointedTip(g, ra));
  // Even steps of roll angle give even chord errors along the involute.
  const roll = (ry: number): number => Math.sqrt(Math.max(0, (ry / rb) ** 2 - 1));
  const t0 = roll(start),
    t1 = roll(tip);
  for (let i = 1; i <= d.flank; i++) {
    const ry = rb * Math.hypot(1, t0 + ((t1 - t0) * i) / d.flank);
    radius.push(ry);
    angle.push(spaceAt(ry));
  }
  return { radius, angle, undercut };
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
 * Side of the space of an internal gear, from the tip circle inside
 * to the root outside; the root corner is an arc-like blend.
 */
function internalSide(g: GearData, d: Detail): Side {
  const { rootRadius: rf, tipRadius, baseRadius: rb, teeth: z } = g;
  const ra = Math.max(tipRadius, rb * 1.0000001);
  const spaceAt = (ry: number): number => Math.PI / z - halfToothAt(g, ry);
  const join = internalJoin(g);
  const rho = rf - join;
  const radius: number[] = [],
    angle: number[] = [];
  const a1 = spaceAt(join);
  const round = Math.min(a1 * rf, rho);
  for (let i = 0; i <= d.fillet; i++) {
    const t = (i / d.fillet) * (Math.PI / 2);
    radius.push(join + rho * Math.cos(t));
    angle.push(a1 - (round / rf) * (1 - Math.sin(t)));
  }
  for (let i = 1; i <= d.flank; i++) {
    const ry = join + ((ra - join) * i) / d.flank;
    radius.push(ry);
    angle.push(spaceAt(ry));
  }
  return { radius, angle, undercut: false };
}

/** Is the gear undercut by the rack cutter that makes it? */
export const isUndercut = (g: GearData): boolean => !g.internal && externalSide(g, COARSE).undercut;

/** Radius at which the involute begins, mm. */
export function formRadius(g: GearData): number {
  const had = forms.get(g);
  if (had !== undefined) return had;
  const form = g.internal ? internalJoin(g) : Math.max(g.baseRadius, externalSide(g, FINE).radius[FINE.fillet]);
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
  const side = g.internal ? internalSide(g, detail) : externalSide(g, detail);
  const n = side.radius.length;
  const out: number[] = [];
  const tau = (2 * Math.PI) / g.teeth;
  const put = (r: number, a: number): void => void out.push(r * Math.cos(a), r * Math.sin(a));
  for (let k = 0; k < g.teeth; k++) {
    const space = phase + tau * (k + 0.5);
    for (let i = n - 1; i > 0; i--) put(side.radius[i], space - side.angle[i]);
    if (side.angle[0] > 1e-9) put(side.radius[0], space - side.angle[0]);
    for (let i = 0; i < n; i++) put(side.radius[i], space + side.angle[i]);
  }
  return out;
}

/**
 * Whether the two sides of a tooth space cross: the side's angle from the
 * middle of the space is then negative, or beyond the middle of the tooth.
 */
export function outlineCrosses(g: GearData): boolean {
  const { angle } = g.internal ? internalSide(g, COARSE) : externalSide(g, COARSE);
  const half = Math.PI / g.teeth;
  return angle.some((a) => a < -1e-9 || a > half + 1e-9);
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
 * Outline of a rack in its transverse section: the reference line on the x axis, teeth towards +y, a tooth centred on x = phase,
 * teeth spread evenly to both sides of the origin; counter-clockwise, mm.
 */
export function rackOutline(k: RackGiven, phase = 0, detail: Detail = FINE): number[] {
  const mt = k.module / Math.cos(k.beta);
  const p = Math.PI * mt;
  const tan = Math.tan(k.alpha) / Math.cos(k.beta);
  const alphaT = Math.atan(tan);
  const ha = k.addendum * k.module,
    hf = k.dedendum * k.module;
  const room = (p / 4 - hf * tan) / ((1 - Math.sin(alphaT)) / Math.cos(alphaT));
  const rho = Math.max(0, Math.min(k.fillet * k.module, room));
  const first = -Math.floor(k.teeth / 2);
  const out: number[] = [];
  // Right half of a tooth from the tip down to the middle of the space, mirrored for the left half.
  const right: [number, number][] = [[p / 4 - ha * tan, ha]];
  const cx = p / 4 + (hf - rho) * tan + rho / Math.cos(alphaT);
  for (let i = 0; i <= detail.fillet; i++) {
    const t = alphaT + ((Math.PI / 2 - alphaT) * i) / detail.fillet;
    right.push([cx - rho * Math.cos(t), -hf + rho - rho * Math.sin(t)]);
  }
  const x0 = phase + (first - 0.5) * p,
    x1 = phase + (first + k.teeth - 0.5) * p;
  out.push(x0, -k.height, x1, -k.height);
  for (let n = k.teeth - 1; n >= 0; n--) {
    const c = phase + (first + n) * p;
    for (let i = right.length - 1; i >= 0; i--) out.push(c + right[i][0], right[i][1]);
    for (const [x, y] of right) out.push(c - x, y);
  }
  return out;
}
