import type { TopoDS_Edge, TopoDS_Face, TopoDS_Shape, TopoDS_Wire } from 'replicad-opencascadejs';
import { type Frame, WORLD } from '@unirota/core/math';
import { type Outline, type Piece, type Point, type Solid, clockwise, counterClockwise, eachPiece, placeOn } from '@unirota/core/solids';
import type { Kernel, Scope } from './kernel';

type Vec = readonly [number, number, number];
/** Takes a place of a flat figure into space, mm. */
type Put = (p: Point) => Vec;

/** Faces are sewn where their edges lie within this of each other, mm. */
const SEWN = 1e-6;

const pnt = (oc: Kernel, s: Scope, p: Vec): InstanceType<Kernel['gp_Pnt']> => s.own(new oc.gp_Pnt(p[0], p[1], p[2]));

function bezierEdge(oc: Kernel, s: Scope, poles: readonly Point[], put: Put): TopoDS_Edge {
  const all = s.own(new oc.NCollection_Array1_gp_Pnt(1, poles.length));
  poles.forEach((q, i) => all.SetValue(i + 1, pnt(oc, s, put(q))));
  return s.own(s.own(new oc.BRepBuilderAPI_MakeEdge(s.own(new oc.Geom_BezierCurve(all)))).Edge());
}

type Knots = [InstanceType<Kernel['NCollection_Array1_double']>, InstanceType<Kernel['NCollection_Array1_int']>];

/** Knots 0, 1, 2 … and how often each counts. */
function knotsOf(oc: Kernel, s: Scope, times: readonly number[]): Knots {
  const at = s.own(new oc.NCollection_Array1_double(1, times.length)),
    count = s.own(new oc.NCollection_Array1_int(1, times.length));
  times.forEach((m, i) => {
    at.SetValue(i + 1, i);
    count.SetValue(i + 1, m);
  });
  return [at, count];
}

function edgeOf(oc: Kernel, s: Scope, from: Point, p: Exclude<Piece, { kind: 'curve' }>, put: Put): TopoDS_Edge {
  if (p.kind === 'line') return s.own(s.own(new oc.BRepBuilderAPI_MakeEdge(pnt(oc, s, put(from)), pnt(oc, s, put(p.to)))).Edge());
  if (Math.abs(p.angle) > 1.9 * Math.PI) {
    // A whole circle: its plane by two places a quarter apart.
    const centre = put(p.centre),
      [a, b] = [put(from), put(placeOn(from, p, 0.25))];
    const [u, v] = [a, b].map((q): Vec => [q[0] - centre[0], q[1] - centre[1], q[2] - centre[2]]);
    const normal = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]];
    const axes = s.own(
      new oc.gp_Ax2(pnt(oc, s, centre), s.own(new oc.gp_Dir(normal[0], normal[1], normal[2])), s.own(new oc.gp_Dir(u[0], u[1], u[2]))),
    );
    const r = Math.hypot(from[0] - p.centre[0], from[1] - p.centre[1]);
    return s.own(s.own(new oc.BRepBuilderAPI_MakeEdge(s.own(new oc.gp_Circ(axes, r)))).Edge());
  }
  const arc = s.own(new oc.GC_MakeArcOfCircle(pnt(oc, s, put(from)), pnt(oc, s, put(placeOn(from, p, 0.5))), pnt(oc, s, put(p.to))));
  return s.own(s.own(new oc.BRepBuilderAPI_MakeEdge(s.own(arc.Value()))).Edge());
}

function wireOf(oc: Kernel, s: Scope, o: Outline, put: Put): TopoDS_Wire {
  const wire = s.own(new oc.BRepBuilderAPI_MakeWire());
  eachPiece(o, (from, p) => wire.Add(p.kind === 'curve' ? bezierEdge(oc, s, [from, p.c1, p.c2, p.to], put) : edgeOf(oc, s, from, p, put)));
  return s.own(wire.Wire());
}

/** A flat face: its outline counter-clockwise, holes clockwise, whichever way they were stated. */
function faceOf(oc: Kernel, s: Scope, outline: Outline, holes: readonly Outline[], put: Put): TopoDS_Face {
  const face = s.own(new oc.BRepBuilderAPI_MakeFace(wireOf(oc, s, counterClockwise(outline), put), true));
  for (const h of holes) face.Add(wireOf(oc, s, clockwise(h), put));
  return s.own(face.Face());
}

/**
 * An outline by Bézier curves alone, control points each: lines as they are, arcs within 1e-9 of their radius (pieces of
 * 15°).
 */
function curvesOf(o: Outline): Point[][] {
  const out: Point[][] = [];
  const between = (a: Point, b: Point, t: number): Point => [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])];
  eachPiece(o, (from, p) => {
    if (p.kind === 'curve') {
      out.push([from, p.c1, p.c2, p.to]);
      return;
    }
    if (p.kind === 'line') {
      out.push([from, between(from, p.to, 1 / 2), p.to]);
      return;
    }
    const n = Math.max(1, Math.ceil(Math.abs(p.angle) / (Math.PI / 12)));
    const k = (4 / 3) * Math.tan(p.angle / n / 4);
    const [cx, cy] = p.centre;
    let a = from;
    for (let i = 1; i <= n; i++) {
      const b = i === n ? p.to : placeOn(from, p, i / n);
      out.push([a, [a[0] - k * (a[1] - cy), a[1] + k * (a[0] - cx)], [b[0] + k * (b[1] - cy), b[1] - k * (b[0] - cx)], b]);
      a = b;
    }
  });
  return out;
}

/**
 * The columns of control points over a point of the flat figure, and the knots along them: how the figure is swept. Surfaces are
 * tensor products, so that neighbours share their edges exactly.
 */
interface Sweep {
  degree: number;
  /** How often each knot along it counts. */
  times: readonly number[];
  column(p: Point): Vec[];
  /** The figure at its two ends. */
  ends: [Put, Put];
}

/** Turned evenly about z from one end to the other; a helix within 1e-9 of its radius (pieces of 15°). */
function twisting(from: number, to: number, twist: number): Sweep {
  const n = Math.max(1, Math.ceil(Math.abs(twist) / (Math.PI / 12)));
  const k = (4 / 3) * Math.tan(twist / n / 4);
  const at = ([x, y]: Point, j: number): Vec => {
    const a = twist * (j / n - 0.5);
    return [x * Math.cos(a) - y * Math.sin(a), x * Math.sin(a) + y * Math.cos(a), from + ((to - from) * j) / n];
  };
  const rise = (to - from) / n / 3;
  return {
    degree: 3,
    times: [4, ...Array.from({ length: n - 1 }, () => 2), 4],
    column(p) {
      const out: Vec[] = [];
      for (let j = 0; j <= n; j++) {
        const q = at(p, j);
        if (j > 0) out.push([q[0] + k * q[1], q[1] - k * q[0], q[2] - rise]);
        // Between two pieces of the helix the point itself follows from its neighbours.
        if (j === 0 || j === n) out.push(q);
        if (j < n) out.push([q[0] - k * q[1], q[1] + k * q[0], q[2] + rise]);
      }
      return out;
    },
    ends: [(p) => at(p, 0), (p) => at(p, n)],
  };
}

/** Shrunk straight towards the origin. */
function tapering(height: number, inner: number): Sweep {
  const at =
    (share: number): Put =>
    ([x, y]) => [share * x, share * y, share * height];
  return { degree: 1, times: [2, 2], column: (p) => [at(inner)(p), at(1)(p)], ends: [at(inner), at(1)] };
}

/** The flat face at an end of a sweep, by the curves that its surfaces begin with. */
function endOf(oc: Kernel, s: Scope, flat: readonly (readonly Point[][])[], put: Put): TopoDS_Face {
  const wire = (curves: readonly Point[][]): TopoDS_Wire => {
    const w = s.own(new oc.BRepBuilderAPI_MakeWire());
    for (const poles of curves) w.Add(bezierEdge(oc, s, poles, put));
    return s.own(w.Wire());
  };
  const [edge, ...inside] = flat.map(wire);
  const face = s.own(new oc.BRepBuilderAPI_MakeFace(edge, true));
  for (const w of inside) face.Add(w);
  return s.own(face.Face());
}

/**
 * A swept figure as a solid: a surface for each piece of its outlines and a flat face at each end, sewn. Throws where they
 * do not close.
 */
function swept(oc: Kernel, s: Scope, outline: Outline, holes: readonly Outline[], sweep: Sweep): TopoDS_Shape {
  const sewing = s.own(new oc.BRepBuilderAPI_Sewing(SEWN, true, true, true, false));
  const [v, vm] = knotsOf(oc, s, sweep.times);
  const flat = [counterClockwise(outline), ...holes.map(clockwise)].map(curvesOf);
  for (const curve of flat.flat()) {
    const columns = curve.map((p) => sweep.column(p));
    const poles = s.own(new oc.NCollection_Array2_gp_Pnt(1, columns.length, 1, columns[0].length));
    columns.forEach((c, i) => c.forEach((p, j) => poles.SetValue(i + 1, j + 1, pnt(oc, s, p))));
    const [u, um] = knotsOf(oc, s, [curve.length, curve.length]);
    const surface = s.own(new oc.Geom_BSplineSurface(poles, u, v, um, vm, curve.length - 1, sweep.degree, false, false));
    sewing.Add(s.own(s.own(new oc.BRepBuilderAPI_MakeFace(surface, SEWN)).Face()));
  }
  for (const put of sweep.ends) sewing.Add(endOf(oc, s, flat, put));
  sewing.Perform(s.own(new oc.Message_ProgressRange()));
  const shape = s.own(sewing.SewedShape());
  if (sewing.NbFreeEdges() > 0 || sewing.NbMultipleEdges() > 0 || (shape.ShapeType() as unknown) !== 'TopAbs_SHELL') {
    throw new Error('The faces of a swept body do not close.');
  }
  return s.own(new oc.BRepBuilderAPI_MakeSolid(s.own(oc.TopoDS.Shell(shape)))).Solid();
}

/** A frame as the kernel's placement. */
export function locationOf(oc: Kernel, s: Scope, f: Frame): InstanceType<Kernel['TopLoc_Location']> {
  const t = s.own(new oc.gp_Trsf());
  t.SetValues(f.x[0], f.y[0], f.z[0], f.o[0], f.x[1], f.y[1], f.z[1], f.o[1], f.x[2], f.y[2], f.z[2], f.o[2]);
  return s.own(new oc.TopLoc_Location(t));
}

/**
 * A body as the kernel's solid, in the frame that it is stated in. It is the caller's to delete. Throws where it does not
 * close.
 */
export function solidOf(oc: Kernel, s: Scope, body: Solid): TopoDS_Shape {
  const shape = ownFrame(oc, s, body);
  return body.place && body.place !== WORLD ? s.own(shape).Located(locationOf(oc, s, body.place), true) : shape;
}

function ownFrame(oc: Kernel, s: Scope, body: Solid): TopoDS_Shape {
  if (body.kind === 'turned') {
    const face = faceOf(oc, s, body.section, [], ([r, z]) => [r, 0, z]);
    const axis = s.own(new oc.gp_Ax1(pnt(oc, s, [0, 0, 0]), s.own(new oc.gp_Dir(0, 0, 1))));
    return s.own(new oc.BRepPrimAPI_MakeRevol(face, axis, false)).Shape();
  }
  if (body.kind === 'taper') return swept(oc, s, body.outline, body.holes ?? [], tapering(body.height, body.inner));
  if (body.twist) return swept(oc, s, body.outline, body.holes ?? [], twisting(body.from, body.to, body.twist));
  const lean = body.lean ?? 0;
  const face = faceOf(oc, s, body.outline, body.holes ?? [], ([x, y]) => [x + lean * body.from, y, body.from]);
  const depth = body.to - body.from;
  return s.own(new oc.BRepPrimAPI_MakePrism(face, s.own(new oc.gp_Vec(lean * depth, 0, depth)), false, true)).Shape();
}

/** Volume of a solid of the kernel, mm³. */
export function volumeOf(oc: Kernel, shape: TopoDS_Shape): number {
  const g = new oc.GProp_GProps();
  oc.BRepGProp.VolumeProperties(shape, g, false, false, false);
  const v = g.Mass();
  g.delete();
  return v;
}
