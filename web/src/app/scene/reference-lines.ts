import type { Element } from '@unirota/core/document';
import {
  type BevelGear,
  type Screw,
  type Worm,
  bevelOf,
  elementKind,
  extentOf,
  gearOf,
  pulleyRadius,
  screwPitchDiameter,
  wormOf,
  wormWheelRadius,
} from '@unirota/core/elements';
import type { Vec3 } from '@unirota/core/math';

/** Lines that an element is laid out by and that weigh nothing, in its own frame, mm. */
export interface ReferenceLines {
  /** Pitch circle about the element's z axis: its radius, and how far along z it is. */
  readonly circle?: { readonly radius: number; readonly at: number };
  /** Ends of a rack's pitch line. */
  readonly line?: readonly [Vec3, Vec3];
  /** Ends of the element's axis; it stands out of both its faces. */
  readonly axis?: readonly [Vec3, Vec3];
}

/** Part of the pitch radius by which an axis stands out at either end. */
const BEYOND = 0.25;

/** Radius of an element's pitch circle and its place along z, mm; undefined where it has none. */
function circleOf(e: Element, middle: number): ReferenceLines['circle'] {
  switch (e.type) {
    case 'gear':
    case 'sector':
      return { radius: gearOf(e).pitchRadius, at: middle };
    case 'pulley':
      return { radius: pulleyRadius(e), at: middle };
    case 'worm-wheel':
      return { radius: wormWheelRadius(e), at: middle };
    case 'worm':
      return { radius: wormOf(e as Worm).diameter / 2, at: middle };
    case 'screw':
      return { radius: screwPitchDiameter(e as Screw) / 2, at: middle };
    case 'bevel-gear': {
      // At the outer end of its pitch cone, which opens from the apex along +z.
      const g = bevelOf(e as BevelGear);
      const radius = (g.module * g.teeth) / 2;
      return { radius, at: radius / Math.tan(g.cone) };
    }
    default:
      return undefined;
  }
}

/** The pitch circle, pitch line and axis of an element. What has none of them gives none. */
export function referenceLines(e: Element): ReferenceLines {
  const kind = elementKind(e.type);
  const box = kind && extentOf(kind, e);
  if (!box) return {};
  const [lo, hi] = box;
  if (e.type === 'rack') {
    return {
      line: [
        [lo[0], 0, 0],
        [hi[0], 0, 0],
      ],
    };
  }
  const circle = circleOf(e, (lo[2] + hi[2]) / 2);
  if (!circle || !(circle.radius > 0)) return {};
  const beyond = BEYOND * circle.radius;
  // A bevel gear's axis begins at the apex.
  const from = e.type === 'bevel-gear' ? 0 : lo[2] - beyond;
  return {
    circle,
    axis: [
      [0, 0, from],
      [0, 0, hi[2] + beyond],
    ],
  };
}
