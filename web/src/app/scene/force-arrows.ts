import { type BufferGeometry, Mesh, MeshBasicMaterial, Quaternion, type Scene as Space, Vector3 } from 'three';
import { curved, straight } from './load-arrows';

/** A force and a moment at a point of the world, mm, as parts of the longest that is shown. */
export interface Drawn {
  readonly point: readonly number[];
  readonly force: readonly number[];
  readonly moment: readonly number[];
}

/**
 * Forces of an instant as arrows of their size, their heads where they act;
 * moments as bows round their axis. Arrows are made once and used again.
 */
export class ForceArrows {
  private readonly force = new MeshBasicMaterial({ depthTest: false, transparent: true, opacity: 0.9 });
  private readonly moment = new MeshBasicMaterial({ depthTest: false, transparent: true, opacity: 0.9 });
  private readonly straight: BufferGeometry = straight();
  private readonly curved: BufferGeometry = curved();
  private readonly forces: Mesh[] = [];
  private readonly moments: Mesh[] = [];
  private readonly way = new Vector3();
  private readonly place = new Vector3();
  private readonly turn = new Quaternion();
  private readonly scale = new Vector3();
  private readonly z = new Vector3(0, 0, 1);
  private drawn: readonly Drawn[] = [];
  private longest = { force: 0, moment: 0 };
  private length = 1;

  constructor(private readonly space: Space) {}

  theme(violet: string, teal: string): void {
    this.force.color.set(violet);
    this.moment.color.set(teal);
  }

  show(list: readonly Drawn[], longest: { force: number; moment: number }): void {
    this.drawn = list;
    this.longest = longest;
    this.place3();
  }
  /** The longest arrow, mm. */
  sized(length: number): void {
    this.length = length;
    this.place3();
  }
  get any(): boolean {
    return this.drawn.length > 0;
  }

  private place3(): void {
    this.fill(this.forces, this.straight, this.force, this.longest.force, (d) => d.force);
    this.fill(this.moments, this.curved, this.moment, this.longest.moment, (d) => d.moment);
  }
  private fill(meshes: Mesh[], shape: BufferGeometry, face: MeshBasicMaterial, longest: number, of: (d: Drawn) => readonly number[]): void {
    let n = 0;
    for (const d of this.drawn) {
      const v = of(d);
      const size = Math.hypot(v[0], v[1], v[2]);
      if (!(size > 0) || !(longest > 0)) continue;
      let mesh = meshes[n];
      if (!mesh) {
        mesh = new Mesh(shape, face);
        mesh.renderOrder = 6;
        mesh.matrixAutoUpdate = false;
        // It may be longer than what it was made from: whether it is in sight is not asked.
        mesh.frustumCulled = false;
        this.space.add(mesh);
        meshes.push(mesh);
      }
      n++;
      mesh.visible = true;
      this.way.set(v[0] / size, v[1] / size, v[2] / size);
      this.turn.setFromUnitVectors(this.z, this.way);
      this.place.set(d.point[0], d.point[1], d.point[2]);
      mesh.matrix.compose(this.place, this.turn, this.scale.setScalar((this.length * size) / longest));
      mesh.matrixWorldNeedsUpdate = true;
    }
    for (; n < meshes.length; n++) meshes[n].visible = false;
  }
}
