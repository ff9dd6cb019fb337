import type { TopoDS_Edge, TopoDS_Face, TopoDS_Shape, TopoDS_Vertex } from 'replicad-opencascadejs';
import { type Vec3, dot, norm, unit, vadd, vscale, vsub } from '@unirota/core/math';
import type { ShapePlace } from '@unirota/core/shapes';
import { type Kernel, Scope, scoped } from './kernel';

/** Places nearer than this, mm, with directions alike, are one. */
const ONE = 1e-4;

export interface Xyz {
  X(): number;
  Y(): number;
  Z(): number;
}
/** A place or a direction of the kernel. */
export const vec = (p: Xyz): Vec3 => [p.X(), p.Y(), p.Z()];
const mid = (a: number, b: number): number => (a + b) / 2;

/** Calls with every face, edge or corner of a shape, each once for each time that it occurs. */
export function eachPart(
  oc: Kernel,
  shape: TopoDS_Shape,
  kind: 'FACE' | 'EDGE' | 'VERTEX' | 'SOLID',
  call: (part: TopoDS_Shape, s: Scope) => void,
): void {
  const e = oc.TopAbs_ShapeEnum as unknown as Record<string, never>;
  const explorer = new oc.TopExp_Explorer(shape, e[`TopAbs_${kind}`], e['TopAbs_SHAPE']);
  try {
    for (; explorer.More(); explorer.Next()) scoped((s) => call(s.own(explorer.Current()), s));
  } finally {
    explorer.delete();
  }
}

/** An axis by its direction, and the point of its line nearest to the origin; so that two halves of a hole have the same one. */
function axisKey(point: Vec3, direction: Vec3, r: number): string {
  // Of the two senses the one whose first part that counts is positive.
  const first = direction.find((x) => Math.abs(x) > 1e-6) ?? 1;
  const d = first < 0 ? vscale(direction, -1) : direction;
  const foot = vsub(point, vscale(d, dot(point, d)));
  return [...d.map((x) => x * 1e3), ...foot.map((x) => x / ONE / 10), r / ONE / 10].map((x) => Math.round(x) + 0).join(' ');
}

function facePlace(oc: Kernel, s: Scope, face: TopoDS_Face, reversed: boolean, put: (p: ShapePlace, key: string) => void): void {
  const a = s.own(new oc.BRepAdaptor_Surface(face, true));
  const kind = a.GetType() as unknown as string;
  const axis = (of: { Axis(): { delete(): void; Direction(): Xyz & { delete(): void }; Location(): Xyz & { delete(): void } } }, r: number): void => {
    const line = s.own(of.Axis());
    const direction = unit(vec(s.own(line.Direction())));
    const on = vec(s.own(line.Location()));
    // In the middle of its surface, along the axis.
    const at = vec(s.own(a.Value(mid(a.FirstUParameter(), a.LastUParameter()), mid(a.FirstVParameter(), a.LastVParameter()))));
    const along = dot(vsub(at, on), direction);
    const point = Number.isFinite(along) ? vadd(on, vscale(direction, along)) : on;
    put({ kind: 'axis', point, direction, size: 2 * r }, `axis ${axisKey(point, direction, r)}`);
  };
  if (kind === 'GeomAbs_Plane') {
    const g = s.own(new oc.GProp_GProps());
    oc.BRepGProp.SurfaceProperties(face, g, false, false);
    const plane = s.own(a.Plane());
    const n = unit(vec(s.own(s.own(plane.Axis()).Direction())));
    // The plane's own normal turns with its axes' hand; the face says whether it looks the other way.
    const outward = plane.Direct() === !reversed ? n : vscale(n, -1);
    put({ kind: 'face', point: vec(s.own(g.CentreOfMass())), direction: outward, size: g.Mass() }, '');
  } else if (kind === 'GeomAbs_Cylinder') {
    const c = s.own(a.Cylinder());
    axis(c, c.Radius());
  } else if (kind === 'GeomAbs_Cone') {
    // The kernel does not tell a cone's axis: its round edges do.
    eachPart(oc, face, 'EDGE', (e, own) => {
      const c = own.own(new oc.BRepAdaptor_Curve(own.own(oc.TopoDS.Edge(e))));
      if ((c.GetType() as unknown as string) === 'GeomAbs_Circle') axis(own.own(c.Circle()), 0);
    });
  }
  if (kind === 'GeomAbs_Sphere') {
    const b = s.own(a.Sphere());
    const point = vec(s.own(b.Location()));
    put({ kind: 'centre', point, direction: [0, 0, 0], size: 2 * b.Radius() }, `ball ${point.map((x) => Math.round(x / ONE)).join(' ')}`);
  }
}

function edgePlace(oc: Kernel, s: Scope, edge: TopoDS_Edge, put: (p: ShapePlace, key: string) => void): void {
  const a = s.own(new oc.BRepAdaptor_Curve(edge));
  const kind = a.GetType() as unknown as string;
  const at = (t: number): Vec3 => vec(s.own(a.Value(t)));
  if (kind === 'GeomAbs_Circle') {
    const c = s.own(a.Circle());
    const line = s.own(c.Axis());
    const point = vec(s.own(line.Location())),
      direction = unit(vec(s.own(line.Direction())));
    const r = c.Radius();
    put({ kind: 'centre', point, direction, size: 2 * r }, `${point.map((x) => Math.round(x / ONE)).join(' ')} ${axisKey(point, direction, r)}`);
  } else if (kind === 'GeomAbs_Line') {
    const [p, q] = [at(a.FirstParameter()), at(a.LastParameter())];
    const length = norm(vsub(q, p));
    if (!(length > ONE)) return;
    const key = [p, q]
      .map((x) => x.map((v) => Math.round(v / ONE) + 0).join(' '))
      .sort()
      .join(' ');
    put({ kind: 'edge', point: vscale(vadd(p, q), 0.5), direction: unit(vsub(q, p)), size: length }, `edge ${key}`);
  }
}

/** All places of a solid of the kernel in its own frame, each once, mm. */
export function placesIn(oc: Kernel, shape: TopoDS_Shape): ShapePlace[] {
  const out: ShapePlace[] = [];
  const had = new Map<string, number>();
  const put = (p: ShapePlace, key: string): void => {
    if (![...p.point, ...p.direction, p.size].every(Number.isFinite)) return;
    const same = key ? had.get(key) : undefined;
    if (same === undefined) {
      if (key) had.set(key, out.length);
      out.push(p);
    } else if (p.kind === 'axis') {
      // Parts of one cylinder: the middle between them.
      const o = out[same];
      out[same] = { ...o, point: vscale(vadd(o.point, p.point), 0.5) };
    }
  };
  eachPart(oc, shape, 'FACE', (f, s) => {
    const face = s.own(oc.TopoDS.Face(f));
    facePlace(oc, s, face, (face.Orientation() as unknown as string) === 'TopAbs_REVERSED', put);
  });
  eachPart(oc, shape, 'EDGE', (e, s) => edgePlace(oc, s, s.own(oc.TopoDS.Edge(e)), put));
  eachPart(oc, shape, 'VERTEX', (v, s) => {
    const point = vec(s.own(oc.BRep_Tool.Pnt(s.own(oc.TopoDS.Vertex(v)) as TopoDS_Vertex)));
    put({ kind: 'corner', point, direction: [0, 0, 0], size: 0 }, `corner ${point.map((x) => Math.round(x / ONE) + 0).join(' ')}`);
  });
  return out;
}

/** Moments of a solid over its volume, mm²; and volume and centroid. */
export function solidSize(
  oc: Kernel,
  shape: TopoDS_Shape,
): { volume: number; centroid: Vec3; inertia: [number, number, number, number, number, number] } {
  return scoped((s) => {
    const g = s.own(new oc.GProp_GProps());
    oc.BRepGProp.VolumeProperties(shape, g, false, false, false);
    const volume = g.Mass();
    const centroid = vec(s.own(g.CentreOfMass()));
    // The moment about any axis through the centroid: the products follow from those about axes between two of x, y, z.
    const about = (d: Vec3): number => {
      const axis = s.own(new oc.gp_Ax1(s.own(new oc.gp_Pnt(centroid[0], centroid[1], centroid[2])), s.own(new oc.gp_Dir(d[0], d[1], d[2]))));
      return g.MomentOfInertia(axis) / volume;
    };
    const h = Math.SQRT1_2;
    const [xx, yy, zz] = [about([1, 0, 0]), about([0, 1, 0]), about([0, 0, 1])];
    // I(d) = dᵀ I d, so for d = (1, 1, 0)/√2 it is (xx + yy)/2 + xy.
    const [xy, yz, zx] = [about([h, h, 0]) - (xx + yy) / 2, about([0, h, h]) - (yy + zz) / 2, about([h, 0, h]) - (zz + xx) / 2];
    return { volume, centroid, inertia: [xx, yy, zz, xy, yz, zx] };
  });
}
