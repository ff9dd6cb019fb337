import type { Id } from '../../fields/types';
import type { CurveModel } from '../protocol';
import type { Vec3 } from '../../math/index';
import { bearLoss, forceOf, sharedBy } from './contact';
import {
  type Binding,
  type BoundRow,
  type Grip,
  LOSSLESS,
  TURN,
  along,
  bearPort,
  bindPorts,
  losePower,
  pushBetween,
  type RowForce,
} from './protocol';

/** The second port's motion is a function of the first's: y − f(x) = 0. Held by force it only pushes, and lets go. */
export function bindCurve(coupling: Id, model: CurveModel, to: Binding): BoundRow {
  const { curve } = model;
  const { ports, coordinate } = bindPorts(model.ports, to, true);
  const [a, b] = ports;
  const efficiency = model.efficiency ?? LOSSLESS;
  const at = new Float64Array(3);
  const touch = new Float64Array(6);
  /** How large the force between the profiles is beside that of `touch`: what losses take is a couple between both. */
  const pressed = (f: RowForce): number =>
    efficiency.forward === 1 && efficiency.backward === 1
      ? f.lambda
      : forceOf(sharedBy(b, a, [touch[0], touch[1], touch[2]], [touch[3], touch[4], touch[5]]), f.port[1], f.port[0]);
  const off = (q: Float64Array): number => {
    curve.value(along(a, q), at);
    return along(b, q) - at[0];
  };
  const grip: Grip | undefined = curve.pushes
    ? {
        touches: true,
        lifted: false,
        pitch: 0,
        sense: curve.pushes,
        gap: (q) => off(q) * curve.pushes,
        speed: () => -1,
        catchAt: (q) => along(a, q),
        restitution: curve.restitution,
        jump(since, q, rates) {
          const to = along(a, q);
          let by = 0;
          for (const j of curve.jumps) if (Math.floor((to - j.at) / TURN) !== Math.floor((since - j.at) / TURN)) by += j.by;
          return by * Math.abs(along(a, rates)) * curve.pushes;
        },
        parting(q, rates) {
          curve.value(along(a, q), at);
          return (along(b, rates) - at[1] * along(a, rates)) * curve.pushes;
        },
        holds: { kind: 'follower-lands', say: (name) => `the follower of ${name} meets the cam again` },
        lets: { kind: 'follower-lifts', say: (name) => `the follower of ${name} leaves the cam` },
      }
    : undefined;
  return {
    coupling,
    ports,
    coordinate,
    efficiency,
    numeric: true,
    grip,
    strands: 0,
    shares(q, gain) {
      curve.value(along(a, q), at);
      gain[0] = -at[1];
      gain[1] = 1;
    },
    residual: off,
    bend(q, rates) {
      curve.value(along(a, q), at);
      const v = along(a, rates);
      return at[2] * v * v;
    },
    lose(forces, k, velocity, least) {
      return losePower(this, forces[k], velocity, least);
    },
    report(forces, k, q) {
      curve.contact(along(a, q), touch);
      const f = forces[k];
      if (f.gain[1] !== 0) f.tangential = pressed(f) * (curve.pushes || 1) * Math.hypot(touch[3], touch[4], touch[5]);
    },
    bear(f, q, into) {
      if (f.gain[1] === 0) {
        for (let k = 0; k < 2; k++) bearPort(coupling, ports[k], f.port[k], into);
        return;
      }
      curve.contact(along(a, q), touch);
      const l = pressed(f);
      const point: Vec3 = [touch[0], touch[1], touch[2]];
      pushBetween(coupling, b, a, point, touch[3] * l, touch[4] * l, touch[5] * l, into);
      if (efficiency.forward !== 1 || efficiency.backward !== 1) {
        bearLoss(coupling, sharedBy(b, a, point, [touch[3], touch[4], touch[5]]), b, a, point, f.port[1], f.port[0], into);
      }
    },
  };
}
