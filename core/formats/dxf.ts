/**
 * DXF of flat parts: closed polylines with arcs (LWPOLYLINE with bulges), a layer a member, in true size, release 2007 of the
 * format; circles as CIRCLE. AutoCAD's published DXF reference: group codes 10, 20, 42 (bulge: the tangent of a quarter of the
 * arc's angle), header variable $INSUNITS (1 inches, 4 millimetres).
 */
import { Colors, DxfWriter, LWPolylineFlags, Units, point2d, point3d } from '@tarikjabiri/dxf';
import { type Outline, byArcs, eachPiece } from '../solids/index';
import type { Drawing } from '../assembly/index';
import { type DrawingUnit, shown } from './drawing';

/** Arcs pass within this of the true curve, mm. */
const ARC_TOLERANCE = 5e-4;

/** A layer's name as the format allows it. */
export const layerName = (name: string): string =>
  name
    .replace(/[<>/\\":;?*|=`,\p{C}]/gu, ' ')
    .trim()
    .slice(0, 200) || 'Part';

/** A circle's centre and radius where an outline is one. */
function circleOf(o: Outline): { centre: readonly [number, number]; r: number } | undefined {
  const [p] = o.pieces;
  if (o.pieces.length !== 1 || p.kind !== 'arc') return undefined;
  return { centre: p.centre, r: Math.hypot(o.start[0] - p.centre[0], o.start[1] - p.centre[1]) };
}

export function writeDxf(d: Drawing, unit: DrawingUnit = 'mm'): string {
  const dxf = new DxfWriter();
  dxf.setUnits(unit === 'mm' ? Units.Millimeters : Units.Inches);
  const at = (x: number): number => shown(x, unit);
  const names = new Set<string>();
  const colours = [Colors.Black, Colors.Red, Colors.Blue, Colors.Green, Colors.Magenta, Colors.Cyan];
  d.layers.forEach((layer, i) => {
    let name = layerName(layer.name);
    for (let n = 2; names.has(name.toLowerCase()); n++) name = `${layerName(layer.name)} ${n}`;
    names.add(name.toLowerCase());
    dxf.addLayer(name, colours[i % colours.length], 'Continuous');
    dxf.setCurrentLayerName(name);
    for (const loop of layer.loops) {
      const round = circleOf(loop);
      if (round) {
        dxf.addCircle(point3d(at(round.centre[0]), at(round.centre[1])), at(round.r));
        continue;
      }
      const vertices: { point: { x: number; y: number }; bulge: number }[] = [];
      eachPiece(byArcs(loop, ARC_TOLERANCE), (from, p) => {
        vertices.push({ point: point2d(at(from[0]), at(from[1])), bulge: p.kind === 'arc' ? Math.tan(p.angle / 4) : 0 });
      });
      dxf.addLWPolyline(vertices, { flags: LWPolylineFlags.Closed });
    }
  });
  dxf.setZeroLayerAsCurrent();
  return dxf.stringify();
}
