import {
  AmbientLight,
  Box3,
  BufferGeometry,
  Color,
  DirectionalLight,
  DoubleSide,
  Group,
  LineBasicMaterial,
  LineSegments,
  Matrix4,
  Mesh,
  MeshLambertMaterial,
  OrthographicCamera,
  Raycaster,
  Scene as Space,
  Vector2,
  Vector3,
  WebGLRenderer,
} from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import { FRAME, Id } from '@unirota/core/design';
import { Frame, PLACEMENT } from '@unirota/core/numeric';
import type { Compiled, Mechanism } from '@unirota/core/mechanism';
import { band, drawn } from './geometry';

export type View = 'front' | 'side' | 'top' | 'free';

interface Part {
  element: Id;
  member: Id;
  body: number;
  group: Group;
  surface: Mesh<BufferGeometry, MeshLambertMaterial>;
  lines: LineSegments;
  still: Matrix4;
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
  private mechanism?: Mechanism;
  private readonly ink = new LineBasicMaterial();
  private readonly inkPicked = new LineBasicMaterial();
  private readonly ambient = new AmbientLight(0xffffff, 1.5);
  private picked: { member?: Id; element?: Id } = {};
  private colourOf: (member: Id) => string = () => '#c9c4b8';

  constructor(private readonly canvas: HTMLCanvasElement) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true, preserveDrawingBuffer: false });
    this.renderer.setPixelRatio(Math.min(2, devicePixelRatio));
    this.camera.up.set(0, 0, 1);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.enableDamping = false;
    this.controls.addEventListener('change', () => this.request());
    this.space.add(this.ambient, this.light);
    this.look('free');
  }

  dispose(): void {
    this.controls.dispose();
    this.clear();
    this.renderer.dispose();
  }

  theme(ink: string, picked: string, dark: boolean): void {
    this.ink.color = new Color(ink);
    this.inkPicked.color = new Color(picked);
    this.ambient.intensity = dark ? 1.1 : 1.6;
    this.request();
  }

  private clear(): void {
    for (const p of this.parts) {
      this.space.remove(p.group);
      p.surface.material.dispose();
    }
    this.parts.length = 0;
    for (const b of this.belts) this.space.remove(b.group);
    this.belts.length = 0;
  }

  /** Shows another state of the design. Geometry of unchanged elements is taken over. */
  show(compiled: Compiled, mechanism: Mechanism): void {
    this.clear();
    this.mechanism = mechanism;
    for (const e of compiled.design.elements) {
      const frame = compiled.elementFrames.get(e.id);
      if (!frame) continue;
      const d = drawn(e);
      const material = new MeshLambertMaterial({ color: 0xffffff, polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 });
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
      };
      this.parts.push(part);
      this.space.add(group);
    }
    this.showBelts(compiled);
    this.paint();
    this.update();
  }

  /** Belts and chains as bands round their wheels; they stand where the wheels' carrier stands. */
  private showBelts(compiled: Compiled): void {
    for (const { model } of compiled.couplings) {
      if (!model.path) continue;
      const [first] = model.ports;
      const { surface, lines } = band(model.path.points, model.path.width, first.axis);
      const group = new Group();
      group.matrixAutoUpdate = false;
      const mesh = new Mesh(
        surface,
        new MeshLambertMaterial({ color: 0x6d6458, side: DoubleSide, polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 }),
      );
      group.add(mesh, new LineSegments(lines, this.ink));
      const body = compiled.structure.bodyOf.get(first.carrier) ?? 0;
      this.belts.push({ group, body });
      this.space.add(group);
    }
  }

  colours(of: (member: Id) => string): void {
    this.colourOf = of;
    this.paint();
  }
  pick(sel: { member?: Id; element?: Id }): void {
    this.picked = sel;
    this.paint();
  }
  private paint(): void {
    for (const p of this.parts) {
      const on = p.element === this.picked.element || (this.picked.member !== undefined && p.member === this.picked.member);
      p.surface.material.color.set(this.colourOf(p.member));
      p.lines.material = on ? this.inkPicked : this.ink;
      p.surface.material.emissive.set(on ? 0x4a3200 : 0x000000);
    }
    this.request();
  }

  /** Puts every part where the mechanism has it now. Allocates nothing. */
  update(): void {
    const t = this.mechanism?.placements;
    if (!t) return;
    const s = this.scratch;
    for (const p of this.parts) {
      readPlacement(s, t, p.body);
      p.group.matrix.multiplyMatrices(s, p.still);
      p.group.matrixWorldNeedsUpdate = true;
    }
    for (const p of this.belts) {
      readPlacement(p.group.matrix, t, p.body);
      p.group.matrixWorldNeedsUpdate = true;
    }
    this.request();
  }

  private request(): void {
    if (this.requested) return;
    this.requested = true;
    requestAnimationFrame(() => {
      this.requested = false;
      this.light.position.copy(this.camera.position).addScaledVector(this.camera.up, this.camera.position.length() * 0.4);
      this.renderer.render(this.space, this.camera);
      this.canvas.dataset['drawn'] = String(Number(this.canvas.dataset['drawn'] ?? 0) + 1);
    });
  }

  size(width: number, height: number): void {
    this.renderer.setSize(width, height, false);
    const h = (this.camera.top - this.camera.bottom) / 2;
    this.camera.left = (-h * width) / height;
    this.camera.right = (h * width) / height;
    this.camera.updateProjectionMatrix();
    this.request();
  }

  /** Looks along an axis, or freely, with everything in sight. */
  look(view: View): void {
    const [from, up] = DIRECTIONS[view];
    this.camera.up.copy(up);
    this.fit(from);
  }

  fit(from?: Vector3): void {
    const box = new Box3();
    this.space.updateMatrixWorld(true);
    for (const p of this.parts) box.expandByObject(p.group);
    if (box.isEmpty()) box.set(new Vector3(-100, -100, -100), new Vector3(100, 100, 100));
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
    // The box's corners as the camera sees them decide the scale.
    let w = 1,
      h = 1;
    const corner = new Vector3();
    for (let i = 0; i < 8; i++) {
      corner
        .set(i & 1 ? box.max.x : box.min.x, i & 2 ? box.max.y : box.min.y, i & 4 ? box.max.z : box.min.z)
        .applyMatrix4(this.camera.matrixWorldInverse);
      w = Math.max(w, Math.abs(corner.x));
      h = Math.max(h, Math.abs(corner.y));
    }
    const aspect = this.canvas.clientWidth / Math.max(1, this.canvas.clientHeight) || 1.6;
    const half = Math.max(h, w / aspect) * 1.08;
    this.camera.zoom = 1;
    this.camera.top = half;
    this.camera.bottom = -half;
    this.camera.left = -half * aspect;
    this.camera.right = half * aspect;
    this.camera.updateProjectionMatrix();
    this.controls.update();
    this.request();
  }

  private aim(x: number, y: number): void {
    const r = this.canvas.getBoundingClientRect();
    this.pointer.set(((x - r.left) / r.width) * 2 - 1, -((y - r.top) / r.height) * 2 + 1);
    this.caster.setFromCamera(this.pointer, this.camera);
  }

  /** The element under a point of the page, and where on it, mm. */
  hit(x: number, y: number): { element: Id; member: Id; body: number; at: Vector3 } | undefined {
    this.aim(x, y);
    const found = this.caster.intersectObjects(
      this.parts.map((p) => p.surface),
      false,
    )[0];
    if (!found) return undefined;
    const p = this.parts.find((q) => q.surface === found.object)!;
    return { element: p.element, member: p.member, body: p.body, at: found.point.clone() };
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
