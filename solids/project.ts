import type { BRepAdaptor_Curve, TopoDS_Shape } from 'replicad-opencascadejs';
import { type DrawnBody, type DrawnView, type DrawnPath, type Projection, drawnOnce, inView, takenBy } from '@unirota/core';
import { dot, vadd, vscale, vsub } from '@unirota/core/math';
import type { Point, Solid } from '@unirota/core/solids';
import { locationOf, solidOf } from './build';
import { type Kernel, Scope, scoped } from './kernel';
import { type Xyz, eachPart, vec } from './places';
import { solidIn, worded } from './step';

/** Lines of a projected curve pass within this of it, mm, and turn by no more than that, rad. */
const CHORD = 0.02,
  TURN = 0.1;

/** The bodies of a drawing as the kernel's solids, made once for all its views. */
export class DrawnSolids {
  private readonly scope = new Scope();
  private readonly made = new Map<string, TopoDS_Shape[]>();
  constructor(private readonly oc: Kernel) {}

  /** A body's solids in the world. */
  of(b: DrawnBody, part: 'whole' | 'core' | 'ring'): TopoDS_Shape[] {
    const { oc, scope } = this;
    const key = `${part} ${b.shape}`;
    let own = this.made.get(key);
    if (!own) {
      const solids: readonly Solid[] = part === 'whole' ? b.whole : (b.cored?.[part] ?? []);
      own = worded(`“${b.name}” cannot be made as a solid`, () =>
        b.step ? [scope.own(solidIn(oc, scope, b.step))] : solids.map((x) => scope.own(solidOf(oc, scope, x))),
      );
      this.made.set(key, own);
    }
    const at = locationOf(oc, scope, b.place);
    return own.map((x) => scope.own(x.Located(at, true)));
  }
  free(): void {
    this.scope.free();
    this.made.clear();
  }
}

const flat = (p: Xyz): Point => [p.X(), p.Y()];

/** Places along a curve between which it is drawn straight. */
function placesAlong<T>(oc: Kernel, s: Scope, c: BRepAdaptor_Curve, as: (p: Xyz) => T): T[] {
  const places = s.own(new oc.GCPnts_TangentialDeflection(c, c.FirstParameter(), c.LastParameter(), TURN, CHORD, 2, 1e-9, 1e-7));
  return Array.from({ length: places.NbPoints() }, (_, i) => as(s.own(places.Value(i + 1))));
}

/** The edges of a projected shape as paths. */
function pathsOf(oc: Kernel, shape: TopoDS_Shape | null, out: DrawnPath[]): void {
  if (!shape || shape.IsNull()) return;
  oc.BRepLib.BuildCurves3d(shape);
  eachPart(oc, shape, 'EDGE', (part, s) => {
    const c = s.own(new oc.BRepAdaptor_Curve(s.own(oc.TopoDS.Edge(part))));
    const [a, b] = [c.FirstParameter(), c.LastParameter()];
    const at = (t: number): Point => flat(s.own(c.Value(t)));
    const kind = c.GetType() as unknown as string;
    if (kind === 'GeomAbs_Line') {
      out.push({ start: at(a), pieces: [{ kind: 'line', to: at(b) }] });
      return;
    }
    if (kind === 'GeomAbs_Circle') {
      const circle = s.own(c.Circle());
      const centre = flat(s.own(circle.Location()));
      const [start, next] = [at(a), at(a + (b - a) / 64)];
      // The circle's axis may look either way.
      const sense = Math.sign((start[0] - centre[0]) * (next[1] - centre[1]) - (start[1] - centre[1]) * (next[0] - centre[0])) || 1;
      out.push({ start, pieces: [{ kind: 'arc', centre, angle: sense * (b - a), to: at(b) }] });
      return;
    }
    const points = placesAlong(oc, s, c, flat);
    out.push(straight(points) ?? { start: points[0], pieces: points.slice(1).map((to) => ({ kind: 'line', to })) });
  });
}

/** A curve that is seen edge on is a straight line. */
function straight(points: readonly Point[]): DrawnPath | undefined {
  const [first, last] = [points[0], points[points.length - 1]];
  let [low, high] = [first, first];
  // Its ends may lie within it: the two places that are furthest apart along it count.
  const far = points.reduce((m, p) => (Math.hypot(p[0] - first[0], p[1] - first[1]) > Math.hypot(m[0] - first[0], m[1] - first[1]) ? p : m), last);
  const [dx, dy] = [far[0] - first[0], far[1] - first[1]];
  const length = Math.hypot(dx, dy);
  if (length < 1e-9) return undefined;
  const along = (p: Point): number => ((p[0] - first[0]) * dx + (p[1] - first[1]) * dy) / length;
  for (const p of points) {
    if (Math.abs((p[0] - first[0]) * dy - (p[1] - first[1]) * dx) / length > 1e-5) return undefined;
    if (along(p) < along(low)) low = p;
    if (along(p) > along(high)) high = p;
  }
  return { start: low, pieces: [{ kind: 'line', to: high }] };
}

/** A half of the world as a solid: what lies beyond a plane, as far as it matters. */
function beyond(oc: Kernel, s: Scope, { right, up, cut }: DrawnView, reach: number): TopoDS_Shape {
  const { along, at } = cut!;
  const box = s.own(s.own(new oc.BRepPrimAPI_MakeBox(2 * reach, 2 * reach, 2 * reach)).Shape());
  const o = vsub(vscale(along, at), vscale(vadd(right, up), reach));
  return s.own(box.Located(locationOf(oc, s, { o, x: up, y: right, z: along }), true));
}

/** The edges of the faces of a cut solid that lie in the plane of the cut: x0, y0, x1, y1 of each of their pieces. */
function cutEdges(oc: Kernel, shape: TopoDS_Shape, view: DrawnView): number[] {
  const { along, at } = view.cut!;
  const out: number[] = [];
  eachPart(oc, shape, 'FACE', (part, s) => {
    const face = s.own(oc.TopoDS.Face(part));
    const surface = s.own(new oc.BRepAdaptor_Surface(face, true));
    if ((surface.GetType() as unknown as string) !== 'GeomAbs_Plane') return;
    const plane = s.own(surface.Plane());
    const normal = vec(s.own(s.own(plane.Axis()).Direction())),
      on = vec(s.own(plane.Location()));
    if (Math.abs(Math.abs(dot(normal, along)) - 1) > 1e-9 || Math.abs(dot(on, along) - at) > 1e-5) return;
    eachPart(oc, face, 'EDGE', (e, own) => {
      const c = own.own(new oc.BRepAdaptor_Curve(own.own(oc.TopoDS.Edge(e))));
      const points = placesAlong(oc, own, c, (p) => inView(view, vec(p)));
      for (let i = 1; i < points.length; i++) out.push(...points[i - 1], ...points[i]);
    });
  });
  return out;
}

/** How far bodies reach from the origin, mm. */
const REACH = 1e5;

/**
 * What is seen of bodies in a view, hidden lines by the kernel's exact algorithm; of a section what lies beyond its plane, and
 * the edges of the faces that it cuts. A pictorial view has no hidden lines.
 */
export const project = (oc: Kernel, solids: DrawnSolids, bodies: readonly DrawnBody[], view: DrawnView, hidden: boolean): Projection =>
  worded(`The view from ${view.side} cannot be drawn`, () => seenOf(oc, solids, bodies, view, hidden && view.side !== 'pictorial'));

function seenOf(oc: Kernel, solids: DrawnSolids, bodies: readonly DrawnBody[], view: DrawnView, hidden: boolean): Projection {
  return scoped((s) => {
    const algorithm = s.own(new oc.HLRBRep_Algo());
    const cuts: Projection['cuts'] = [];
    const half = view.cut && beyond(oc, s, view, REACH);
    let count = 0;
    const add = (shape: TopoDS_Shape): void => {
      algorithm.Add(shape, 0);
      count++;
    };
    for (const b of bodies) {
      const taken = takenBy(view, b);
      if (taken === 'gone') continue;
      if (taken === 'whole') {
        solids.of(b, 'whole').forEach(add);
        continue;
      }
      for (const part of taken === 'cored' ? (['core', 'ring'] as const) : (['whole'] as const)) {
        for (const x of solids.of(b, part)) {
          const common = s.own(new oc.BRepAlgoAPI_Common(x, half!, s.own(new oc.Message_ProgressRange())));
          const kept = s.own(common.Shape());
          let any = false;
          eachPart(oc, kept, 'SOLID', () => (any = true));
          if (!any) continue;
          add(kept);
          const edges = part === 'ring' ? [] : cutEdges(oc, kept, view);
          if (edges.length) cuts.push({ edges, hatch: b.hatch });
        }
      }
    }
    const seen: Projection = { visible: [], hidden: [], cuts };
    if (!count) return seen;
    const axes = s.own(
      new oc.gp_Ax2(
        s.own(new oc.gp_Pnt(0, 0, 0)),
        s.own(new oc.gp_Dir(view.towards[0], view.towards[1], view.towards[2])),
        s.own(new oc.gp_Dir(view.right[0], view.right[1], view.right[2])),
      ),
    );
    algorithm.Projector(s.own(new oc.HLRAlgo_Projector(axes)));
    algorithm.Update();
    algorithm.Hide();
    const shown = s.own(new oc.HLRBRep_HLRToShape(algorithm));
    for (const shape of [shown.VCompound(), shown.OutLineVCompound()]) pathsOf(oc, shape && s.own(shape), seen.visible);
    if (hidden) for (const shape of [shown.HCompound(), shown.OutLineHCompound()]) pathsOf(oc, shape && s.own(shape), seen.hidden);
    return drawnOnce(seen);
  });
}
