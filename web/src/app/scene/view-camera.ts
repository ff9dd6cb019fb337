import { Box3, OrthographicCamera, Vector3 } from 'three';
import { OrbitControls } from 'three/examples/jsm/controls/OrbitControls.js';
import type { Vec3 } from '@unirota/core/math';

export type View = 'front' | 'side' | 'top' | 'free';

const DIRECTIONS: Record<View, [Vector3, Vector3]> = {
  front: [new Vector3(0, -1, 0), new Vector3(0, 0, 1)],
  side: [new Vector3(1, 0, 0), new Vector3(0, 0, 1)],
  top: [new Vector3(0, 0, 1), new Vector3(0, 1, 0)],
  free: [new Vector3(-0.55, -1, 0.55).normalize(), new Vector3(0, 0, 1)],
};

/** A view that can be kept: directions without a length, mm. */
export interface KeptView {
  from: Vec3;
  up: Vec3;
  target: Vec3;
  height: number;
}

/** The eye of the layout: turns about what is seen, and is opened as far as that needs. */
export class ViewCamera {
  readonly camera = new OrthographicCamera(-1, 1, 1, -1, -1e5, 1e5);
  private readonly controls: OrbitControls;
  /** Half the width and height, mm, of what was last fitted as the camera sees it. */
  private readonly reach = { w: 1, h: 1 };

  /**
   * `size` gives the picture's size, px, and how much of its height is
   * covered at its top; `changed` is told when it is to be drawn again.
   */
  constructor(
    canvas: HTMLCanvasElement | null,
    private readonly boxes: () => Box3[],
    private readonly size: () => { width: number; height: number; covered: number },
    private readonly changed: () => void,
  ) {
    this.camera.up.set(0, 0, 1);
    this.controls = new OrbitControls(this.camera, canvas);
    this.controls.enableDamping = false;
    this.controls.addEventListener('change', changed);
  }

  dispose(): void {
    if (this.controls.domElement) this.controls.dispose();
  }

  /** Height, mm, of what is seen. */
  get height(): number {
    return (this.camera.top - this.camera.bottom) / this.camera.zoom;
  }

  /** Whether a drag turns the camera. */
  hold(hold: boolean): void {
    this.controls.enabled = !hold;
  }

  /** The view as it is now, for keeping it; and going to a kept one. */
  view(): KeptView {
    const d = this.camera.position.clone().sub(this.controls.target).normalize();
    const v = (x: Vector3): Vec3 => [x.x, x.y, x.z].map((n) => Number(n.toFixed(6)) + 0) as unknown as Vec3;
    return {
      from: v(d),
      up: v(this.camera.up),
      target: v(this.controls.target),
      height: Number(this.height.toFixed(4)),
    };
  }
  goTo(v: KeptView): void {
    this.camera.up.set(...v.up);
    this.fit(new Vector3(...v.from));
    const distance = this.camera.position.distanceTo(this.controls.target);
    this.controls.target.set(...v.target);
    this.camera.position.copy(this.controls.target).addScaledVector(new Vector3(...v.from).normalize(), distance);
    this.camera.zoom = (this.camera.top - this.camera.bottom) / v.height;
    this.camera.updateProjectionMatrix();
    this.controls.update();
    this.changed();
  }

  /** Opens the camera as far as what was fitted needs in a picture of this shape. */
  span(width: number, height: number, covered = 0): void {
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
  /** Looks along an axis, or freely, with everything in sight. */
  look(view: View): void {
    const [from, up] = DIRECTIONS[view];
    this.camera.up.copy(up);
    this.fit(from);
  }

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
  fit(from?: Vector3): void {
    const boxes = this.boxes();
    const box = boxes.reduce((all, b) => all.union(b), new Box3());
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
    for (const one of boxes) {
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
    const { width, height, covered } = this.size();
    this.span(width, height, covered);
    this.controls.update();
    this.changed();
  }
}
