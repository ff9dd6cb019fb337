import {
  AmbientLight,
  BufferAttribute,
  BufferGeometry,
  Color,
  DirectionalLight,
  DoubleSide,
  EdgesGeometry,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshLambertMaterial,
  OrthographicCamera,
  Plane,
  Scene,
  Vector3,
  WebGLRenderer,
} from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import { type StressField, cutAcross, greatestChange } from '@unirota/core';

/** Colours from no stress to the greatest. */
export const SCALE = ['#2f6f62', '#6f9a6c', '#c9bd6b', '#d99a3f', '#a8381f'];

/** The colour of a share of the greatest stress, as red, green and blue of the working space. */
function colourOf(share: number, into: Color, stops: readonly Color[]): Color {
  const x = Math.max(0, Math.min(1, share)) * (stops.length - 1);
  const k = Math.min(stops.length - 2, Math.floor(x));
  return into.copy(stops[k]).lerp(stops[k + 1], x - k);
}

/** The greatest stress that was found, MPa, and where, mm: it may lie between the corners that are drawn. */
export interface GreatestStress {
  readonly stress: number;
  readonly at: readonly [number, number, number];
}

export interface StressLook {
  /** How many times the change of shape is shown. */
  factor: number;
  /** The section: across which axis, and where between the ends of the body (0 … 1). */
  axis?: 0 | 1 | 2;
  share: number;
}

/** The picture of a member with its stress: turned by dragging, drawn when something changes. */
export class StressScene {
  /** Where on the picture the greatest stress is, px; told after every drawing. */
  onDrawn?: (x: number, y: number, hidden: boolean) => void;
  private readonly renderer: WebGLRenderer;
  private readonly space = new Scene();
  private readonly camera = new OrthographicCamera(-1, 1, 1, -1, -1e6, 1e6);
  private readonly controls: OrbitControls;
  private readonly stops = SCALE.map((c) => new Color(c));
  private readonly skin = new BufferGeometry();
  private readonly cut = new BufferGeometry();
  private readonly plane = new Plane(new Vector3(1, 0, 0), 0);
  private readonly surface: Mesh;
  private readonly face: Mesh;
  private readonly edges: LineSegments;
  private readonly spot = new Vector3();
  /** Where the corner nearest to the greatest stress stands in the points, and how far from it that is, mm. */
  private readonly at: number;
  private readonly beside = new Vector3();
  private readonly most: number;
  private readonly lo = new Vector3(Infinity, Infinity, Infinity);
  private readonly hi = new Vector3(-Infinity, -Infinity, -Infinity);
  private requested = false;
  private gone = false;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly field: StressField,
    greatest: GreatestStress,
    ink: string,
  ) {
    this.renderer = new WebGLRenderer({ canvas, antialias: true, alpha: true });
    this.renderer.debug.checkShaderErrors = false;
    this.renderer.setPixelRatio(Math.min(2, devicePixelRatio));
    this.renderer.localClippingEnabled = true;
    this.most = greatest.stress || 1;
    const place = new Vector3(...greatest.at);
    let at = 0,
      far = Infinity;
    for (let k = 0; k < field.points.length; k += 3) {
      this.spot.fromArray(field.points, k);
      this.lo.min(this.spot);
      this.hi.max(this.spot);
      const d = this.spot.distanceToSquared(place);
      if (d < far) [at, far] = [k, d];
    }
    // It goes along with the corner that is nearest to it.
    this.at = at;
    this.beside.copy(place).sub(this.spot.fromArray(field.points, at));
    this.skin.setAttribute('position', new BufferAttribute(new Float32Array(field.points), 3));
    this.skin.setAttribute('color', new BufferAttribute(this.colours(field.stress), 3));
    this.skin.setIndex(new BufferAttribute(field.skin, 1));
    const look = { vertexColors: true, side: DoubleSide } as const;
    this.surface = new Mesh(this.skin, new MeshLambertMaterial({ ...look, polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 }));
    this.face = new Mesh(this.cut, new MeshLambertMaterial(look));
    this.edges = new LineSegments(new BufferGeometry(), new LineBasicMaterial({ color: new Color(ink) }));
    this.camera.up.set(0, 0, 1);
    const light = new DirectionalLight(0xffffff, 1.6);
    this.camera.add(light);
    light.position.set(1, 2, 4);
    this.space.add(this.camera, new AmbientLight(0xffffff, 1.7), this.surface, this.face, this.edges);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.enableDamping = false;
    this.controls.addEventListener('change', () => this.request());
    const middle = this.lo.clone().add(this.hi).multiplyScalar(0.5);
    const reach = this.hi.distanceTo(this.lo) / 2 || 1;
    this.camera.position.copy(middle).add(new Vector3(1, -1.4, 0.9).normalize().multiplyScalar(4 * reach));
    this.camera.near = 0;
    this.camera.far = 9 * reach;
    this.controls.target.copy(middle);
    this.controls.update();
    this.camera.updateMatrixWorld(true);
  }

  /** Times the change of shape that shows it well: the greatest as an eighth of the body. */
  wellSeen(): number {
    const most = greatestChange(this.field.change);
    return most > 0 ? this.hi.distanceTo(this.lo) / 8 / most : 0;
  }

  /** The times the change of shape is shown now. */
  private factor: number | undefined;
  /** Moves the body to another change of shape; edges and normals follow, which takes longer than a section. */
  private deform(factor: number): void {
    if (this.factor === factor) return;
    this.factor = factor;
    const { points, change } = this.field;
    const place = this.skin.getAttribute('position') as BufferAttribute;
    for (let k = 0; k < points.length; k++) place.array[k] = points[k] + factor * change[k];
    place.needsUpdate = true;
    this.skin.computeVertexNormals();
    this.skin.computeBoundingSphere();
    this.edges.geometry.dispose();
    this.edges.geometry = new EdgesGeometry(this.skin, 35);
    this.spot.fromArray(place.array, this.at).add(this.beside);
  }

  show({ factor, axis, share }: StressLook): void {
    this.deform(factor);
    const clips: Plane[] = [];
    this.face.visible = axis !== undefined;
    if (axis !== undefined) {
      const [lo, hi] = [this.lo.getComponent(axis), this.hi.getComponent(axis)];
      const where = lo + (0.001 + 0.998 * share) * (hi - lo);
      const c = cutAcross(this.field, axis, where, factor);
      this.cut.setAttribute('position', new BufferAttribute(c.points, 3));
      this.cut.setAttribute('color', new BufferAttribute(this.colours(c.stress), 3));
      this.cut.setIndex(new BufferAttribute(c.triangles, 1));
      this.cut.computeVertexNormals();
      this.plane.normal.set(0, 0, 0).setComponent(axis, -1);
      this.plane.constant = where;
      clips.push(this.plane);
    }
    for (const m of [this.surface.material, this.edges.material]) (m as MeshLambertMaterial).clippingPlanes = clips;
    this.request();
  }

  size(width: number, height: number): void {
    if (!width || !height) return;
    this.renderer.setSize(width, height, false);
    const { w: wide, h: high } = this.reach();
    const scale = 1.15 * Math.max(wide / width, high / height);
    const [h, w] = [scale * height, scale * width];
    Object.assign(this.camera, { top: h, bottom: -h, left: -w, right: w });
    this.camera.updateProjectionMatrix();
    this.request();
  }

  /** Half the width and height of the body as it is seen first, mm. */
  private reach(): { w: number; h: number } {
    const middle = this.lo.clone().add(this.hi).multiplyScalar(0.5);
    const half = this.hi.clone().sub(middle);
    const e = this.camera.matrixWorld.elements;
    const along = (k: number): number => Math.abs(e[k] * half.x) + Math.abs(e[k + 1] * half.y) + Math.abs(e[k + 2] * half.z);
    this.seen ??= { w: along(0) || 1, h: along(4) || 1 };
    return this.seen;
  }
  private seen: { w: number; h: number } | undefined;

  dispose(): void {
    this.gone = true;
    this.controls.dispose();
    for (const g of [this.skin, this.cut, this.edges.geometry]) g.dispose();
    for (const m of [this.surface.material, this.face.material, this.edges.material]) (m as MeshLambertMaterial).dispose();
    this.renderer.dispose();
  }

  /** The picture as it stands, for saving. */
  picture(): Promise<Blob | null> {
    this.draw();
    return new Promise((done) => this.canvas.toBlob(done, 'image/png'));
  }

  private colours(stress: Float32Array): Float32Array {
    const out = new Float32Array(3 * stress.length);
    const c = new Color();
    stress.forEach((s, k) => colourOf(s / this.most, c, this.stops).toArray(out, 3 * k));
    return out;
  }
  private request(): void {
    if (this.requested || this.gone) return;
    this.requested = true;
    requestAnimationFrame(() => {
      this.requested = false;
      if (!this.gone) this.draw();
    });
  }
  private draw(): void {
    this.renderer.render(this.space, this.camera);
    const v = this.spot.clone().project(this.camera);
    const hidden = this.face.visible && this.plane.distanceToPoint(this.spot) < 0;
    this.onDrawn?.(((1 + v.x) * this.canvas.clientWidth) / 2, ((1 - v.y) * this.canvas.clientHeight) / 2, hidden);
  }
}
