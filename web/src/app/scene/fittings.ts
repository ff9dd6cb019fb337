import { DoubleSide, Group, type LineBasicMaterial, LineSegments, Matrix4, Mesh, MeshLambertMaterial, Quaternion, Vector3 } from 'three';
import { type ActingLoad, type CarriedJoint, type Compiled, bearingSolids } from '@unirota/core';
import { FRAME, type Id } from '@unirota/core/document';
import { type Vec3, norm, toWorldPoint, vsub } from '@unirota/core/math';
import { band, coil, drawnSolids } from './geometry';
import { type OnBody, place, readPlacement } from './parts';

const BELT = new MeshLambertMaterial({
  color: 0x6d6458,
  side: DoubleSide,
  polygonOffset: true,
  polygonOffsetFactor: 1,
  polygonOffsetUnits: 1,
});
const BEARING = new MeshLambertMaterial({ color: 0xb9b4a6, polygonOffset: true, polygonOffsetFactor: 1, polygonOffsetUnits: 1 });

/** Belts and chains as bands round their wheels; they stand where the wheels' carrier stands. */
export function belts(compiled: Compiled, ink: LineBasicMaterial): OnBody[] {
  const out: OnBody[] = [];
  for (const { model } of compiled.couplings) {
    if (model.law !== 'band' || !model.band) continue;
    const { path } = model.band;
    const [first] = model.ports;
    const { surface, lines } = band(path.points, path.width, first.axis);
    const group = new Group();
    group.matrixAutoUpdate = false;
    group.add(new Mesh(surface, BELT), new LineSegments(lines, ink));
    const body = compiled.structure.bodyOf.get(first.carrier) ?? 0;
    out.push({ group, body });
  }
  return out;
}

/** Stated bearings, on what carries the joint. */
export function bearings(compiled: Compiled, ink: LineBasicMaterial): OnBody[] {
  const out: OnBody[] = [];
  for (const j of compiled.design.joints as CarriedJoint[]) {
    const frame = compiled.structure.jointFrames.get(j.id);
    if (!j.bearings?.length || !frame) continue;
    const d = drawnSolids(j.bearings.flatMap(bearingSolids));
    const still = new Group();
    still.matrixAutoUpdate = false;
    still.matrix.copy(place(frame));
    still.add(new Mesh(d.surface, BEARING), new LineSegments(d.lines, ink));
    const group = new Group();
    group.matrixAutoUpdate = false;
    group.add(still);
    out.push({ group, body: j.parent === FRAME ? 0 : (compiled.structure.bodyOf.get(j.parent) ?? 0) });
  }
  return out;
}

const Z = new Vector3(0, 0, 1);

/** A spring as a coil between two points of two bodies, which it follows. */
export class Coil {
  private readonly from = new Vector3();
  private readonly to = new Vector3();
  private readonly turn = new Quaternion();
  private readonly scale = new Vector3();
  private readonly scratch = new Matrix4();

  constructor(
    readonly line: LineSegments,
    private readonly a: number,
    private readonly pa: Vec3,
    private readonly b: number,
    private readonly pb: Vec3,
    private readonly radius: number,
  ) {
    line.matrixAutoUpdate = false;
  }

  /** Puts it where the bodies' placements are now. Allocates nothing. */
  update(placements: Float64Array): void {
    const s = this.scratch;
    readPlacement(s, placements, this.a);
    this.from.set(this.pa[0], this.pa[1], this.pa[2]).applyMatrix4(s);
    readPlacement(s, placements, this.b);
    this.to.set(this.pb[0], this.pb[1], this.pb[2]).applyMatrix4(s).sub(this.from);
    const length = this.to.length() || 1;
    this.turn.setFromUnitVectors(Z, this.to.divideScalar(length));
    this.line.matrix.compose(this.from, this.turn, this.scale.set(this.radius, this.radius, length));
    this.line.matrixWorldNeedsUpdate = true;
  }
}

/** Springs between points. */
export function springs({ structure, design }: Compiled, ink: LineBasicMaterial): Coil[] {
  const shape = coil();
  const end = (id: Id = FRAME, at: Vec3 = [0, 0, 0]): [number, Vec3] => {
    const f = structure.frames.get(id);
    return [structure.bodyOf.get(id) ?? 0, f ? toWorldPoint(f, at) : [0, 0, 0]];
  };
  return (design.loads as ActingLoad[]).flatMap((l) => {
    if (l.type !== 'spring') return [];
    const [a, pa] = end(l.member, l.at),
      [b, pb] = end(l.other, l.otherAt);
    return [new Coil(new LineSegments(shape, ink), a, pa, b, pb, Math.max(3, Math.min(12, norm(vsub(pb, pa)) * 0.08)))];
  });
}
