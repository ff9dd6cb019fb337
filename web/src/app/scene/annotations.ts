import { DoubleSide, Group, LineBasicMaterial, LineSegments, Mesh, MeshBasicMaterial, type Scene as Space, SphereGeometry } from 'three';
import { type Compiled, type Coordinate, type Interference, type Overlap, stopsOf } from '@unirota/core';
import { FRAME, type Id } from '@unirota/core/document';
import { type Vec3, cross, dot, norm, toNumber, vadd, vscale, vsub } from '@unirota/core/math';
import { chainLine, patch, polyline } from './geometry';
import type { OnBody, Part } from './parts';
import { referenceLines } from './reference-lines';

/** A text that stands at a place of the layout. Place in its body's reference frame, mm. */
export interface Label {
  text: string;
  tone: 'dimension' | 'trouble' | 'force' | 'remark';
  body: number;
  at: Vec3;
}

/** A ball of radius 1, scaled to what it shows. */
const BALL = new SphereGeometry(1, 24, 16);

/** What is drawn beside the bodies, besides trouble. */
export interface Dimensions {
  readonly circles: boolean;
  readonly distances: boolean;
  readonly travel: boolean;
}

const text = (x: number): string => String(Number(x.toFixed(3))).replace('-', '−');
/** Lines, circles and texts in space: own axes of what is selected, dimensions, and where bodies stand in each other. */
export class Annotations {
  readonly notes: OnBody[] = [];
  labels: Label[] = [];
  readonly line = new LineBasicMaterial({ transparent: true, opacity: 0.85 });
  /** What a design is laid out by is seen through the bodies. */
  readonly guide = new LineBasicMaterial({ depthTest: false, transparent: true, opacity: 0.85 });
  private readonly face = new MeshBasicMaterial({ color: 0xb23a2a, side: DoubleSide, depthTest: false, transparent: true, opacity: 0.85 });
  dimensions: Dimensions = { circles: false, distances: false, travel: false };
  overlaps: readonly Overlap[] = [];
  interferences: readonly Interference[] = [];
  length = (mm: number): string => `${Number(mm.toFixed(3))} mm`;

  constructor(private readonly space: Space) {}

  clear(): void {
    for (const n of this.notes) {
      this.space.remove(n.group);
      for (const drawn of n.group.children) if (drawn instanceof LineSegments || drawn instanceof Mesh) drawn.geometry.dispose();
    }
    this.notes.length = 0;
    this.labels = [];
  }

  /** Draws what is asked for of a design, with the axes of the member that is selected. */
  show(c: Compiled, parts: readonly Part[], member?: Id): void {
    this.clear();
    if (member !== undefined) this.axes(c, parts, member);
    if (this.dimensions.circles) this.circles(c);
    if (this.dimensions.distances) this.distances(c);
    if (this.dimensions.travel) for (const q of c.structure.coordinates) this.travel(c, parts, q);
    this.trouble(c);
  }

  private put(body: number, ...things: (LineSegments | Mesh)[]): void {
    const group = new Group();
    group.matrixAutoUpdate = false;
    group.add(...things);
    this.notes.push({ group, body });
    this.space.add(group);
  }

  /** A member's own axes, in which its elements are placed. */
  private axes(c: Compiled, parts: readonly Part[], member: Id): void {
    const own = c.structure.frames.get(member);
    if (!own) return;
    const body = c.structure.bodyOf.get(member) ?? 0;
    const reach = 1.25 * Math.max(20, ...parts.filter((p) => p.member === member).map((p) => Math.min(p.size, 200)));
    for (const [name, axis] of [
      ['x', own.x],
      ['y', own.y],
      ['z', own.z],
    ] as const) {
      const end = vadd(own.o, vscale(axis, reach));
      this.put(body, new LineSegments(polyline([own.o, end], false), this.line));
      this.labels.push({ text: name, tone: 'dimension', body, at: end });
    }
  }

  /** Pitch circles, pitch lines and axes. */
  private circles(c: Compiled): void {
    for (const e of c.design.elements) {
      const f = c.elementFrames.get(e.id);
      if (!f) continue;
      const out = ([x, y, z]: Vec3): Vec3 => vadd(f.o, vadd(vscale(f.x, x), vadd(vscale(f.y, y), vscale(f.z, z))));
      const { circle, line, axis } = referenceLines(e);
      const round = (r: number, z: number): Vec3[] =>
        Array.from({ length: 96 }, (_, i) => {
          const a = (2 * Math.PI * i) / 96;
          return out([r * Math.cos(a), r * Math.sin(a), z]);
        });
      // Five patterns and a last long dash.
      const straight = ([from, to]: readonly [Vec3, Vec3]): Vec3[] =>
        Array.from({ length: 46 }, (_, i) => out(vadd(from, vscale(vsub(to, from), i / 45))));
      const drawn = [
        ...(circle ? [chainLine(round(circle.radius, circle.at), true)] : []),
        ...[line, axis].flatMap((ends) => (ends ? [chainLine(straight(ends), false)] : [])),
      ];
      if (!drawn.length) continue;
      const lines = drawn.map((g) => new LineSegments(g, this.guide));
      for (const l of lines) l.renderOrder = 4;
      this.put(c.structure.bodyOf.get(e.member) ?? 0, ...lines);
    }
  }

  /** Lines of centres with their distances. */
  private distances(c: Compiled): void {
    for (const { coupling, model } of c.couplings) {
      const a = c.elementFrames.get((coupling['a'] ?? (coupling['wheels'] as Id[] | undefined)?.[0]) as Id),
        b = c.elementFrames.get((coupling['b'] ?? (coupling['wheels'] as Id[] | undefined)?.[1]) as Id);
      if (!a || !b || !['gear-pair', 'sector-mesh', 'belt', 'chain', 'rolling'].includes(coupling.type) || Math.abs(dot(a.z, b.z)) < 1 - 1e-9) {
        continue;
      }
      const off = vsub(b.o, a.o);
      const across = vsub(off, vscale(a.z, dot(off, a.z)));
      const d = norm(across);
      if (d < 1e-6) continue;
      const body = c.structure.bodyOf.get(model.ports[0].carrier) ?? 0;
      this.put(body, new LineSegments(polyline([a.o, vadd(a.o, across)], false), this.line));
      this.labels.push({ text: `a ${this.length(d)}`, tone: 'dimension', body, at: vadd(a.o, vscale(across, 0.5)) });
    }
  }

  /** How far a joint goes, between its stops. */
  private travel(c: Compiled, parts: readonly Part[], q: Coordinate): void {
    if (q.order !== 0 || q.joint.child === FRAME) return;
    const { lower, upper } = stopsOf(q);
    if (!lower && !upper) return;
    const body = c.structure.bodyOf.get(q.joint.parent) ?? 0;
    const end = (v: typeof lower): number | undefined => v && toNumber(v);
    if (q.motion === 'slide') {
      const [lo, hi] = [end(lower) ?? 0, end(upper) ?? 0];
      const at = (s: number): Vec3 => vadd(q.point, vscale(q.axis, s));
      const side = cross(q.axis, Math.abs(q.axis[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0]);
      const tick = (s: number): LineSegments =>
        new LineSegments(polyline([vadd(at(s), vscale(side, -18)), vadd(at(s), vscale(side, 18))], false), this.line);
      this.put(body, new LineSegments(polyline([at(lo), at(hi)], false), this.line), ...(lower ? [tick(lo)] : []), ...(upper ? [tick(hi)] : []));
      if (lower) this.labels.push({ text: this.length(lo), tone: 'dimension', body, at: at(lo) });
      if (upper) this.labels.push({ text: this.length(hi), tone: 'dimension', body, at: at(hi) });
    } else {
      const r = Math.max(30, ...parts.filter((p) => p.member === q.joint.child).map((p) => Math.min(p.size, 300) * 0.7));
      const x = cross(q.axis, Math.abs(q.axis[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0]),
        y = cross(q.axis, x);
      const at = (t: number): Vec3 => vadd(q.point, vadd(vscale(x, r * Math.cos(2 * Math.PI * t)), vscale(y, r * Math.sin(2 * Math.PI * t))));
      const [lo, hi] = [end(lower) ?? 0, end(upper) ?? 0];
      const span = Math.max(-1, Math.min(1, hi - lo));
      this.put(
        body,
        new LineSegments(
          polyline(
            Array.from({ length: 37 }, (_, i) => at(lo + (span * i) / 36)),
            false,
          ),
          this.line,
        ),
      );
      if (lower) this.labels.push({ text: `${text(lo * 360)}°`, tone: 'dimension', body, at: at(lo) });
      if (upper) this.labels.push({ text: `${text(hi * 360)}°`, tone: 'dimension', body, at: at(hi) });
    }
  }

  private trouble(c: Compiled): void {
    for (const o of this.overlaps) {
      const coupled = c.couplings.find((x) => x.coupling.id === o.coupling);
      if (!coupled) continue;
      const normal = coupled.model.ports[0].axis;
      for (const outline of o.outlines) {
        if (outline.length < 3) continue;
        const mesh = new Mesh(patch(outline, normal), this.face);
        mesh.renderOrder = 5;
        this.put(0, mesh);
      }
      const first = o.outlines[0]?.[0];
      if (first) this.labels.push({ text: `${Number(o.area.toPrecision(3))} mm²`, tone: 'trouble', body: 0, at: first });
    }
    // The largest ball that fits in both members.
    for (const o of this.interferences) {
      const ball = new Mesh(BALL, this.face);
      ball.position.set(...o.at);
      ball.scale.setScalar(Math.max(o.depth / 2, 1));
      ball.renderOrder = 5;
      this.put(0, ball);
      this.labels.push({ text: `${this.length(o.depth)} overlap`, tone: 'trouble', body: 0, at: [o.at[0], o.at[1], o.at[2]] });
    }
  }
}
