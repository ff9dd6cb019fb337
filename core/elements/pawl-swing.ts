import { num } from './gear';
import { type Pawl, type RatchetWheel, ratchetDiameter, ratchetOutline, ratchetRoot } from './ratchet';

/**
 * Where a pawl stands at its wheel, seen along the wheel's axis,
 * in the wheel's own frame in the reference position: mm and rad.
 */
export interface PawlPlace {
  pivot: readonly [number, number];
  /** Direction from the pin to the nose. */
  towards: number;
}

/** How a pawl swings about its pin, rad; positive away from the wheel, nothing as it is stated. */
export interface PawlSwing {
  /** Swings at which the nose stands in a root, and on a tip. */
  root: number;
  tip: number;
  /** Turn of the wheel in its own frame that puts the foot of a face at the nose, within half a pitch. */
  off: number;
  /** The sense of the swing about the wheel's axis that lifts the nose. */
  lifts: 1 | -1;
}

const TURN = 2 * Math.PI;

/** Swing at which the nose stands at a radius: by the triangle of axis, pin and nose. */
function swingAt(radius: number, { pivot: [x, y], towards }: PawlPlace, length: number, lifts: 1 | -1): number {
  const far = Math.hypot(x, y);
  const cosine = (far * far + length * length - radius * radius) / (2 * far * length);
  // From the line to the axis: the nose lies to the side to which it swings out.
  const open = Math.acos(Math.max(-1, Math.min(1, cosine)));
  const inward = Math.atan2(-y, -x);
  const at = inward + lifts * open - towards;
  return lifts * (at - TURN * Math.round(at / TURN));
}

/** How a pawl of a ratchet wheel swings; undefined where its nose cannot reach both tip and root. */
export function pawlSwing(wheel: RatchetWheel, pawl: Pawl, place: PawlPlace): PawlSwing | undefined {
  const length = num(pawl.length),
    R = ratchetDiameter(wheel) / 2,
    r = ratchetRoot(wheel);
  const far = Math.hypot(...place.pivot);
  if (far > length + r || far < Math.abs(length - R) || !(far > 0) || !(length > 0)) return undefined;
  // Which way about the axis the nose goes outward as it stands.
  const nose = noseAt(place, length, 0);
  const lifts = place.pivot[0] * nose[1] - place.pivot[1] * nose[0] > 0 ? -1 : 1;
  const root = swingAt(r, place, length, lifts),
    tip = swingAt(R, place, length, lifts);
  const [nx, ny] = noseAt(place, length, lifts * root);
  const outline = ratchetOutline(wheel);
  // The foot of the first face as it is cut: its root point, first of those free forward, last of those free back.
  const foot = wheel.free === 'back' ? Math.atan2(outline[outline.length - 1], outline[outline.length - 2]) : Math.atan2(outline[1], outline[0]);
  const pitch = TURN / num(wheel.teeth);
  const off = (Math.atan2(ny, nx) - foot) / pitch;
  return { root, tip, off: (off - Math.round(off)) * pitch, lifts };
}

const noseAt = ({ pivot: [x, y], towards }: PawlPlace, length: number, turned: number): [number, number] => [
  x + length * Math.cos(towards + turned),
  y + length * Math.sin(towards + turned),
];

/** Whether a point lies in the wheel: three teeth round it are looked at. */
function insideOf(wheel: RatchetWheel): (x: number, y: number) => boolean {
  const z = num(wheel.teeth),
    pitch = TURN / z;
  const all = ratchetOutline(wheel);
  const each = all.length / z;
  const three = Math.min(3, z);
  // Free back the outline runs from the last tooth to the first.
  const first = all.slice(0, three * each);
  const middle = Math.atan2(first[each * (three > 1 ? 1 : 0) + 1], first[each * (three > 1 ? 1 : 0)]);
  const polygon = z > 3 ? [0, 0, ...first] : all;
  return (x, y) => {
    const turns = (Math.atan2(y, x) - middle) / pitch;
    const back = -Math.round(turns) * pitch;
    const [c, s] = [Math.cos(back), Math.sin(back)];
    const [px, py] = [x * c - y * s, x * s + y * c];
    let inside = false;
    for (let k = 0, j = polygon.length - 2; k < polygon.length; j = k, k += 2) {
      const [ax, ay, bx, by] = [polygon[k], polygon[k + 1], polygon[j], polygon[j + 1]];
      if (ay > py !== by > py && px < ((bx - ax) * (py - ay)) / (by - ay) + ax) inside = !inside;
    }
    return inside;
  };
}

/** Looks at which the nose is brought down on the wheel, between tip and root. */
const LOOKS = 120;

/**
 * Swing of a pawl that is pressed on its wheel, rad, for so many even steps of one pitch in the
 * wheel's free sense from the reference position: it rides up the back and drops in behind the tip.
 */
export function swingOverPitch(wheel: RatchetWheel, pawl: Pawl, place: PawlPlace, swing: PawlSwing, steps: number): Float64Array {
  const inside = insideOf(wheel);
  const length = num(pawl.length),
    pitch = TURN / num(wheel.teeth);
  const free = wheel.free === 'back' ? -1 : 1;
  return Float64Array.from({ length: steps }, (_, k) => {
    const turned = (free * pitch * k) / steps;
    const [c, s] = [Math.cos(-turned), Math.sin(-turned)];
    const touches = (by: number): boolean => {
      const [x, y] = noseAt(place, length, swing.lifts * by);
      return inside(x * c - y * s, x * s + y * c);
    };
    // A straight back of few teeth goes deeper than the foot of the face.
    const deepest = 2 * swing.root - swing.tip;
    let above = swing.tip,
      below = deepest;
    for (let n = 1; n <= LOOKS; n++) {
      const at = swing.tip + ((deepest - swing.tip) * n) / LOOKS;
      if (touches(at)) {
        below = at;
        break;
      }
      above = at;
    }
    for (let n = 0; n < 30 && above - below > 1e-9; n++) {
      const mid = (above + below) / 2;
      if (touches(mid)) below = mid;
      else above = mid;
    }
    return above;
  });
}
