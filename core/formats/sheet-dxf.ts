/**
 * DXF of a drawing, release 2007, mm on paper: a layer a kind of line with its line type (HIDDEN, AXES), texts as TEXT, arrows
 * as closed polylines; lines as LINE and LWPOLYLINE, circles and arcs as such.
 */
import { Colors, DxfWriter, LWPolylineFlags, TextHorizontalAlignment, Units, point2d, point3d } from '@tarikjabiri/dxf';
import { ARROW, LINES, LINE_KINDS, type DrawnPath, type LineKind, type Mark, type Sheet } from '../drawing/index';
import { type Outline, type Point, byArcs, eachPiece } from '../solids/index';
import { shown } from './drawing';

/** Names of layers by what their lines show. */
const LAYER: Readonly<Record<LineKind, string>> = {
  visible: 'VISIBLE',
  hidden: 'HIDDEN',
  axis: 'AXES',
  thin: 'THIN',
  border: 'BORDER',
};
const TEXTS = 'TEXT';
const at = (x: number): number => shown(x, 'mm');

function put(dxf: DxfWriter, path: DrawnPath): void {
  const [p] = path.pieces;
  if (path.pieces.length === 1 && p.kind === 'line') {
    dxf.addLine(point3d(at(path.start[0]), at(path.start[1])), point3d(at(p.to[0]), at(p.to[1])));
    return;
  }
  if (path.pieces.length === 1 && p.kind === 'arc') {
    const [x, y] = [path.start[0] - p.centre[0], path.start[1] - p.centre[1]];
    const centre = point3d(at(p.centre[0]), at(p.centre[1]));
    const r = at(Math.hypot(x, y));
    if (Math.abs(p.angle) > 2 * Math.PI - 1e-6) dxf.addCircle(centre, r);
    else {
      const first = (Math.atan2(y, x) * 180) / Math.PI,
        last = first + (p.angle * 180) / Math.PI;
      // Arcs of the format run counter-clockwise.
      dxf.addArc(centre, r, Math.min(first, last), Math.max(first, last));
    }
    return;
  }
  const vertices: { point: { x: number; y: number }; bulge: number }[] = [];
  let end = path.start;
  eachPiece(byArcs(path as Outline, 5e-3), (from, piece) => {
    vertices.push({ point: point2d(at(from[0]), at(from[1])), bulge: piece.kind === 'arc' ? Math.tan(piece.angle / 4) : 0 });
    end = piece.to;
  });
  vertices.push({ point: point2d(at(end[0]), at(end[1])), bulge: 0 });
  dxf.addLWPolyline(vertices, { flags: LWPolylineFlags.None });
}

export function writeSheetDxf(s: Sheet): string {
  const dxf = new DxfWriter();
  dxf.setUnits(Units.Millimeters);
  for (const kind of LINE_KINDS) {
    const { dashes } = LINES[kind];
    // Dashes are lengths, gaps negative ones.
    if (dashes) {
      dxf.addLType(
        LAYER[kind],
        '',
        dashes.map((x, i) => (i % 2 ? -x : x)),
      );
    }
    dxf.addLayer(LAYER[kind], Colors.White, dashes ? LAYER[kind] : 'Continuous');
  }
  dxf.addLayer(TEXTS, Colors.White, 'Continuous');
  const on = (layer: string, of: (m: Mark) => void, which: (m: Mark) => boolean): void => {
    dxf.setCurrentLayerName(layer);
    s.marks.filter(which).forEach(of);
  };
  for (const kind of LINE_KINDS) {
    on(
      LAYER[kind],
      (m) => m.kind === 'stroke' && put(dxf, m.path),
      (m) => m.kind === 'stroke' && m.line === kind,
    );
  }
  on(
    LAYER.thin,
    (m) => {
      if (m.kind !== 'arrow') return;
      const { tip, along } = m;
      const [l, b] = ARROW;
      const [x, y] = [tip[0] - l * along[0], tip[1] - l * along[1]];
      const corners: Point[] = [tip, [x - b * along[1], y + b * along[0]], [x + b * along[1], y - b * along[0]]];
      dxf.addLWPolyline(
        corners.map((c) => ({ point: point2d(at(c[0]), at(c[1])), bulge: 0 })),
        { flags: LWPolylineFlags.Closed },
      );
    },
    (m) => m.kind === 'arrow',
  );
  on(
    TEXTS,
    (m) => {
      if (m.kind !== 'text') return;
      const where = point3d(at(m.at[0]), at(m.at[1]));
      const align = { start: TextHorizontalAlignment.Left, middle: TextHorizontalAlignment.Center, end: TextHorizontalAlignment.Right }[m.anchor];
      // One line of text, without the format's own signs.
      const written = m.text.replace(/[\p{Cc}^%]/gu, ' ');
      dxf.addText(where, at(m.height), written, {
        rotation: m.turn ?? 0,
        ...(m.anchor !== 'start' && { horizontalAlignment: align, secondAlignmentPoint: where }),
      });
    },
    (m) => m.kind === 'text',
  );
  return dxf.stringify();
}
