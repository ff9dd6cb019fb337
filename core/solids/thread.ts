import { type Outline, type Piece, type Point, arc, line, outline } from './outline';
import type { Solid } from './solid';

/** The profile of a thread in a section through its axis: straight flanks between a flat crest and a flat root, mm. */
export interface ThreadProfile {
  /** Radii of crest and root. */
  crest: number;
  root: number;
  /** From one thread to the next along the axis, and how much of it the flats take. */
  pitch: number;
  crestFlat: number;
  rootFlat: number;
  starts: number;
}

/** Pieces of a spiral turn by no more than this, rad: a cubic is then within 1e-6 of its radius. */
const STEP = Math.PI / 24;

/** A straight flank in the axial section is a spiral across it: r grows evenly with the angle (Archimedes). */
function spiral(from: number, to: number, r0: number, r1: number): Piece[] {
  const at = (a: number): Point => {
    const r = r0 + ((r1 - r0) * (a - from)) / (to - from);
    return [r * Math.cos(a), r * Math.sin(a)];
  };
  const slope = (a: number): Point => {
    const k = (r1 - r0) / (to - from);
    const r = r0 + k * (a - from);
    return [k * Math.cos(a) - r * Math.sin(a), k * Math.sin(a) + r * Math.cos(a)];
  };
  const n = Math.max(1, Math.ceil(Math.abs(to - from) / STEP));
  const h = (to - from) / n;
  return Array.from({ length: n }, (_, i): Piece => {
    const [a, b] = [from + i * h, from + (i + 1) * h];
    const [p, q, s, t] = [at(a), at(b), slope(a), slope(b)];
    return { kind: 'curve', c1: [p[0] + (h / 3) * s[0], p[1] + (h / 3) * s[1]], c2: [q[0] - (h / 3) * t[0], q[1] - (h / 3) * t[1]], to: q };
  });
}

/** The section across a thread; undefined where its flats leave no flanks, or it has no root. */
export function threadSection({ crest, root, pitch, crestFlat, rootFlat, starts }: ThreadProfile): Outline | undefined {
  if (!(root > 0 && crest > root && crestFlat > 0 && rootFlat > 0 && crestFlat + rootFlat <= pitch * (1 + 1e-12))) return undefined;
  // A pitch along the axis is an angle of one start across it.
  const angle = (z: number): number => (2 * Math.PI * z) / (pitch * starts);
  const flank = (pitch - crestFlat - rootFlat) / 2;
  const start: Point = [root, 0];
  const pieces: Piece[] = [];
  let [a, at]: [number, Point] = [0, start];
  const put = (list: Piece[]): void => {
    pieces.push(...list);
    at = list.at(-1)!.to;
  };
  const side = (r0: number, r1: number): void => {
    const to = a + angle(flank);
    // A square thread's flanks stand along the radius.
    put(flank > 1e-9 * pitch ? spiral(a, to, r0, r1) : [line([r1 * Math.cos(a), r1 * Math.sin(a)])]);
    a = to;
  };
  const round = (flat: number): void => {
    put([arc(at, [0, 0], angle(flat))]);
    a += angle(flat);
  };
  for (let k = 0; k < starts; k++) {
    round(rootFlat / 2);
    side(root, crest);
    round(crestFlat);
    side(crest, root);
    round(rootFlat / 2);
  }
  return outline(start, pieces);
}

/** A threaded bar along z: the section across it, turned along the helix. `hand`: 1 right, −1 left. */
export function threaded(p: ThreadProfile, from: number, to: number, hand: 1 | -1): Solid | undefined {
  const section = threadSection(p);
  return section && { kind: 'prism', outline: section, from, to, twist: (hand * 2 * Math.PI * (to - from)) / (p.pitch * p.starts) };
}
