import type { MaxRectsPacker as Packer } from 'maxrects-packer';
// @ts-expect-error The package's main file cannot be read by Node; its module has no types of its own.
import { MaxRectsPacker as Untyped } from 'maxrects-packer/dist/maxrects-packer.mjs';
import { type Outline, rangeOf } from '../solids/index';

const MaxRectsPacker = Untyped as typeof Packer;

/** Least and greatest x and y of an outline, mm. */
export function boxOf(o: Outline): { x0: number; y0: number; x1: number; y1: number } {
  const [[x0, x1], [y0, y1]] = [rangeOf(o, [1, 0]), rangeOf(o, [0, 1])];
  return { x0, y0, x1, y1 };
}

/** Where a part lies: on which sheet, turned by a quarter or not, and the way that its own origin is moved, mm. */
export interface Placed {
  sheet: number;
  quarter: boolean;
  at: [number, number];
}

/** Parts laid out on sheets, in the order given; those that no sheet is large enough for have no place. */
export interface Nest {
  places: (Placed | undefined)[];
  sheets: { width: number; height: number }[];
}

/**
 * Lays outlines out on sheets of a size by their boxes, `gap` mm apart and from the edges, each turned by a quarter where that
 * serves (maximal rectangles). Without a size they are laid out on one sheet that is as large as it takes, about square.
 */
export function nested(outlines: readonly Outline[], gap: number, sheet?: { width: number; height: number }): Nest {
  const boxes = outlines.map(boxOf);
  const sizes = boxes.map((b) => ({ w: b.x1 - b.x0, h: b.y1 - b.y0 }));
  const area = sizes.reduce((a, s) => a + (s.w + gap) * (s.h + gap), 0);
  const widest = Math.max(0, ...sizes.map((s) => Math.max(s.w, s.h)));
  const free = Math.max(widest, 1.2 * Math.sqrt(area)) + 2 * gap;
  // A sheet that is as large as it takes has the width that makes it about square, and the height that all parts in one column
  // have.
  const width = sheet?.width ?? free,
    height = sheet?.height ?? sizes.reduce((a, s) => a + Math.max(s.w, s.h) + gap, 2 * gap);
  const packer = new MaxRectsPacker(width - 2 * gap, height - 2 * gap, gap, {
    smart: true,
    pot: false,
    square: false,
    allowRotation: true,
    border: 0,
  });
  const fits = sizes.map(({ w, h }) => Math.min(w, h) <= Math.min(width, height) - 2 * gap && Math.max(w, h) <= Math.max(width, height) - 2 * gap);
  packer.addArray(sizes.flatMap((s, i) => (fits[i] ? [{ width: s.w, height: s.h, x: 0, y: 0, data: i }] : [])) as never);
  const places: (Placed | undefined)[] = outlines.map(() => undefined);
  packer.bins.forEach((bin, k) => {
    for (const r of bin.rects) {
      const i = r.data as number;
      const b = boxes[i];
      const quarter = r.rot;
      // Turned by a quarter the box runs from −y1 to −y0 and from x0 to x1.
      const corner: [number, number] = quarter ? [-b.y1, b.x0] : [b.x0, b.y0];
      places[i] = { sheet: k, quarter, at: [gap + r.x - corner[0], gap + r.y - corner[1]] };
    }
  });
  return {
    places,
    sheets: packer.bins.map((bin) => (sheet ? { width, height } : { width: bin.width + 2 * gap, height: bin.height + 2 * gap })),
  };
}
