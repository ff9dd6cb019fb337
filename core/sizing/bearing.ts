import { elementKind, extentOf, num } from '../elements/index';
import type { Design, Id } from '../fields/types';
import { isInch } from '../edits/inch';
import type { Bearing } from '../joints/index';
import { localFrame, sameLine, toLocalPoint, toWorldPoint, within } from '../math/index';
import { usualInch } from '../units/index';
import { elementFrame, memberFrame } from '../edits/frames';

/** Sizes of a bearing over its inner diameter: those of light ball bearings (ISO 15, series 02, about; from memory). */
const OUTER = 2;
const WIDTH = 0.6;
/** Inner diameter where nothing on the axis says which, mm. */
const SHAFT = 20;

/**
 * A bearing for a turning joint, to begin with: on the shaft's diameter where a bar on the axis states
 * one, the first before what the member carries, the next behind it, further ones between; the first takes
 * thrust. Sizes mm, rounded to whole ones (or usual inches). Undefined where there is no such joint.
 */
export function newBearing(design: Design, joint: Id, rows: readonly Bearing[]): Bearing | undefined {
  const j = design.joints.find((x) => x.id === joint);
  if (!j) return undefined;
  const inch = isInch(design);
  const round = (mm: number): number => (inch ? usualInch(mm) : Math.round(mm));
  const f = within(memberFrame(design, j.child), localFrame(j));
  const last = rows.at(-1);
  const on = design.elements.filter((e) => e.member === j.child);
  const bar = on.find((e) => e.type === 'rod' && sameLine(f.o, f.z, elementFrame(design, e).o, elementFrame(design, e).z, 1e-3, 1e-6));
  const inner = last?.inner ?? (bar ? num((bar as { diameter?: number }).diameter, SHAFT) : round(SHAFT));
  const sizes = last ?? { inner, outer: round(OUTER * inner), width: round(WIDTH * inner), form: 'rolling' as const, block: 'no' as const };
  const places = on.flatMap((e) => {
    const kind = elementKind(e.type);
    const box = kind && e !== bar ? extentOf(kind, e) : undefined;
    return box ? [box[0][2], box[1][2]].map((z) => toLocalPoint(f, toWorldPoint(elementFrame(design, e), [0, 0, z]))[2]) : [];
  });
  const [lo, hi] = places.length ? [Math.min(...places), Math.max(...places)] : [-inner, inner];
  const beside = sizes.width / 2 + 5;
  const ends = [round(lo - beside), round(hi + beside)];
  // Farthest from those that are there.
  const candidates = [...ends, round((ends[0] + ends[1]) / 2), round(ends[1] + 3 * inner), round(ends[0] - 3 * inner)];
  const away = (z: number): number => Math.min(Infinity, ...rows.map((r) => Math.abs(r.at - z)));
  const free = candidates.find((z) => away(z) > sizes.width) ?? round(Math.max(...rows.map((r) => r.at)) + 3 * sizes.width);
  return { ...sizes, at: free, thrust: rows.some((r) => r.thrust === 'takes') ? 'free' : 'takes' };
}
