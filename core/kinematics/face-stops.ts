import { finding } from '../findings/index';
import { Design, Element, Finding, Id, Joint } from '../fields/types';
import { faceOf } from '../elements/index';
import { Frame, Vec3, cross, dot, toWorldPoint, toWorldVector, vscale, vsub } from '../math/index';
import type { Coordinate, Structure } from './structure';

interface PlacedFace {
  element: Element;
  point: Vec3;
  normal: Vec3;
}

/** A face named "element:+z" in the world, in the reference position. */
export function placedFace(ref: unknown, elements: ReadonlyMap<Id, Element>, frames: ReadonlyMap<Id, Frame>): PlacedFace | undefined {
  if (typeof ref !== 'string') return undefined;
  const at = ref.lastIndexOf(':');
  const side = ref.slice(at + 1);
  const element = elements.get(ref.slice(0, at)),
    frame = element && frames.get(element.id);
  if (!element || !frame) return undefined;
  const f = faceOf(element, side);
  return f && { element, point: toWorldPoint(frame, f.point), normal: toWorldVector(frame, f.normal) };
}

const tidy = (x: number): number => Number(x.toFixed(9)) + 0;

/**
 * Value of a joint (mm or deg) at which two faces meet flush; or what keeps them from it.
 * The first face moves with the joint's child. Sliding: planes that face each other along
 * the slide. Turning: planes that hold the axis' direction and lie equally far from it.
 */
export function faceMeeting(c: Coordinate, moving: PlacedFace, still: PlacedFace): number | string {
  if (c.motion === 'slide') {
    if (Math.abs(dot(moving.normal, c.axis)) < 1 - 1e-9 || dot(moving.normal, still.normal) > -1 + 1e-9) {
      return 'they do not face each other along the slide; choose two faces across it';
    }
    return tidy(dot(vsub(still.point, moving.point), c.axis));
  }
  if (c.motion === 'helix') return 'a screw joint cannot take its stop from faces; state the number';
  if (Math.abs(dot(moving.normal, c.axis)) > 1e-9 || Math.abs(dot(still.normal, c.axis)) > 1e-9) {
    return 'they do not stand along the axis; choose faces that the turning brings together';
  }
  const dm = dot(vsub(moving.point, c.point), moving.normal),
    ds = dot(vsub(still.point, c.point), still.normal);
  if (Math.abs(dm + ds) > 1e-3) return `they lie ${tidy(Math.abs(dm + ds)).toFixed(3)} mm too far apart to meet flush; move one of them`;
  const to = vscale(still.normal, -1);
  return tidy((Math.atan2(dot(cross(moving.normal, to), c.axis), dot(moving.normal, to)) * 180) / Math.PI);
}

/** Puts stops that are stated by two faces into the coordinates, and says what keeps faces from meeting. */
export function faceStops(design: Design, structure: Structure, elements: ReadonlyMap<Id, Element>, frames: ReadonlyMap<Id, Frame>): Finding[] {
  const out: Finding[] = [];
  for (const c of structure.coordinates) {
    if (c.order !== 0) continue;
    const j: Joint = c.joint;
    for (const which of ['lower', 'upper'] as const) {
      const refs = j[`${which}Faces`] as Id[] | undefined;
      if (!refs?.length) continue;
      const field = `${which}Faces`;
      const name = `joint “${j.name ?? j.id}”, ${which} stop`;
      const faces = refs.map((r) => placedFace(r, elements, frames));
      if (refs.length !== 2 || !faces[0] || !faces[1]) {
        out.push(finding('stop-faces-missing', [j.id], { name }, field));
        continue;
      }
      const [a, b] = faces as [PlacedFace, PlacedFace];
      const body = (f: PlacedFace): number => structure.bodyOf.get(f.element.member) ?? 0;
      const child = structure.bodyOf.get(j.child) ?? 0;
      if (body(a) === body(b) || (body(a) !== child && body(b) !== child)) {
        out.push(finding('stop-faces-members', [j.id], { name, member: structure.nameOf(j.child) }, field));
        continue;
      }
      const at = body(a) === child ? faceMeeting(c, a, b) : faceMeeting(c, b, a);
      if (typeof at === 'string') {
        out.push(
          finding('stop-faces-miss', [j.id, a.element.id, b.element.id], { name, element: a.element.name, element2: b.element.name, at }, field),
        );
        continue;
      }
      // A turn is known up to whole turns: the lower stop is the next one below, the upper the next above.
      c[which] = c.motion === 'turn' ? (which === 'upper' && at < 0 ? at + 360 : which === 'lower' && at > 0 ? at - 360 : at) : at;
    }
  }
  return out;
}
