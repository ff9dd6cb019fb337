import type { RowForce } from '../couplings/index';
import type { Kinematics } from '../kinematics/index';

/**
 * What the passes of one evaluation read and write, named and made once. Per coordinate, per body (six
 * numbers each: rotation or moment about the world's origin, then velocity or force) and per row. SI.
 */
export interface Workspace {
  /** Rates of the coordinates, and their accelerations where inertia counts: set by whoever asks. */
  readonly velocity: Float64Array;
  readonly acceleration: Float64Array;
  /** What sources that state their torque give on each coordinate, N·m or N; set by whoever knows the speed. */
  readonly given: Float64Array;
  /** How bodies move. */
  readonly twist: Float64Array;
  readonly accel: Float64Array;
  /** Wrench that each body's own motion needs. */
  readonly own: Float64Array;
  /** Wrench of weight and loads on each body. */
  readonly loads: Float64Array;
  /** Wrench that must come through each body's joint from the frame's side. */
  readonly wrench: Float64Array;
  /** Generalised force that each coordinate needs from couplings, closures and inputs. */
  readonly need: Float64Array;
  readonly rows: readonly RowForce[];
}

export function workspaceFor(k: Kinematics): Workspace {
  const perCoordinate = (): Float64Array => new Float64Array(k.count);
  const perBody = (): Float64Array => new Float64Array(6 * k.bodies);
  return {
    velocity: perCoordinate(),
    acceleration: perCoordinate(),
    given: perCoordinate(),
    twist: perBody(),
    accel: perBody(),
    own: perBody(),
    loads: perBody(),
    wrench: perBody(),
    need: perCoordinate(),
    rows: k.rows.map((r) => ({
      lambda: 0,
      gain: new Float64Array(r.ports.length).fill(1),
      factor: new Float64Array(r.ports.length).fill(1),
      port: new Float64Array(r.ports.length),
      speed: new Float64Array(r.ports.length),
      driving: -1,
      loss: 0,
      tangential: 0,
      radial: 0,
      axial: 0,
      strands: new Array<number>(r.strands).fill(0),
    })),
  };
}
