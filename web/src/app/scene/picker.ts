import { type Camera, type Mesh, Raycaster, Vector2, Vector3, Matrix4 } from 'three';
import type { Id } from '@unirota/core/document';
import type { Vec3 } from '@unirota/core/math';
import { type Part, readPlacement } from './parts';

/** A place that something stands over: body, and point in its reference frame, mm. */
export interface Spot {
  readonly element: Id;
  readonly body: number;
  readonly at: Vec3;
}

/** What is under a point of the page, and where places stand in the picture. */
export class Picker {
  private readonly caster = new Raycaster();
  private readonly pointer = new Vector2();
  private readonly scratch = new Matrix4();
  private readonly endA = new Vector3();
  private readonly endB = new Vector3();
  private list: readonly Spot[] = [];
  private places = new Float64Array(0);
  private tell?: (at: Float64Array) => void;

  /** `parts` and `solid`: what is in the picture, and the surfaces of it that can be pointed at. */
  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly camera: Camera & { far: number },
    private readonly parts: readonly Part[],
    private readonly solid: () => Mesh[],
  ) {}

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

  /** Places to be told after every drawing, pixels two by two. */
  spots(list: readonly Spot[], tell?: (at: Float64Array) => void): void {
    this.list = list;
    this.places = new Float64Array(2 * list.length);
    this.tell = tell;
  }
  /** Whether nothing stands before one of these places but its own element. */
  sees(k: number, t: Float64Array | undefined): boolean {
    const spot = this.list[k];
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
  /** Tells where the places stand now. Allocates nothing. */
  place(t: Float64Array): void {
    if (!this.tell) return;
    const w = this.canvas.clientWidth / 2,
      h = this.canvas.clientHeight / 2;
    this.list.forEach((s, k) => {
      readPlacement(this.scratch, t, s.body);
      const v = this.endA.set(s.at[0], s.at[1], s.at[2]).applyMatrix4(this.scratch).project(this.camera);
      this.places[2 * k] = w * (1 + v.x);
      this.places[2 * k + 1] = h * (1 - v.y);
    });
    this.tell(this.places);
  }
}
