import type { Id } from '../../fields/types';
import type { HoldModel } from '../protocol';
import { type Vec3, cross, dot, vsub } from '../../math/index';
import { type Binding, type BoundPort, type BoundRow, type Grip, LOSSLESS, TURN, along, bearPort, bindPorts, metres, pushOn } from './protocol';

/** Part of a tooth by which a pawl may stand short of an edge and be over it: what a stop or an event leaves open. */
const SAME_TOOTH = 1e-7;

/** What one newton along a touch gives the port's own turn, m. */
const armAbout = (port: BoundPort, { point, along }: { point: Vec3; along: Vec3 }): number =>
  dot(port.axis, cross(vsub(metres(point), port.point), along));

/** Holds in one sense only: x never falls below the tooth, or the place, that it has come to. Ratchets and one-way clutches. */
export function bindHold(coupling: Id, model: HoldModel, to: Binding): BoundRow {
  const { ports, coordinate } = bindPorts(model.ports, to, true);
  const [port] = ports;
  const pitch = model.pitch * TURN;
  const touch = model.touch && { along: model.touch.along, point: metres(model.touch.point), arm: armAbout(port, model.touch) };
  const grip: Grip = {
    touches: false,
    lifted: model.lifted,
    pitch,
    sense: 1,
    restitution: 0,
    gap: (q, limit) => along(port, q) - limit,
    speed: (rates) => along(port, rates),
    catchAt(q) {
      const x = along(port, q);
      return pitch > 0 ? Math.floor(x / pitch + SAME_TOOTH) * pitch : x;
    },
    holds: { kind: 'pawl-grips', say: (name) => `${name} grips` },
    lets: { kind: 'pawl-lets-go', say: (name) => `${name} lets go` },
  };
  return {
    coupling,
    ports,
    coordinate,
    efficiency: LOSSLESS,
    numeric: true,
    grip,
    strands: 0,
    shares: (_q, gain) => void gain.fill(1),
    residual: (q, limit) => along(port, q) - limit,
    bend: () => 0,
    lose: () => false,
    report: () => undefined,
    bear(f, _q, into) {
      if (!touch || touch.arm === 0) return bearPort(coupling, port, f.port[0], into);
      const k = f.port[0] / touch.arm;
      pushOn(coupling, port, port.carrier, touch.point, k * touch.along[0], k * touch.along[1], k * touch.along[2], into);
    },
  };
}
