import type { DrawingSide, SeenAlong } from '../fields/common';
import type { KeptDrawing } from '../fields/types';
import { type Vec3, cross, dot, unit, vadd, vscale } from '../math/index';

/** How the bodies are looked at: directions of the world to the right, upward, and towards the one who looks. */
export interface Looking {
  readonly right: Vec3;
  readonly up: Vec3;
  readonly towards: Vec3;
}

/** A view or a section of a drawing. */
export interface View extends Looking {
  readonly side: DrawingSide | 'section';
  /** What a section cuts: the direction that is looked along, and the plane's coordinate along it, mm. Its letter. */
  readonly cut?: { readonly along: Vec3; readonly at: number; readonly letter: string };
}

const axisOf = (along: SeenAlong): Vec3 => {
  const k = 'xyz'.indexOf(along[1]),
    sign = along[0] === '-' ? -1 : 1;
  return [k === 0 ? sign : 0, k === 1 ? sign : 0, k === 2 ? sign : 0];
};
const negative = (v: Vec3): Vec3 => vscale(v, -1);

/** Looking along a direction of the world: z is up, or y where z is looked along. */
function seenAlong(along: Vec3): Looking {
  const towards = negative(along);
  const up: Vec3 = Math.abs(along[2]) > 0.5 ? [0, 1, 0] : [0, 0, 1];
  return { right: cross(up, towards), up, towards };
}

/** One of the sides as seen from the front (ISO 5456-2); the isometric view is from the right, above and before (ISO 5456-3). */
function sideOf(front: Looking, side: DrawingSide): Looking {
  const { right, up, towards } = front;
  switch (side) {
    case 'front':
      return front;
    case 'above':
      return { right, up: negative(towards), towards: up };
    case 'below':
      return { right, up: towards, towards: negative(up) };
    case 'left':
      return { right: towards, up, towards: negative(right) };
    case 'right':
      return { right: negative(towards), up, towards: right };
    case 'rear':
      return { right: negative(right), up, towards: negative(towards) };
    case 'pictorial': {
      const to = unit(vadd(vadd(right, up), towards));
      const upward = unit(vadd(up, vscale(to, -dot(up, to))));
      return { right: cross(upward, to), up: upward, towards: to };
    }
  }
}

/** The views of a drawing, each side once, then its sections by letter. Front, above and left where none are stated. */
export function viewsOf(d: KeptDrawing): View[] {
  const front = seenAlong(axisOf(d.along ?? '+y'));
  const sections = d.sections ?? [];
  const stated = d.sides?.map((s) => s.side) ?? (sections.length ? ['front' as const] : (['front', 'above', 'left'] as const));
  return [
    ...[...new Set(stated)].map((side): View => ({ side, ...sideOf(front, side) })),
    ...sections.map(({ along, at }, k): View => {
      const axis = axisOf(along);
      return { side: 'section', ...seenAlong(axis), cut: { along: axis, at: along[0] === '-' ? -at : at, letter: LETTERS[k] } };
    }),
  ];
}
/** Letters of sections: a drawing has eight of them at most. */
const LETTERS = 'ABCDEFGH';

/** A place of the world in a view: right and up, mm. */
export const inView = (v: Looking, p: Vec3): [number, number] => [dot(v.right, p), dot(v.up, p)];
