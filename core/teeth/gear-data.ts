import { involute, transverseAngle } from './involute';

/** What is given of a cylindrical gear: mm and rad; shift is the coefficient x, positive away from the axis. */
export interface GearGiven {
  teeth: number;
  module: number;
  alpha: number;
  beta: number;
  shift: number;
  internal: boolean;
  /** Coefficients of the basic rack (ISO 53: 1, 1.25, 0.38). */
  addendum: number;
  dedendum: number;
  fillet: number;
  /** Tip shortening, mm, and thinning of the tooth at the reference circle, mm. */
  tipCut: number;
  thinning: number;
}

/** Derived diameters and angles of a cylindrical gear, mm and rad (ISO 21771-1:2007, clauses 4 and 5). */
export interface GearData extends GearGiven {
  moduleT: number;
  alphaT: number;
  pitchRadius: number;
  baseRadius: number;
  tipRadius: number;
  rootRadius: number;
  /** Half the angle of a tooth at the reference circle. */
  halfTooth: number;
  pitch: number;
}

/** Data of one cylindrical gear. For internal gears the tip is the smaller circle. */
export function gearData(g: GearGiven): GearData {
  const alphaT = transverseAngle(g.alpha, g.beta);
  const moduleT = g.module / Math.cos(g.beta);
  const r = (moduleT * g.teeth) / 2;
  const side = g.internal ? -1 : 1;
  const thickness = (Math.PI * g.module) / 2 + side * 2 * g.shift * g.module * Math.tan(g.alpha) - g.thinning;
  return {
    teeth: g.teeth,
    module: g.module,
    alpha: g.alpha,
    beta: g.beta,
    shift: g.shift,
    internal: g.internal,
    addendum: g.addendum,
    dedendum: g.dedendum,
    fillet: g.fillet,
    tipCut: g.tipCut,
    thinning: g.thinning,
    moduleT,
    alphaT,
    pitchRadius: r,
    baseRadius: r * Math.cos(alphaT),
    tipRadius: r + side * g.addendum * g.module + g.shift * g.module - side * g.tipCut,
    rootRadius: r - side * g.dedendum * g.module + g.shift * g.module,
    halfTooth: thickness / Math.cos(g.beta) / (2 * r),
    pitch: Math.PI * g.module,
  };
}

/** Cosine of the helix angle on the base cylinder: sin βb = sin β·cos αn (ISO 21771-1:2007). */
export const cosBaseHelix = ({ alpha, beta }: Pick<GearGiven, 'alpha' | 'beta'>): number => Math.sqrt(1 - (Math.sin(beta) * Math.cos(alpha)) ** 2);

/** Half the angle that the material of a tooth takes at radius ry, rad (ISO 21771-1:2007, tooth thickness half angle). */
export function halfToothAt(g: GearData, ry: number): number {
  const alphaY = Math.acos(Math.min(1, g.baseRadius / ry));
  const turn = involute(g.alphaT) - involute(alphaY);
  return g.internal ? g.halfTooth - turn : g.halfTooth + turn;
}

/**
 * Fewest teeth that a rack cutter leaves without undercut, as a
 * real number: 2 (hj − x) cos β / sin² αt, hj the straight depth.
 */
export const undercutLimit = (alpha: number, beta: number, shift: number, straightDepth = 1): number =>
  (2 * (straightDepth - shift) * Math.cos(beta)) / Math.sin(transverseAngle(alpha, beta)) ** 2;

/** Span W over k teeth, mm: m cos α [(k − ½)π + z inv αt + 2 x tan α] (ISO 21771-1:2007, span measurement). */
export function spanOverTeeth(g: GearData, k: number): number {
  return (
    g.module * Math.cos(g.alpha) * ((k - 0.5) * Math.PI + g.teeth * involute(g.alphaT) + 2 * g.shift * Math.tan(g.alpha)) -
    g.thinning * Math.cos(g.alpha)
  );
}

/**
 * The usual number of teeth to span: nearest whole of z α/180° + ½
 * for spur gears, by the virtual number of teeth for helical ones.
 */
export const usualSpan = (g: GearData): number =>
  Math.max(2, Math.round((g.teeth / Math.cos(g.beta) ** 3) * (g.alpha / Math.PI) + 0.5 + (2 * g.shift * Math.tan(g.alpha)) / Math.PI));

/**
 * Radius at which the anvils of a measurement over k teeth touch,
 * mm: √(rb² + (W cos βb / 2)²) (ISO 21771-1:2007, span measurement).
 */
export function spanRadius(g: GearData, k: number): number {
  const half = (spanOverTeeth(g, k) * cosBaseHelix(g)) / 2;
  return Math.hypot(g.baseRadius, half);
}

/**
 * How many teeth to span so that the anvils touch involutes, between the form circle
 * and the tip: the usual number, or the nearest that does; undefined where none does.
 */
export function spanTeeth(g: GearData, form: number): number | undefined {
  const usual = usualSpan(g);
  const touches = (k: number): boolean => {
    if (k < 2 || k >= g.teeth) return false;
    const r = spanRadius(g, k);
    return r >= form && r <= g.tipRadius;
  };
  for (let off = 0; off < g.teeth; off++) for (const k of [usual + off, usual - off]) if (touches(k)) return k;
  return undefined;
}
