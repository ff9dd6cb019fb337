import { Vector3 } from 'three';
import { type Pose, slidesAt } from '@unirota/core';
import type { Scene } from '../../scene/scene';

/** A member that is led by the pointer, by the coordinate that carries it. */
export class DrivingDrag {
  private constructor(
    private readonly scene: Scene,
    readonly coordinate: number,
    private readonly slide: boolean,
    private readonly at: Vector3,
    private readonly axis: Vector3,
    private last: Vector3 | number,
  ) {}

  /** Begins where the pointer hits a body; undefined where, seen like this, its movement cannot be told. */
  static begin(scene: Scene, pose: Pose, body: number, hit: Vector3, e: PointerEvent): DrivingDrag | undefined {
    const i = pose.kinematics.bodyCoordinate[body];
    pose.updateAxes();
    const vec = (a: Float64Array, k: number): Vector3 => new Vector3(a[3 * i], a[3 * i + 1], a[3 * i + 2]).multiplyScalar(k);
    const axis = vec(pose.axisNow, pose.kinematics.sign[i]);
    const slide = slidesAt(pose.kinematics, i);
    const at = slide ? hit : vec(pose.pointNow, 1000);
    const last = slide ? scene.alongLine(e.clientX, e.clientY, at, axis) : armIn(scene, e, hit, axis, at);
    if (last === undefined) return undefined;
    return new DrivingDrag(scene, i, slide, slide ? at : at.clone().addScaledVector(axis, hit.clone().sub(at).dot(axis)), axis, last);
  }

  /** How far the pointer has gone since, rad or m. */
  move(e: PointerEvent): number {
    if (this.slide) {
      const now = this.scene.alongLine(e.clientX, e.clientY, this.at, this.axis);
      if (now === undefined) return 0;
      const by = (now - (this.last as number)) / 1000;
      this.last = now;
      return by;
    }
    const now = armIn(this.scene, e, this.at, this.axis, this.at);
    const was = this.last as Vector3;
    if (!now || now.lengthSq() < 1 || was.lengthSq() < 1) return 0;
    this.last = now;
    return Math.atan2(this.axis.dot(was.clone().cross(now)), was.dot(now));
  }
}

/** From the axis to the pointer, across the axis. Seen edge on, the pointer's height stands for the turn. */
function armIn(scene: Scene, e: PointerEvent, hit: Vector3, axis: Vector3, at: Vector3): Vector3 | undefined {
  const p = scene.onPlane(e.clientX, e.clientY, hit, axis);
  return p?.sub(at).projectOnPlane(axis);
}
