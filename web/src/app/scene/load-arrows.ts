import {
  BufferGeometry,
  ConeGeometry,
  CylinderGeometry,
  Group,
  Matrix4,
  Mesh,
  MeshBasicMaterial,
  Quaternion,
  Scene as Space,
  TorusGeometry,
  Vector3,
} from 'three';
import { mergeGeometries } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import { type ActingLoad, type Compiled } from '@unirota/core';
import { FRAME, type Id } from '@unirota/core/document';
import { PLACEMENT, type Vec3, WORLD, toWorldPoint, toWorldVector } from '@unirota/core/math';

/** A force: a straight arrow of length 1 along z, its head at the origin. */
export const straight = (): BufferGeometry =>
  mergeGeometries([
    new CylinderGeometry(0.018, 0.018, 0.8, 8).rotateX(Math.PI / 2).translate(0, 0, -0.6),
    new ConeGeometry(0.06, 0.2, 14).rotateX(Math.PI / 2).translate(0, 0, -0.1),
  ]);
/** A moment about z: three quarters of a circle with a head that turns with a positive one. */
export const curved = (): BufferGeometry =>
  mergeGeometries([
    new TorusGeometry(0.4, 0.018, 6, 36, 1.5 * Math.PI),
    new ConeGeometry(0.06, 0.2, 14)
      .rotateZ(Math.PI / 2)
      .rotateZ(Math.PI)
      .translate(0.06, -0.4, 0),
  ]);

interface Arrow {
  group: Group;
  body: number;
  /** In the reference position, mm. */
  at: Vector3;
  direction: Vector3;
  follows: boolean;
}

/**
 * The stated loads as arrows: forces in violet, moments in teal
 * with a curved head. They say where and which way, not how much.
 */
export class LoadArrows {
  private readonly arrows: Arrow[] = [];
  private readonly force = new MeshBasicMaterial({ depthTest: false, transparent: true });
  private readonly moment = new MeshBasicMaterial({ depthTest: false, transparent: true });
  private readonly straight = straight();
  private readonly curved = curved();
  private readonly place = new Vector3();
  private readonly way = new Vector3();
  private readonly turn = new Quaternion();
  private readonly scale = new Vector3();
  private readonly z = new Vector3(0, 0, 1);
  private size = 1;

  constructor(private readonly space: Space) {}

  theme(violet: string, teal: string): void {
    this.force.color.set(violet);
    this.moment.color.set(teal);
  }

  visible(on: boolean): void {
    this.on = on;
    for (const a of this.arrows) a.group.visible = on;
  }
  private on = true;

  clear(): void {
    for (const a of this.arrows) this.space.remove(a.group);
    this.arrows.length = 0;
  }

  /** The length of an arrow, mm: as long on the screen whatever is shown. */
  sized(length: number): boolean {
    if (Math.abs(length - this.size) < 1e-3 * length) return false;
    this.size = length;
    return this.arrows.length > 0;
  }

  /** Shows the loads of a design. */
  show(compiled: Compiled): void {
    this.clear();
    const { structure, design } = compiled;
    for (const l of design.loads as (ActingLoad & { torque?: Vec3 })[]) {
      if (l.type === 'force' && l.force) this.onMember(compiled, l.member, l.at, l.force, l.follows === true, true);
      if (l.type === 'torque' && l.torque) this.onMember(compiled, l.member, undefined, l.torque, l.follows === true, false);
      if (l.type === 'joint-load' && l.joint) {
        const [id, freedom = '0'] = l.joint.split(':');
        const first = structure.firstOf.get(id);
        const c = first === undefined ? undefined : structure.coordinates[first + Number(freedom)];
        if (!c || c.joint.id !== id || !l.value) continue;
        const sign = Math.sign(l.value);
        this.add(
          structure.bodyOf.get(c.joint.child) ?? 0,
          c.point,
          [sign * c.axis[0], sign * c.axis[1], sign * c.axis[2]],
          true,
          c.motion === 'slide',
        );
      }
    }
  }

  private onMember({ structure }: Compiled, member: Id | undefined, at: Vec3 | undefined, vector: Vec3, follows: boolean, force: boolean): void {
    if (member === undefined || member === FRAME) return;
    const f = structure.frames.get(member) ?? WORLD;
    this.add(structure.bodyOf.get(member) ?? 0, toWorldPoint(f, at ?? [0, 0, 0]), follows ? toWorldVector(f, vector) : vector, follows, force);
  }

  private add(body: number, at: Vec3, direction: Vec3, follows: boolean, force: boolean): void {
    const d = new Vector3(...direction);
    if (d.lengthSq() === 0) return;
    const group = new Group();
    const mesh = new Mesh(force ? this.straight : this.curved, force ? this.force : this.moment);
    mesh.renderOrder = 5;
    group.add(mesh);
    group.matrixAutoUpdate = false;
    group.visible = this.on;
    this.arrows.push({ group, body, at: new Vector3(...at), direction: d.normalize(), follows });
    this.space.add(group);
  }

  /** Moves the arrows with their members. Without an allocation: it is called at every frame. */
  update(placements: Float64Array, read: (into: Matrix4, placements: Float64Array, body: number) => void, scratch: Matrix4): void {
    for (let k = 0; k < this.arrows.length; k++) {
      const a = this.arrows[k];
      if (a.body * PLACEMENT >= placements.length) continue;
      read(scratch, placements, a.body);
      this.place.copy(a.at).applyMatrix4(scratch);
      this.way.copy(a.direction);
      if (a.follows) this.way.transformDirection(scratch);
      this.turn.setFromUnitVectors(this.z, this.way);
      a.group.matrix.compose(this.place, this.turn, this.scale.setScalar(this.size));
      a.group.matrixWorldNeedsUpdate = true;
    }
  }
}
