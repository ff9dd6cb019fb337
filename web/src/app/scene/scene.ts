import {
  AmbientLight,
  Box3,
  BufferGeometry,
  Color,
  DirectionalLight,
  Group,
  LineBasicMaterial,
  LineSegments,
  Matrix4,
  Mesh,
  MeshLambertMaterial,
  Plane,
  Scene as Space,
  Vector3,
  WebGLRenderer,
} from 'three';
import { FRAME, Id } from '@unirota/core/document';
import { type Compiled, type Pose, swingingPawls, type Interference, type Overlap } from '@unirota/core';
import { type Vec3, WORLD, toWorldPoint } from '@unirota/core/math';
import { CutFaces } from './cut-faces';
import { type Drawn, ForceArrows } from './force-arrows';
import { LoadArrows } from './load-arrows';
import { Annotations, type Label } from './annotations';
import { drawn, drawnRoughly } from './geometry';
import { type SurfaceContents, drawnShape, quicklyFound } from './imported';
import { drawDetail, drawnByDetail } from './detail';
import { type OnBody, type Part, place, readPlacement } from './parts';
import { Picker, type Spot } from './picker';
import { type Coil, bearings, belts, springs } from './fittings';
import { type KeptView, type View, ViewCamera } from './view-camera';

/** Letters of a remark that are shown in the picture. */
const REMARK_LETTERS = 28;

export type { View };

/**
 * By how many of the least steps of depth bodies that come one after another are kept apart, and how many before it begins again:
 * hundredths of a millimetre altogether.
 */
const RANK = 16,
  RANKS = 8;
/** Length of the longest arrow of an instant's forces, as a part of the picture's height. */
const FORCE = 0.22;
/** Length of a load's arrow, as a part of the picture's height. */
const ARROW = 0.16;

/** The layout in space: true sizes in mm, z up. Knows nothing of the page around it. */
export class Scene {
  private readonly renderer: WebGLRenderer;
  private readonly space = new Space();
  private readonly eye: ViewCamera;
  private readonly picker: Picker;
  private readonly parts: Part[] = [];
  private readonly belts: OnBody[] = [];
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
    this.eye = new ViewCamera(
      alone ? null : canvas,
      () => this.boxes(),
      () => ({
        width: this.lent?.width ?? (canvas.clientWidth || 1.6),
        height: this.lent?.height ?? (canvas.clientHeight || 1),
        covered: this.lent ? 0 : this.covered,
      }),
      () => this.request(),
    );
    this.picker = new Picker(canvas, this.eye.camera, this.parts, () => this.solid());
    this.space.add(this.ambient, this.light);
    this.look('free');
  }

  dispose(): void {
    this.cuts.dispose();
    this.eye.dispose();
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
    this.notes.line.color = new Color(picked);
    this.notes.guide.color = new Color(ink);
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
    for (const b of this.belts) this.space.remove(b.group);
    this.belts.length = 0;
    this.notes.clear();
    for (const s of this.springs) this.space.remove(s.line);
    this.springs = [];
    this.loads.clear();
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
      const rough = drawnByDetail(compiled.design.elements.length);
      const shape = drawnShape(e, this.contents);
      const d = shape ?? (rough ? drawnRoughly(e) : drawn(e));
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
      if (shape) quicklyFound(surface);
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
    this.belts.push(...belts(compiled, this.ink), ...bearings(compiled, this.ink));
    for (const b of this.belts) this.space.add(b.group);
    this.springs = springs(compiled, this.ink);
    for (const spring of this.springs) this.space.add(spring.line);
    this.annotate();
    this.paint();
    this.update();
    this.loads.show(compiled);
    this.cuts.note(this.space);
    this.letGo();
    this.update();
  }

  private contents: SurfaceContents = new Map();
  /** Surfaces of imported shapes that are at hand, before the design that names them is shown. */
  withContents(contents: SurfaceContents): void {
    this.contents = contents;
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
  private readonly notes = new Annotations(this.space);
  private springs: readonly Coil[] = [];
  private readonly loads = new LoadArrows(this.space);
  private readonly forces = new ForceArrows(this.space);
  private forceLabels: Label[] = [];
  private remarkLabels: Label[] = [];
  /** Called after every picture with where the labels stand on it. */
  onDrawn?: (labels: readonly { text: string; tone: string; x: number; y: number }[]) => void;

  /**
   * Pitch circles, lines of centres with their distances, and travels, as asked for; overlaps where teeth stand in each
   * other.
   */
  dimension(what: { circles: boolean; distances: boolean; travel: boolean }, length: (mm: number) => string): void {
    this.notes.dimensions = what;
    this.notes.length = length;
    this.annotate();
    this.letGo();
    this.update();
  }
  trouble(teeth: readonly Overlap[], bodies: readonly Interference[]): void {
    this.notes.overlaps = teeth;
    this.notes.interferences = bodies;
    this.annotate();
    this.update();
  }
  private annotate(): void {
    if (this.compiled) this.notes.show(this.compiled, this.parts, this.picked.member);
    else this.notes.clear();
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
    if (plane) this.cuts.draw(this.renderer, this.space, this.eye.camera, plane, this.cutSize);
    else this.renderer.render(this.space, this.eye.camera);
  }

  /** Cuts everything in front of a plane away: across x, y or z at a place (0 … 1 of what is there); undefined: whole. */
  cut(axis: 'x' | 'y' | 'z' | undefined, share: number): void {
    if (!axis) this.renderer.clippingPlanes = [];
    else {
      const box = this.boxes().reduce((all, b) => all.union(b), new Box3());
      this.cutSize = 4 * box.getSize(this.endA).length();
      const k = 'xyz'.indexOf(axis);
      const at = box.min.getComponent(k) + share * (box.max.getComponent(k) - box.min.getComponent(k));
      const n = new Vector3().setComponent(k, axis === 'y' ? 1 : -1);
      this.renderer.clippingPlanes = [new Plane(n, axis === 'y' ? -at : at)];
    }
    this.request();
  }

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
    for (const p of this.notes.notes) {
      readPlacement(p.group.matrix, t, p.body);
      p.group.matrixWorldNeedsUpdate = true;
    }
    for (const spring of this.springs) spring.update(t);
    this.loads.update(t, readPlacement, s);
    this.request();
  }
  private readonly swung = new Matrix4();
  private readonly endA = new Vector3();

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
      if (this.pose) this.picker.place(this.pose.placements);
      this.tellAxes();
      this.canvas.dataset['shapes'] = String(this.renderer.info.memory.geometries);
      this.canvas.dataset['drawn'] = String(Number(this.canvas.dataset['drawn'] ?? 0) + 1);
    });
  }

  /** How much one pixel is, mm. */
  perPixel(): number {
    return this.eye.height / (this.canvas.clientHeight || 1);
  }

  /** What depends on how large things are seen, and the light. */
  private prepare(): void {
    drawDetail(this.parts, (this.lent?.height ?? this.canvas.clientHeight) / this.eye.height);
    const t = this.pose?.placements;
    if (this.forces.any) this.forces.sized(FORCE * this.eye.height);
    if (t && this.loads.sized(ARROW * this.eye.height)) {
      this.loads.update(t, readPlacement, this.scratch);
    }
    this.light.position.copy(this.eye.camera.position).addScaledVector(this.eye.camera.up, this.eye.camera.position.length() * 0.4);
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

  /** Shows remarks where they are: points of members, mm in their own frames. */
  showRemarks(list: readonly { member: Id; at: Vec3; text: string }[]): void {
    const structure = this.pose?.compiled.structure;
    this.remarkLabels = structure
      ? list.flatMap(({ member, at, text }): Label[] => {
          const frame = member === FRAME ? WORLD : structure.frames.get(member);
          if (!frame) return [];
          const short = text.length > REMARK_LETTERS ? `${text.slice(0, REMARK_LETTERS)}…` : text;
          return [{ text: `❝ ${short}`, tone: 'remark', body: structure.bodyOf.get(member) ?? 0, at: toWorldPoint(frame, at) }];
        })
      : [];
    this.request();
  }

  /** Told after every drawing how the world's axes are seen: x, y, z, two by two, as parts of their length. */
  onTurned?: (to: Float64Array) => void;
  private readonly seen = new Float64Array(6);
  private tellAxes(): void {
    if (!this.onTurned) return;
    const e = this.eye.camera.matrixWorldInverse.elements;
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
        ? [...this.notes.labels, ...this.forceLabels, ...this.remarkLabels].map((l) => {
            readPlacement(this.scratch, t, l.body);
            const v = this.endA.set(l.at[0], l.at[1], l.at[2]).applyMatrix4(this.scratch).project(this.eye.camera);
            return { text: l.text, tone: l.tone, x: w * (1 + v.x), y: h * (1 - v.y) };
          })
        : [],
    );
  }

  /** Names with their places, to be read where the picture cannot: what is labelled now. */
  get labelTexts(): string[] {
    return this.notes.labels.map((l) => l.text);
  }

  /** Takes another size: what was in sight stays in sight. A picture that is not on the page (0 × 0) keeps what it had. */
  size(width: number, height: number): void {
    if (!width || !height || this.lent) return;
    this.renderer.setSize(width, height, false);
    this.eye.span(width, height, this.covered);
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
    this.eye.span(width, height);
  }
  /** The pictures for elsewhere are drawn: the page's own has its size again. */
  drawn(): void {
    if (!this.lent) return;
    this.lent = undefined;
    this.canvas.style.visibility = '';
    const { clientWidth: w, clientHeight: h } = this.canvas;
    if (w && h) {
      this.renderer.setSize(w, h, false);
      this.eye.span(w, h, this.covered);
    }
    this.request();
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
  holdsAll(): boolean {
    return this.eye.holdsAll();
  }
  /** Height of what stands over the picture at its top, px: what is fitted stands below it. */
  covered = 0;
  /** Looks along an axis, or freely, with everything in sight. */
  look(view: View): void {
    this.eye.look(view);
  }
  fit(): void {
    this.eye.fit();
  }
  view(): KeptView {
    return this.eye.view();
  }
  goTo(view: KeptView): void {
    this.eye.goTo(view);
  }
  holdCamera(hold: boolean): void {
    this.eye.hold(hold);
  }

  /** Places that something stands over; where they are in the picture is told after every drawing, pixels two by two. */
  spots(list: readonly Spot[], tell?: (at: Float64Array) => void): void {
    this.picker.spots(list, tell);
    this.request();
  }
  /** Whether nothing stands before one of these places but its own element. */
  sees(k: number): boolean {
    return this.picker.sees(k, this.pose?.placements);
  }
  hit(x: number, y: number): ReturnType<Picker['hit']> {
    return this.picker.hit(x, y);
  }
  onPlane(x: number, y: number, at: Vector3, normal: Vector3): Vector3 | undefined {
    return this.picker.onPlane(x, y, at, normal);
  }
  alongLine(x: number, y: number, at: Vector3, axis: Vector3): number | undefined {
    return this.picker.alongLine(x, y, at, axis);
  }
}
