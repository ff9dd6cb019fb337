import type { DrawingSide } from '../fields/common';
import type { Room } from './dimensions';
import type { Box } from './projection';

/** What is to be arranged: the box of a view at its scale, mm on paper, and the room of its dimensions round it. */
export interface Placed {
  side: DrawingSide | 'section';
  box: Box;
  room: Room;
}

/** Free space between views, mm. */
const APART = 14;

/** Where each side stands, as column and row from the front: ISO 5456-2, first angle; third angle is its picture in a mirror. */
const CELLS: Readonly<Record<DrawingSide, readonly [number, number]>> = {
  front: [0, 0],
  left: [1, 0],
  right: [-1, 0],
  rear: [2, 0],
  above: [0, 1],
  below: [0, -1],
  pictorial: [1, 1],
};

function cellOf(side: DrawingSide, third: boolean): readonly [number, number] {
  const [x, y] = CELLS[side];
  // The rear stands at the right and the picture in a corner either way.
  return third && side !== 'rear' ? [side === 'pictorial' ? x : -x, -y] : [x, y];
}

/**
 * Where the middle of each view stands, mm from the upper left corner of the area, rows downward; undefined where they do not
 * fit. Views in one row or column are aligned by their middles, as they show the same bodies.
 */
export function arranged(views: readonly Placed[], third: boolean, width: number, height: number): [x: number, y: number][] | undefined {
  let next = Math.max(-1, ...views.map((v) => (v.side === 'section' ? -1 : cellOf(v.side, third)[0]))) + 1;
  const cells = views.map((v): readonly [number, number] => {
    if (v.side === 'section') return [next++, 0];
    const cell = cellOf(v.side, third);
    // The picture has the corner between two others, else the next place in the row.
    const alone = v.side === 'pictorial' && !views.some((o) => o !== v && o.side !== 'section' && cellOf(o.side, third)[1] === cell[1]);
    return alone ? [next++, 0] : cell;
  });
  const lines = (k: 0 | 1, before: (v: Placed) => number, after: (v: Placed) => number): { at: Map<number, number>; size: number } | undefined => {
    const keys = [...new Set(cells.map((c) => c[k]))].sort((a, b) => a - b);
    const most = (key: number, of: (v: Placed) => number): number => Math.max(...views.filter((_, i) => cells[i][k] === key).map(of));
    const sizes = keys.map((key) => [most(key, before), most(key, after)] as const);
    const size = sizes.reduce((sum, [a, b]) => sum + a + b, 0) + APART * (keys.length - 1);
    const room = (k === 0 ? width : height) - size;
    if (room < 0) return undefined;
    // What is left over goes between them and round them alike.
    const spare = room / (keys.length + 1);
    const at = new Map<number, number>();
    let from = spare;
    keys.forEach((key, i) => {
      at.set(key, from + sizes[i][0]);
      from += sizes[i][0] + sizes[i][1] + APART + spare;
    });
    return { at, size };
  };
  const half = ({ box: [x0, , x1] }: Placed): number => (x1 - x0) / 2;
  const tall = ({ box: [, y0, , y1] }: Placed): number => (y1 - y0) / 2;
  // A letter stands over a section.
  const over = (v: Placed): number => (v.side === 'section' ? 9 : 0);
  const columns = lines(
    0,
    (v) => half(v) + v.room.left,
    (v) => half(v) + v.room.right,
  );
  const rows = lines(
    1,
    (v) => tall(v) + v.room.above + over(v),
    (v) => tall(v) + v.room.below,
  );
  return columns && rows && cells.map(([x, y]) => [columns.at.get(x)!, rows.at.get(y)!]);
}
