import { unusedName } from '../../document/index';
import { elementKind, extentOf } from '../../elements/index';
import { type Design, type Element, FRAME, type Id } from '../../fields/types';
import { type Vec3, toWorldPoint } from '../../math/index';
import { freshId, idsOf } from '../../edits/items';
import { beginningSizes, isInch } from '../../edits/inch';
import { elementFrame, tidy } from '../../edits/frames';

/** What a new member of a kind is made of to begin with, and how it lies, so that it can be seen and taken hold of. */
const BEGIN: Readonly<Record<string, { type: string; name: string; fields: Record<string, unknown> }>> = {
  shaft: { type: 'rod', name: 'Bar', fields: { diameter: 20, length: 200 } },
  slide: { type: 'block', name: 'Block', fields: { length: 120, depth: 60, height: 60 } },
  carrier: { type: 'lever', name: 'Arm', fields: { length: 120, eye: 40, thickness: 12 } },
  lever: { type: 'lever', name: 'Bar', fields: { length: 300, eye: 40, hole: 20, thickness: 12 } },
  body: { type: 'block', name: 'Block', fields: { length: 300, depth: 200, height: 20 } },
};

/** A new part beside what is there: a member with an element to begin with, or an element of the frame. Selects nothing. */
export function addPart(design: Design, kind: string): { design: Design; member: Id; element: Id } {
  const ids = idsOf(design);
  const begin = BEGIN[kind] ?? BEGIN['body'];
  const free = (stem: string, besides?: string): string =>
    unusedName(stem, new Set([besides, ...[...design.members, ...design.elements].map((x) => x.name)]));
  // Beside everything, to the right, on its middle.
  const lo = [Infinity, Infinity, Infinity],
    hi = [-Infinity, -Infinity, -Infinity];
  for (const e of design.elements) {
    const k = elementKind(e.type);
    const box = k && extentOf(k, e);
    if (!box) continue;
    const f = elementFrame(design, e);
    for (const x of [box[0][0], box[1][0]]) {
      for (const y of [box[0][1], box[1][1]]) {
        for (const z of [box[0][2], box[1][2]]) {
          toWorldPoint(f, [x, y, z]).forEach((v, i) => ((lo[i] = Math.min(lo[i], v)), (hi[i] = Math.max(hi[i], v))));
        }
      }
    }
  }
  const sizes = beginningSizes(elementKind(begin.type)?.fields ?? [], begin.fields, isInch(design));
  const half = Number(sizes['length']) / 2;
  const some = Number.isFinite(lo[0]);
  const o: Vec3 = some
    ? [Math.round(hi[0] + 60 + (begin.type === 'lever' ? 40 : half)), Math.round((lo[1] + hi[1]) / 2), Math.round((lo[2] + hi[2]) / 2)]
    : [0, 0, 0];
  const element = freshId(ids, 'part');
  if (kind === 'frame') {
    const e = { id: element, name: free('Base'), type: 'block', member: FRAME, ...sizes, at: o } as Element;
    return { design: { ...design, elements: [...design.elements, e] }, member: FRAME, element };
  }
  const member = freshId(ids, 'member');
  const name = free(`${kind[0].toUpperCase()}${kind.slice(1)}`);
  // Levers lie in the plane of the front view, inclined, so that two of
  // them can be made to cross; everything else stands upright in it.
  const t = (25 * Math.PI) / 180;
  const frame =
    begin.type === 'lever'
      ? { axis: [0, -1, 0] as Vec3, up: [Math.cos(t), 0, Math.sin(t)] as Vec3 }
      : kind === 'shaft'
        ? { axis: [0, 1, 0] as Vec3, up: [1, 0, 0] as Vec3 }
        : { axis: [0, 0, 1] as Vec3, up: [1, 0, 0] as Vec3 };
  const e = { id: element, name: free(`${name} ${begin.name.toLowerCase()}`, name), type: begin.type, member, ...sizes } as Element;
  return {
    design: {
      ...design,
      members: [...design.members, { id: member, name, kind: kind as 'body', at: o, axis: tidy(frame.axis), up: tidy(frame.up) }],
      elements: [...design.elements, e],
    },
    member,
    element,
  };
}
