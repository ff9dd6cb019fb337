import {
  AmbientLight,
  Box3,
  BufferGeometry,
  Color,
  DirectionalLight,
  DoubleSide,
  SphereGeometry,
  Group,
  LineBasicMaterial,
  LineSegments,
  Matrix4,
  Mesh,
  MeshLambertMaterial,
  MeshBasicMaterial,
  OrthographicCamera,
  Plane,
  Quaternion,
  Raycaster,
  Scene as Space,
  Vector2,
  Vector3,
  WebGLRenderer,
} from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import { Element, FRAME, Id } from '@unirota/core/document';
import { Frame, PLACEMENT } from '@unirota/core/math';
import {
  type ActingLoad,
  type CarriedJoint,
  type Compiled,
  type SwingingPawl,
  bearingSolids,
  type Pose,
  stopsOf,
  swingingPawls,
  type Interference,
  type Overlap,
} from '@unirota/core';
import { Vec3, cross, dot, norm, toWorldPoint, vadd, vscale, vsub } from '@unirota/core/math';
import { gearOf, pulleyRadius, wormWheelRadius } from '@unirota/core/elements';
import { toNumber } from '@unirota/core/math';
import { CutFaces } from './cut-faces';
import { type Drawn, ForceArrows } from './force-arrows';
import { LoadArrows } from './load-arrows';
import { type Helix, band, coil, drawn, drawnRoughly, drawnSolids, patch, polyline } from './geometry';

/** A ball of radius 1, scaled to what it shows. */
const BALL = new SphereGeometry(1, 24, 16);

/** A text that stands at a place of the layout. Place in its body's reference frame, mm. */
export interface Label {
  text: string;
  tone: 'dimension' | 'trouble' | 'force';
  body: number;
  at: Vec3;
}

/** Beyond so many elements those that are small on the screen are drawn roughly. */
const MANY = 24;
const ROUGH_PIXELS = 70;
/**
 * By how many of the least steps of depth bodies that come one after another are kept apart, and how many before it begins again:
 * hundredths of a millimetre altogether.
 */
const RANK = 16,
  RANKS = 8;
/** Turns of a thread are drawn where they are so far apart on the screen, px. */
const APART = 3;
/** Length of the longest arrow of an instant's forces, as a part of the picture's height. */
const FORCE = 0.22;
/** Length of a load's arrow, as a part of the picture's height. */
const ARROW = 0.16;

export type View = 'front' | 'side' | 'top' | 'free';

interface Part {
  element: Id;
  member: Id;
  body: number;
  group: Group;
  surface: Mesh<BufferGeometry, MeshLambertMaterial>;
  lines: LineSegments;
  still: Matrix4;
  /** Of a pawl: how it swings about its pin. */
  swing?: SwingingPawl;
  shape: Element;
  /** Radius of the ball round it, mm. */
  size: number;
  rough: boolean;
}

const DIRECTIONS: Record<View, [Vector3, Vector3]> = {
  front: [new Vector3(0, -1, 0), new Vector3(0, 0, 1)],
  side: [new Vector3(1, 0, 0), new Vector3(0, 0, 1)],
  top: [new Vector3(0, 0, 1), new Vector3(0, 1, 0)],
  free: [new Vector3(-0.55, -1, 0.55).normalize(), new Vector3(0, 0, 1)],
};

const place = (f: Frame): Matrix4 =>
  new Matrix4().set(f.x[0], f.y[0], f.z[0], f.o[0], f.x[1], f.y[1], f.z[1], f.o[1], f.x[2], f.y[2], f.z[2], f.o[2], 0, 0, 0, 1);

/** A body's placement (m) as a matrix in mm; allocates nothing. */
function readPlacement(into: Matrix4, t: Float64Array, body: number): void {
  const b = PLACEMENT * body;
  into.set(
    t[b],
    t[b + 1],
    t[b + 2],
    t[b + 3] * 1000,
    t[b + 4],
    t[b + 5],
    t[b + 6],
    t[b + 7] * 1000,
    t[b + 8],
    t[b + 9],
    t[b + 10],
    t[b + 11] * 1000,
    0,
    0,
    0,
    1,
  );
}

/** The layout in space: true sizes in mm, z up. Knows nothing of the page around it. */
export class Scene {
  private readonly renderer: WebGLRenderer;
  private readonly space = new Space();
  private readonly camera = new OrthographicCamera(-1, 1, 1, -1, -1e5, 1e5);
  private readonly controls: OrbitControls;
  private readonly parts: Part[] = [];
  private readonly belts: { group: Group; body: number }[] = [];
  private readonly caster = new Raycaster();
  private readonly pointer = new Vector2();
  private readonly scratch = new Matrix4();
  private readonly light = new DirectionalLight(0xffffff, 1.7);
  private requested = false;
  private pose?: Pose;
  private readonly ink = new LineBasicMaterial();
  private readonly inkPicked = new LineBasicMaterial();
  private readonly ambient = new AmbientLight(0xffffff, 1.5);
  private picked: { member?: Id; element?: Id } = {};
  private colourOf: (member: Id, given?: string) => string = () => '#c9c4b8';

  /** `alone`: it draws pictures for elsewhere, in a worker. Nobody turns it, and nothing stands on a page. */
  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly alone = false,
  ) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true, stencil: true, preserveDrawingBuffer: false });
    // Asking for compile errors waits for the graphics processor; the shaders are the library's own.
    this.renderer.debug.checkShaderErrors = false;
    this.renderer.setPixelRatio(alone ? 1 : Math.min(2, devicePixelRatio));
    this.camera.up.set(0, 0, 1);
    this.controls = new OrbitControls(this.camera, alone ? null : canvas);
    this.controls.enableDamping = false;
    this.controls.addEventListener('change', () => this.request());
    this.space.add(this.ambient, this.light);
    this.look('free');
  }

  dispose(): void {
    this.cuts.dispose();
    if (!this.alone) this.controls.dispose();
    this.clear();
    this.letGo();
    this.renderer.dispose();
  }

  theme(ink: string, picked: string, dark: boolean, violet: string, teal: string, paper: string): void {
    this.loads.theme(violet, teal);
    this.forces.theme(violet, teal);
    this.cuts.theme(ink, paper);
    this.ink.color = new Color(ink);
    this.inkPicked.color = new Color(picked);
    this.dimensionLine.color = new Color(picked);
    this.ambient.intensity = dark ? 1.1 : 1.6;
    this.request();
  }

  private clear(): void {
    this.solidNow = undefined;
    for (const p of this.parts) {
      this.space.remove(p.group);
      p.surface.material.dispose();
    }
    this.parts.length = 0;
    for (const b of [...this.belts, ...this.notes]) this.space.remove(b.group);
    this.belts.length = 0;
    this.notes.length = 0;
    for (const s of this.springs) this.space.remove(s.line);
    this.springs.length = 0;
    this.loads.clear();
    this.labels = [];
  }

  /** Shows another state of the design. Geometry of unchanged elements is taken over. */
  show(compiled: Compiled, pose: Pose): void {
    this.heldAll = this.holdsAll();
    this.clear();
    this.pose = pose;
    const swings = new Map(swingingPawls(pose.kinematics).map((s) => [s.element, s]));
    for (const e of compiled.design.elements) {
      const frame = compiled.elementFrames.get(e.id);
      if (!frame) continue;
      const rough = compiled.design.elements.length > MANY;
      const d = rough ? drawnRoughly(e) : drawn(e);
      if (!d.surface.boundingSphere) d.surface.computeBoundingSphere();
      // Faces of two bodies that lie in each other: always the same of them is in front, whatever rounding says as the view turns.
      const polygonOffsetUnits = 1 + RANK * (this.parts.length % RANKS);
      const material = new MeshLambertMaterial({ color: 0xffffff, polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits });
      const surface = new Mesh(d.surface, material);
      const lines = new LineSegments(d.lines, this.ink);
      const group = new Group();
      group.matrixAutoUpdate = false;
      group.add(surface, lines);
      surface.userData['element'] = e.id;
      const part: Part = {
        element: e.id,
        member: e.member,
        body: e.member === FRAME ? 0 : (compiled.structure.bodyOf.get(e.member) ?? 0),
        group,
        surface,
        lines,
        still: place(frame),
        swing: swings.get(e.id),
        shape: e,
        size: d.surface.boundingSphere?.radius ?? 0,
        rough,
      };
      this.parts.push(part);
      this.space.add(group);
    }
    this.compiled = compiled;
    this.showBelts(compiled);
    this.showBearings(compiled);
    this.showSprings(compiled);
    this.annotate();
    this.paint();
    this.update();
    this.loads.show(compiled);
    this.cuts.note(this.space);
    this.letGo();
    this.update();
  }

  /** Shapes that are in the picture. */
  private held = new Set<BufferGeometry>();
  /** Gives back what the graphics processor holds of shapes that are no longer in the picture. */
  private letGo(): void {
    const now = new Set<BufferGeometry>();
    this.space.traverse((o) => {
      if (o instanceof Mesh || o instanceof LineSegments) now.add(o.geometry as BufferGeometry);
    });
    for (const g of this.held) if (!now.has(g)) g.dispose();
    this.held = now;
  }

  private compiled?: Compiled;
  private readonly notes: { group: Group; body: number }[] = [];
  private readonly springs: { line: LineSegments; a: number; pa: Vec3; b: number; pb: Vec3; radius: number }[] = [];
  private readonly loads = new LoadArrows(this.space);
  private readonly forces = new ForceArrows(this.space);
  private forceLabels: Label[] = [];
  private labels: Label[] = [];
  private readonly dimensionLine = new LineBasicMaterial({ transparent: true, opacity: 0.85 });
  private readonly troubleFace = new MeshBasicMaterial({ color: 0xb23a2a, side: DoubleSide, depthTest: false, transparent: true, opacity: 0.85 });
  private dimensions = { circles: false, distances: false, travel: false };
  private overlaps: readonly Overlap[] = [];
  private interferences: readonly Interference[] = [];
  private length = (mm: number): string => `${Number(mm.toFixed(3))} mm`;
  /** Called after every picture with where the labels stand on it. */
  onDrawn?: (labels: readonly { text: string; tone: string; x: number; y: number }[]) => void;

  /** Springs between points as coils that follow both ends. */
  private showSprings(compiled: Compiled): void {
    const { structure, design } = compiled;
    const shape = coil();
    for (const l of design.loads as ActingLoad[]) {
      if (l.type !== 'spring') continue;
      const end = (id: Id = FRAME, at: Vec3 = [0, 0, 0]): [number, Vec3] => {
        const f = structure.frames.get(id);
        return [structure.bodyOf.get(id) ?? 0, f ? toWorldPoint(f, at) : [0, 0, 0]];
      };
      const [a, pa] = end(l.member, l.at),
        [b, pb] = end(l.other, l.otherAt);
      const line = new LineSegments(shape, this.ink);
      line.matrixAutoUpdate = false;
      this.springs.push({ line, a, pa, b, pb, radius: Math.max(3, Math.min(12, norm(vsub(pb, pa)) * 0.08)) });
      this.space.add(line);
    }
  }

  /** Pitch circles, lines of centres with their distances, and travels, as asked for; overlaps where teeth stand in each other. */
  dimension(what: { circles: boolean; distances: boolean; travel: boolean }, length: (mm: number) => string): void {
    this.dimensions = what;
    this.length = length;
    this.annotate();
    this.letGo();
    this.update();
  }
  trouble(teeth: readonly Overlap[], bodies: readonly Interference[]): void {
    this.overlaps = teeth;
    this.interferences = bodies;
    this.annotate();
    this.update();
  }
  private annotate(): void {
    for (const n of this.notes) this.space.remove(n.group);
    this.notes.length = 0;
    this.labels = [];
    const c = this.compiled;
    if (!c) return;
    const put = (body: number, ...things: (LineSegments | Mesh)[]): void => {
      const group = new Group();
      group.matrixAutoUpdate = false;
      group.add(...things);
      this.notes.push({ group, body });
      this.space.add(group);
    };
    const text = (x: number): string => String(Number(x.toFixed(3))).replace('-', '−');
    // The selected member's own axes, in which its elements are placed.
    const own = this.picked.member === undefined ? undefined : c.structure.frames.get(this.picked.member);
    if (own) {
      const body = c.structure.bodyOf.get(this.picked.member!) ?? 0;
      const reach = 1.25 * Math.max(20, ...this.parts.filter((p) => p.member === this.picked.member).map((p) => Math.min(p.size, 200)));
      for (const [name, axis] of [
        ['x', own.x],
        ['y', own.y],
        ['z', own.z],
      ] as const) {
        const end = vadd(own.o, vscale(axis, reach));
        put(body, new LineSegments(polyline([own.o, end], false), this.dimensionLine));
        this.labels.push({ text: name, tone: 'dimension', body, at: end });
      }
    }
    if (this.dimensions.circles) {
      for (const e of c.design.elements) {
        const f = c.elementFrames.get(e.id);
        const r =
          e.type === 'gear' || e.type === 'sector'
            ? gearOf(e).pitchRadius
            : e.type === 'pulley'
              ? pulleyRadius(e)
              : e.type === 'worm-wheel'
                ? wormWheelRadius(e)
                : 0;
        if (!f || !(r > 0)) continue;
        const points = Array.from({ length: 72 }, (_, i): Vec3 => {
          const a = (2 * Math.PI * i) / 72;
          return vadd(f.o, vadd(vscale(f.x, r * Math.cos(a)), vscale(f.y, r * Math.sin(a))));
        });
        put(c.structure.bodyOf.get(e.member) ?? 0, new LineSegments(polyline(points, true), this.dimensionLine));
      }
    }
    if (this.dimensions.distances) {
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
        put(body, new LineSegments(polyline([a.o, vadd(a.o, across)], false), this.dimensionLine));
        this.labels.push({ text: `a ${this.length(d)}`, tone: 'dimension', body, at: vadd(a.o, vscale(across, 0.5)) });
      }
    }
    if (this.dimensions.travel) {
      for (const q of c.structure.coordinates) {
        if (q.order !== 0 || q.joint.child === FRAME) continue;
        const { lower, upper } = stopsOf(q);
        if (!lower && !upper) continue;
        const body = c.structure.bodyOf.get(q.joint.parent) ?? 0;
        const end = (v: typeof lower): number | undefined => v && toNumber(v);
        if (q.motion === 'slide') {
          const [lo, hi] = [end(lower) ?? 0, end(upper) ?? 0];
          const at = (s: number): Vec3 => vadd(q.point, vscale(q.axis, s));
          const side = cross(q.axis, Math.abs(q.axis[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0]);
          const tick = (s: number): LineSegments =>
            new LineSegments(polyline([vadd(at(s), vscale(side, -18)), vadd(at(s), vscale(side, 18))], false), this.dimensionLine);
          put(
            body,
            new LineSegments(polyline([at(lo), at(hi)], false), this.dimensionLine),
            ...(lower ? [tick(lo)] : []),
            ...(upper ? [tick(hi)] : []),
          );
          if (lower) this.labels.push({ text: this.length(lo), tone: 'dimension', body, at: at(lo) });
          if (upper) this.labels.push({ text: this.length(hi), tone: 'dimension', body, at: at(hi) });
        } else {
          const r = Math.max(30, ...this.parts.filter((p) => p.member === q.joint.child).map((p) => Math.min(p.size, 300) * 0.7));
          const x = cross(q.axis, Math.abs(q.axis[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0]),
            y = cross(q.axis, x);
          const at = (t: number): Vec3 => vadd(q.point, vadd(vscale(x, r * Math.cos(2 * Math.PI * t)), vscale(y, r * Math.sin(2 * Math.PI * t))));
          const [lo, hi] = [end(lower) ?? 0, end(upper) ?? 0];
          const span = Math.max(-1, Math.min(1, hi - lo));
          put(
            body,
            new LineSegments(
              polyline(
                Array.from({ length: 37 }, (_, i) => at(lo + (span * i) / 36)),
                false,
              ),
              this.dimensionLine,
            ),
          );
          if (lower) this.labels.push({ text: `${text(lo * 360)}°`, tone: 'dimension', body, at: at(lo) });
          if (upper) this.labels.push({ text: `${text(hi * 360)}°`, tone: 'dimension', body, at: at(hi) });
        }
      }
    }
    for (const o of this.overlaps) {
      const coupled = c.couplings.find((x) => x.coupling.id === o.coupling);
      if (!coupled) continue;
      const normal = coupled.model.ports[0].axis;
      for (const outline of o.outlines) {
        if (outline.length < 3) continue;
        const mesh = new Mesh(patch(outline, normal), this.troubleFace);
        mesh.renderOrder = 5;
        put(0, mesh);
      }
      const first = o.outlines[0]?.[0];
      if (first) this.labels.push({ text: `${Number(o.area.toPrecision(3))} mm²`, tone: 'trouble', body: 0, at: first });
    }
    // The largest ball that fits in both members.
    for (const o of this.interferences) {
      const ball = new Mesh(BALL, this.troubleFace);
      ball.position.set(...o.at);
      ball.scale.setScalar(Math.max(o.depth / 2, 1));
      ball.renderOrder = 5;
      put(0, ball);
      this.labels.push({ text: `${this.length(o.depth)} overlap`, tone: 'trouble', body: 0, at: [o.at[0], o.at[1], o.at[2]] });
    }
  }

  /** Leaves members out of the picture, and shows others through. */
  visibility(hidden: ReadonlySet<Id>, through: ReadonlySet<Id>): void {
    this.hiddenMembers = hidden;
    this.throughMembers = through;
    this.paint();
  }
  /** The surfaces that can be pointed at: shown, and not seen through. */
  private solid(): Mesh[] {
    this.solidNow ??= this.parts.filter((p) => p.group.visible && !this.throughMembers.has(p.member)).map((p) => p.surface);
    return this.solidNow;
  }
  private solidNow: Mesh[] | undefined;
  private hiddenMembers: ReadonlySet<Id> = new Set();
  private throughMembers: ReadonlySet<Id> = new Set();

  private readonly cuts = new CutFaces();
  private cutSize = 1;
  /** Draws the picture: whole, or cut with its faces hatched. */
  private draw(): void {
    const [plane] = this.renderer.clippingPlanes as Plane[];
    if (plane) this.cuts.draw(this.renderer, this.space, this.camera, plane, this.cutSize);
    else this.renderer.render(this.space, this.camera);
  }

  /** Cuts everything in front of a plane away: across x, y or z at a place (0 … 1 of what is there); undefined: whole. */
  cut(axis: 'x' | 'y' | 'z' | undefined, share: number): void {
    if (!axis) this.renderer.clippingPlanes = [];
    else {
      const box = this.box();
      this.cutSize = 4 * box.getSize(this.endA).length();
      const k = 'xyz'.indexOf(axis);
      const at = box.min.getComponent(k) + share * (box.max.getComponent(k) - box.min.getComponent(k));
      const n = new Vector3().setComponent(k, axis === 'y' ? 1 : -1);
      this.renderer.clippingPlanes = [new Plane(n, axis === 'y' ? -at : at)];
    }
    this.request();
  }

  /** The view as it is now, for keeping it; and going to a kept one. */
  view(): { from: Vec3; up: Vec3; target: Vec3; height: number } {
    const d = this.camera.position.clone().sub(this.controls.target).normalize();
    const v = (x: Vector3): Vec3 => [x.x, x.y, x.z].map((n) => Number(n.toFixed(6)) + 0) as unknown as Vec3;
    return {
      from: v(d),
      up: v(this.camera.up),
      target: v(this.controls.target),
      height: Number(((this.camera.top - this.camera.bottom) / this.camera.zoom).toFixed(4)),
    };
  }
  goTo(v: { from: Vec3; up: Vec3; target: Vec3; height: number }): void {
    this.camera.up.set(...v.up);
    this.fit(new Vector3(...v.from));
    const distance = this.camera.position.distanceTo(this.controls.target);
    this.controls.target.set(...v.target);
    this.camera.position.copy(this.controls.target).addScaledVector(new Vector3(...v.from).normalize(), distance);
    this.camera.zoom = (this.camera.top - this.camera.bottom) / v.height;
    this.camera.updateProjectionMatrix();
    this.controls.update();
    this.request();
  }

  /** Draws near wheels fully and far ones roughly, by their size on the screen. */
  private detail(): void {
    const perMm = ((this.lent?.height ?? this.canvas.clientHeight) * this.camera.zoom) / (this.camera.top - this.camera.bottom);
    for (const p of this.parts) {
      // Lines of a thread that would run into each other are left out.
      const { step, bare } = p.lines.geometry.userData as Partial<Helix>;
      if (step !== undefined) p.lines.geometry.setDrawRange(0, step * perMm < APART ? bare! : Infinity);
      if (this.parts.length <= MANY) continue;
      const rough = p.size * perMm < ROUGH_PIXELS;
      if (rough === p.rough) continue;
      p.rough = rough;
      const d = rough ? drawnRoughly(p.shape) : drawn(p.shape);
      p.surface.geometry = d.surface;
      p.lines.geometry = d.lines;
    }
  }

  /** Belts and chains as bands round their wheels; they stand where the wheels' carrier stands. */
  private showBelts(compiled: Compiled): void {
    for (const { model } of compiled.couplings) {
      if (model.law !== 'band' || !model.band) continue;
      const { path } = model.band;
      const [first] = model.ports;
      const { surface, lines } = band(path.points, path.width, first.axis);
      const group = new Group();
      group.matrixAutoUpdate = false;
      group.add(new Mesh(surface, this.belt), new LineSegments(lines, this.ink));
      const body = compiled.structure.bodyOf.get(first.carrier) ?? 0;
      this.belts.push({ group, body });
      this.space.add(group);
    }
  }

  /** Stated bearings, on what carries the joint. */
  private showBearings(compiled: Compiled): void {
    for (const j of compiled.design.joints as CarriedJoint[]) {
      const frame = compiled.structure.jointFrames.get(j.id);
      if (!j.bearings?.length || !frame) continue;
      const d = drawnSolids(j.bearings.flatMap(bearingSolids));
      const still = new Group();
      still.matrixAutoUpdate = false;
      still.matrix.copy(place(frame));
      still.add(new Mesh(d.surface, this.bearing), new LineSegments(d.lines, this.ink));
      const group = new Group();
      group.matrixAutoUpdate = false;
      group.add(still);
      this.belts.push({ group, body: j.parent === FRAME ? 0 : (compiled.structure.bodyOf.get(j.parent) ?? 0) });
      this.space.add(group);
    }
  }
  private readonly belt = new MeshLambertMaterial({
    color: 0x6d6458,
    side: DoubleSide,
    polygonOffset: true,
    polygonOffsetFactor: 1,
    polygonOffsetUnits: 1,
  });
  private readonly bearing = new MeshLambertMaterial({ color: 0xb9b4a6, polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 });

  colours(of: (member: Id, given?: string) => string): void {
    this.colourOf = of;
    this.paint();
  }
  pick(sel: { member?: Id; element?: Id }): void {
    const other = this.picked.member !== sel.member;
    this.picked = sel;
    if (other) {
      this.annotate();
      this.update();
    }
    this.paint();
  }
  private paint(): void {
    this.solidNow = undefined;
    for (const p of this.parts) {
      const on = p.element === this.picked.element || (this.picked.member !== undefined && p.member === this.picked.member);
      p.group.visible = !this.hiddenMembers.has(p.member);
      const through = this.throughMembers.has(p.member);
      if (p.surface.material.transparent !== through) {
        p.surface.material.transparent = through;
        p.surface.material.opacity = through ? 0.22 : 1;
        p.surface.material.depthWrite = !through;
        p.surface.material.needsUpdate = true;
      }
      p.surface.material.color.set(this.colourOf(p.member, p.shape.colour));
      p.lines.material = on ? this.inkPicked : this.ink;
      p.surface.material.emissive.set(on ? 0x4a3200 : 0x000000);
    }
    this.request();
  }

  /** Puts every part where the mechanism has it now. Allocates nothing. */
  update(): void {
    const t = this.pose?.placements;
    if (!t) return;
    const s = this.scratch;
    for (const p of this.parts) {
      readPlacement(s, t, p.body);
      p.group.matrix.multiplyMatrices(s, p.still);
      if (p.swing && this.pose) p.group.matrix.multiply(this.swung.makeRotationZ(p.swing.at(this.pose.q)));
      p.group.matrixWorldNeedsUpdate = true;
    }
    for (const p of this.belts) {
      readPlacement(p.group.matrix, t, p.body);
      p.group.matrixWorldNeedsUpdate = true;
    }
    for (const p of this.notes) {
      readPlacement(p.group.matrix, t, p.body);
      p.group.matrixWorldNeedsUpdate = true;
    }
    for (const p of this.springs) {
      readPlacement(s, t, p.a);
      this.endA.set(p.pa[0], p.pa[1], p.pa[2]).applyMatrix4(s);
      readPlacement(s, t, p.b);
      this.endB.set(p.pb[0], p.pb[1], p.pb[2]).applyMatrix4(s).sub(this.endA);
      const length = this.endB.length() || 1;
      this.turnTo.setFromUnitVectors(this.zAxis, this.endB.divideScalar(length));
      p.line.matrix.compose(this.endA, this.turnTo, this.scaleTo.set(p.radius, p.radius, length));
      p.line.matrixWorldNeedsUpdate = true;
    }
    this.loads.update(t, readPlacement, s);
    this.request();
  }
  private readonly swung = new Matrix4();
  private readonly endA = new Vector3();
  private readonly endB = new Vector3();
  private readonly zAxis = new Vector3(0, 0, 1);
  private readonly turnTo = new Quaternion();
  private readonly scaleTo = new Vector3();

  private request(): void {
    // What is drawn for elsewhere is drawn when it is asked for.
    if (this.requested || this.lent || this.alone) return;
    this.requested = true;
    requestAnimationFrame(() => {
      this.requested = false;
      if (!this.canvas.clientWidth) return;
      this.prepare();
      this.draw();
      this.placeLabels();
      this.placeSpots();
      this.tellAxes();
      this.canvas.dataset['shapes'] = String(this.renderer.info.memory.geometries);
      this.canvas.dataset['drawn'] = String(Number(this.canvas.dataset['drawn'] ?? 0) + 1);
    });
  }

  /** What depends on how large things are seen, and the light. */
  private prepare(): void {
    this.detail();
    const t = this.pose?.placements;
    if (this.forces.any) this.forces.sized((FORCE * (this.camera.top - this.camera.bottom)) / this.camera.zoom);
    if (t && this.loads.sized((ARROW * (this.camera.top - this.camera.bottom)) / this.camera.zoom)) {
      this.loads.update(t, readPlacement, this.scratch);
    }
    this.light.position.copy(this.camera.position).addScaledVector(this.camera.up, this.camera.position.length() * 0.4);
  }

  /** Stated loads as arrows, or not while forces of an instant stand there. */
  showStatedLoads(on: boolean): void {
    this.loads.visible(on);
    this.request();
  }

  /** Shows forces and moments of an instant as arrows in the world; the longest stands for `longest`. */
  showForces(list: readonly (Drawn & { text?: string })[], longest: { force: number; moment: number }): void {
    this.forces.show(list, longest);
    this.forceLabels = list.flatMap((d) =>
      d.text ? [{ text: d.text, tone: 'force', body: 0, at: [d.point[0], d.point[1], d.point[2]] as Vec3 }] : [],
    );
    this.request();
  }

  /** Told after every drawing how the world's axes are seen: x, y, z, two by two, as parts of their length. */
  onTurned?: (to: Float64Array) => void;
  private readonly seen = new Float64Array(6);
  private tellAxes(): void {
    if (!this.onTurned) return;
    const e = this.camera.matrixWorldInverse.elements;
    for (let k = 0; k < 3; k++) {
      this.seen[2 * k] = e[4 * k];
      this.seen[2 * k + 1] = e[4 * k + 1];
    }
    this.onTurned(this.seen);
  }

  private placeLabels(): void {
    if (!this.onDrawn) return;
    const t = this.pose?.placements;
    const w = this.canvas.clientWidth / 2,
      h = this.canvas.clientHeight / 2;
    this.onDrawn(
      t
        ? [...this.labels, ...this.forceLabels].map((l) => {
            readPlacement(this.scratch, t, l.body);
            const v = this.endA.set(l.at[0], l.at[1], l.at[2]).applyMatrix4(this.scratch).project(this.camera);
            return { text: l.text, tone: l.tone, x: w * (1 + v.x), y: h * (1 - v.y) };
          })
        : [],
    );
  }

  /**
   * Places that something stands over: body and point in its reference frame. Where they are on the picture is told after every
   * drawing, pixels two by two.
   */
  spots(list: readonly { element: Id; body: number; at: Vec3 }[], tell?: (at: Float64Array) => void): void {
    this.spotList = list;
    this.spotPlaces = new Float64Array(2 * list.length);
    this.tellSpots = tell;
    this.request();
  }
  private spotList: readonly { element: Id; body: number; at: Vec3 }[] = [];
  /** Whether nothing stands before one of these places but its own element. */
  sees(k: number): boolean {
    const spot = this.spotList[k];
    const t = this.pose?.placements;
    if (!spot || !t) return true;
    readPlacement(this.scratch, t, spot.body);
    const at = this.endA.set(spot.at[0], spot.at[1], spot.at[2]).applyMatrix4(this.scratch);
    this.pointer.set(this.endB.copy(at).project(this.camera).x, this.endB.y);
    this.caster.setFromCamera(this.pointer, this.camera);
    const far = at.distanceTo(this.caster.ray.origin);
    const [first] = this.caster.intersectObjects(this.solid(), false);
    if (!first || first.distance >= far - 1e-3 * this.camera.far) return true;
    return this.parts.find((p) => p.surface === first.object)?.element === spot.element;
  }
  private spotPlaces = new Float64Array(0);
  private tellSpots?: (at: Float64Array) => void;
  private placeSpots(): void {
    const t = this.pose?.placements;
    if (!t || !this.tellSpots) return;
    const w = this.canvas.clientWidth / 2,
      h = this.canvas.clientHeight / 2;
    this.spotList.forEach((s, k) => {
      readPlacement(this.scratch, t, s.body);
      const v = this.endA.set(s.at[0], s.at[1], s.at[2]).applyMatrix4(this.scratch).project(this.camera);
      this.spotPlaces[2 * k] = w * (1 + v.x);
      this.spotPlaces[2 * k + 1] = h * (1 - v.y);
    });
    this.tellSpots(this.spotPlaces);
  }

  /** Names with their places, to be read where the picture cannot: what is labelled now. */
  get labelTexts(): string[] {
    return this.labels.map((l) => l.text);
  }

  /** Takes another size: what was in sight stays in sight. A picture that is not on the page (0 × 0) keeps what it had. */
  size(width: number, height: number): void {
    if (!width || !height || this.lent) return;
    this.renderer.setSize(width, height, false);
    this.span(width, height, this.covered);
    this.request();
  }

  /** The size that pictures are drawn in for elsewhere; the page's own waits meanwhile. */
  private lent: { width: number; height: number } | undefined;
  /**
   * Draws what is seen into another picture of any size, at once. Taking
   * another size costs far more than a picture, so it is kept until `drawn`.
   */
  drawInto(into: OffscreenCanvasRenderingContext2D, width: number, height: number): void {
    this.lend(width, height);
    this.update();
    this.prepare();
    this.draw();
    into.drawImage(this.canvas, 0, 0, width, height);
  }
  /** Takes the size of the pictures for elsewhere. */
  lend(width: number, height: number): void {
    if (this.lent?.width === width && this.lent.height === height) return;
    this.lent = { width, height };
    // Nobody looks at it meanwhile: the browser need not put it on the page with every picture.
    if (!this.alone) this.canvas.style.visibility = 'hidden';
    this.renderer.setSize(width, height, false);
    this.span(width, height);
  }
  /** The pictures for elsewhere are drawn: the page's own has its size again. */
  drawn(): void {
    if (!this.lent) return;
    this.lent = undefined;
    this.canvas.style.visibility = '';
    const { clientWidth: w, clientHeight: h } = this.canvas;
    if (w && h) {
      this.renderer.setSize(w, h, false);
      this.span(w, h, this.covered);
    }
    this.request();
  }

  /** Opens the camera as far as what was fitted needs in a picture of this shape. */
  private span(width: number, height: number, covered = 0): void {
    // mm a pixel, for what is left of the height under the buttons.
    const free = Math.max(height - covered, height / 2);
    const scale = 1.08 * Math.max((2 * this.reach.h) / free, (2 * this.reach.w) / width);
    const down = (scale * (height - free)) / 2;
    this.camera.top = (scale * height) / 2 + down;
    this.camera.bottom = (-scale * height) / 2 + down;
    this.camera.left = (-scale * width) / 2;
    this.camera.right = (scale * width) / 2;
    this.camera.updateProjectionMatrix();
  }
  /** Height of what stands over the picture at its top, px: what is fitted stands below it. */
  covered = 0;
  /** Half the width and height, mm, of what was last fitted as the camera sees it. */
  private readonly reach = { w: 1, h: 1 };

  /** Looks along an axis, or freely, with everything in sight. */
  look(view: View): void {
    const [from, up] = DIRECTIONS[view];
    this.camera.up.copy(up);
    this.fit(from);
  }

  /** The boxes round the parts that are shown; one in the middle where none is. */
  private boxes(): Box3[] {
    this.space.updateMatrixWorld(true);
    const all = this.parts.filter((p) => p.group.visible).map((p) => new Box3().setFromObject(p.group));
    const some = all.filter((b) => !b.isEmpty());
    return some.length ? some : [new Box3(new Vector3(-100, -100, -100), new Vector3(100, 100, 100))];
  }
  /** Whether the picture held everything before the present state of the design was shown. */
  heldAll = true;
  /** Whether the picture holds everything that is shown. */
  holdsAll(): boolean {
    const corner = new Vector3();
    // As the camera stands now, not as it stood when the last picture was drawn.
    this.camera.updateMatrixWorld();
    return this.boxes().every((b) => {
      for (let i = 0; i < 8; i++) {
        corner.set(i & 1 ? b.max.x : b.min.x, i & 2 ? b.max.y : b.min.y, i & 4 ? b.max.z : b.min.z).project(this.camera);
        if (Math.abs(corner.x) > 1 || Math.abs(corner.y) > 1) return false;
      }
      return true;
    });
  }
  private box(): Box3 {
    return this.boxes().reduce((all, b) => all.union(b), new Box3());
  }

  fit(from?: Vector3): void {
    const box = this.box();
    const centre = box.getCenter(new Vector3());
    const direction = from ?? this.camera.position.clone().sub(this.controls.target).normalize();
    this.controls.target.copy(centre);
    const radius = box.getSize(new Vector3()).length() / 2;
    this.camera.position.copy(centre).addScaledVector(direction, radius * 3);
    // A tight range of depths keeps hidden lines hidden.
    this.camera.near = 0;
    this.camera.far = radius * 8;
    this.camera.lookAt(centre);
    this.camera.updateMatrixWorld(true);
    // The corners of every part as the camera sees them decide scale and middle.
    const lo = new Vector3(Infinity, Infinity, 0),
      hi = new Vector3(-Infinity, -Infinity, 0),
      corner = new Vector3();
    for (const one of this.boxes()) {
      for (let i = 0; i < 8; i++) {
        corner
          .set(i & 1 ? one.max.x : one.min.x, i & 2 ? one.max.y : one.min.y, i & 4 ? one.max.z : one.min.z)
          .applyMatrix4(this.camera.matrixWorldInverse);
        lo.min(corner);
        hi.max(corner);
      }
    }
    this.reach.w = Math.max(1, (hi.x - lo.x) / 2);
    this.reach.h = Math.max(1, (hi.y - lo.y) / 2);
    const shift = corner.set((lo.x + hi.x) / 2, (lo.y + hi.y) / 2, 0).applyQuaternion(this.camera.quaternion);
    this.camera.position.add(shift);
    this.controls.target.add(shift);
    this.camera.zoom = 1;
    if (this.lent) this.span(this.lent.width, this.lent.height);
    else this.span(this.canvas.clientWidth || 1.6, this.canvas.clientHeight || 1, this.covered);
    this.controls.update();
    this.request();
  }

  private aim(x: number, y: number): void {
    const r = this.canvas.getBoundingClientRect();
    this.pointer.set(((x - r.left) / r.width) * 2 - 1, -((y - r.top) / r.height) * 2 + 1);
    this.caster.setFromCamera(this.pointer, this.camera);
  }

  /** The element under a point of the page, and where on it, mm. */
  hit(x: number, y: number): { element: Id; member: Id; body: number; at: Vector3; normal?: Vector3 } | undefined {
    this.aim(x, y);
    const [found] = this.caster.intersectObjects(this.solid(), false);
    if (!found) return undefined;
    const p = this.parts.find((q) => q.surface === found.object)!;
    return { element: p.element, member: p.member, body: p.body, at: found.point.clone(), normal: found.face?.normal.clone() };
  }

  /** Where the ray under a point of the page meets the plane through `at` across `normal`; undefined when seen edge on. */
  onPlane(x: number, y: number, at: Vector3, normal: Vector3): Vector3 | undefined {
    this.aim(x, y);
    const { origin, direction } = this.caster.ray;
    const d = direction.dot(normal);
    if (Math.abs(d) < 0.05) return undefined;
    return origin.clone().addScaledVector(direction, at.clone().sub(origin).dot(normal) / d);
  }

  /** The point of a line nearest to the ray, as a distance along the line from `at`. */
  alongLine(x: number, y: number, at: Vector3, axis: Vector3): number | undefined {
    this.aim(x, y);
    const { origin, direction } = this.caster.ray;
    const w = at.clone().sub(origin);
    const b = direction.dot(axis);
    const den = 1 - b * b;
    if (den < 1e-3) return undefined;
    return (b * direction.dot(w) - axis.dot(w)) / den;
  }

  holdCamera(hold: boolean): void {
    this.controls.enabled = !hold;
  }
}
