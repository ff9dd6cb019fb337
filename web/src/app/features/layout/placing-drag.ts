import { Vector3 } from 'three';
import { type Placing, placeAlong, placeAround, placingOf } from '@unirota/core';
import type { Design, Id } from '@unirota/core/document';
import { type Units, show } from '@unirota/core/units';
import type { Scene } from '../../scene/scene';
import type { DragMode } from '../../state/view.service';

/** A member that is placed by the pointer: along its driving axis, round it or away from it. */
export class PlacingDrag {
  after?: Design;
  text = '';

  private constructor(
    private readonly scene: Scene,
    private readonly mode: DragMode,
    private readonly placing: Placing,
    readonly before: Design,
    private readonly hit: Vector3,
    private readonly start: Vector3 | number,
  ) {}

  /** Begins where the pointer hits a member; a sentence where it cannot be placed so. */
  static begin(scene: Scene, mode: DragMode, design: Design, member: Id, hit: Vector3, e: PointerEvent): PlacingDrag | string {
    const placing = placingOf(design, member);
    if (!placing) return $localize`This member has no parallel axis that drives it: place it by typed values in its data sheet.`;
    const axis = new Vector3(...placing.axis),
      centre = new Vector3(...placing.centre);
    const start =
      mode === 'along'
        ? scene.alongLine(e.clientX, e.clientY, hit, axis)
        : scene.onPlane(e.clientX, e.clientY, hit, axis)?.sub(centre).projectOnPlane(axis);
    if (start === undefined) return $localize`Seen like this the movement cannot be told: turn the view.`;
    return new PlacingDrag(scene, mode, placing, design, hit, start);
  }

  /** Follows the pointer; whether there is something new to be shown. */
  move(e: PointerEvent, units: Units): boolean {
    const { scene } = this;
    const axis = new Vector3(...this.placing.axis),
      centre = new Vector3(...this.placing.centre);
    if (this.mode === 'along') {
      const now = scene.alongLine(e.clientX, e.clientY, this.hit, axis);
      if (now === undefined) return false;
      let by = Math.round(now - (this.start as number));
      const snapped = Math.abs(by - this.placing.line) < 5;
      if (snapped) by = this.placing.line;
      this.after = placeAlong(this.before, this.placing, by);
      this.text = $localize`${units.text(by, 'mm')} along the axis${snapped ? ', in line' : `, ${units.text(this.placing.line - by, 'mm', 4)} out of line`}`;
    } else {
      const now = scene.onPlane(e.clientX, e.clientY, this.hit, axis)?.sub(centre).projectOnPlane(axis);
      const was = this.start as Vector3;
      if (!now || now.lengthSq() < 1 || was.lengthSq() < 1) return false;
      if (this.mode === 'round') {
        const raw = Math.atan2(axis.dot(was.clone().cross(now)), was.dot(now));
        const step = Math.PI / 12;
        const near = Math.round(raw / step) * step;
        const angle = Math.abs(raw - near) < step / 4 ? near : Math.round((raw * 180) / Math.PI) * (Math.PI / 180);
        this.after = placeAround(this.before, this.placing, this.placing.distance, angle);
        this.text = $localize`turned by ${show((angle * 180) / Math.PI, 5)}° round the driving axis`;
      } else {
        let d = Math.max(1, Math.round(10 * (this.placing.distance + now.length() - was.length())) / 10);
        const w = this.placing.working;
        const snapped = w !== undefined && Math.abs(d - w) < Math.max(2, 0.04 * w);
        if (snapped) d = w;
        this.after = placeAround(this.before, this.placing, d, 0);
        this.text = `${units.text(d, 'mm', 6)} apart${snapped ? ', the working distance' : w === undefined ? '' : d > w ? `, open by ${units.text(d - w, 'mm', 4)}` : `, tight by ${units.text(w - d, 'mm', 4)}`}`;
      }
    }
    return true;
  }
}
