import svgpath from 'svgpath';
import type { MapShape } from '../map/index';
import type { Piece, Point } from '../solids/index';
import type { Area } from './form';
import { type LineKind, type Mark, box, ring, text } from './marks';

/** Height of the map's letters against their size, and how large they are at most on paper, mm. */
const CAPITAL = 0.7,
  LARGEST = 3.5;
const SIZE = 13;

/** A path in the words of SVG as paths on paper. */
function paths(d: string, to: (x: number, y: number) => Point, line: LineKind): Mark[] {
  const out: Mark[] = [];
  let pieces: Piece[] = [];
  let [start, at]: [Point, Point] = [
    [0, 0],
    [0, 0],
  ];
  const end = (): void => {
    if (pieces.length) out.push({ kind: 'stroke', line, path: { start, pieces } });
    pieces = [];
  };
  svgpath(d)
    .abs()
    .unshort()
    .unarc()
    .iterate((segment, _i, x, y) => {
      const [kind, ...v] = segment as unknown as [string, ...number[]];
      if (kind === 'M') {
        end();
        start = at = to(v[0], v[1]);
        return;
      }
      if (kind === 'C') pieces.push({ kind: 'curve', c1: to(v[0], v[1]), c2: to(v[2], v[3]), to: (at = to(v[4], v[5])) });
      else {
        at = kind === 'H' ? to(v[0], y) : kind === 'V' ? to(x, v[0]) : kind === 'Z' || kind === 'z' ? start : to(v[0], v[1]);
        pieces.push({ kind: 'line', to: at });
      }
    });
  end();
  return out;
}

/** The train map in the middle of an area of paper, as large as it takes; and by how much it is reduced. */
export function mapMarks({ shapes, width, height }: { shapes: readonly MapShape[]; width: number; height: number }, area: Area): Mark[] {
  const scale = Math.min(area.width / width, area.height / height, LARGEST / (CAPITAL * SIZE));
  const [x0, y0] = [area.x + (area.width - width * scale) / 2, area.y + area.height - (area.height - height * scale) / 2];
  const to = (x: number, y: number): Point => [x0 + scale * x, y0 - scale * y];
  return shapes.flatMap((s): Mark[] => {
    switch (s.kind) {
      case 'path':
        return paths(s.d, to, s.dashed ? 'hidden' : s.width > 1.2 ? 'visible' : 'thin');
      case 'circle':
        return [ring('visible', to(s.x, s.y), s.r * scale)];
      case 'box': {
        const [a, b] = [to(s.x, s.y + s.height), to(s.x + s.width, s.y)];
        return [box('visible', a[0], a[1], b[0], b[1])];
      }
      case 'text':
        return [text(to(s.x, s.y), s.text, CAPITAL * SIZE * scale, s.anchor ?? 'start', s.bold ? { bold: true } : {})];
    }
  });
}
