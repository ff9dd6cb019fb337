import type { Id } from '../../fields/types';
import { piToNumber } from '../../math/index';
import type { ProportionalModel } from '../protocol';
import { bearContact, bindContact, reportContact } from './contact';
import { type Binding, type BoundRow, LOSSLESS, along, bearPort, bindPorts, losePower } from './protocol';

/** Motions in proportion: Σ coefficient · motion = offset. Gears, racks, screws, rolling wheels, typed pairs, spans of a belt. */
export function bindProportional(coupling: Id, model: Omit<ProportionalModel, 'law'>, to: Binding, numeric: boolean): BoundRow {
  const { ports, coordinate } = bindPorts(model.ports, to, false);
  const contacts = (model.contacts ?? []).map((c) => bindContact(c, ports));
  const offset = model.offset ? piToNumber(model.offset) : 0;
  return {
    coupling,
    ports,
    coordinate,
    efficiency: model.efficiency ?? LOSSLESS,
    numeric,
    strands: 0,
    shares: (_q, gain) => void gain.fill(1),
    residual(q) {
      let s = -offset;
      for (let k = 0; k < ports.length; k++) s += along(ports[k], q);
      return s;
    },
    bend: () => 0,
    lose(forces, at, velocity, least) {
      return losePower(this, forces[at], velocity, least);
    },
    report(forces, at) {
      if (contacts.length) return reportContact(contacts[0], ports, forces[at]);
      // What pulls at a rim: the force of the rope.
      for (let k = 0; k < ports.length; k++) {
        const { lever } = ports[k];
        if (lever) forces[at].tangential = forces[at].port[k] / lever.arm;
      }
    },
    bear(f, _q, into) {
      if (contacts.length > 0 && bearContact(coupling, contacts[0], ports, f, into)) return;
      for (let k = 0; k < ports.length; k++) bearPort(coupling, ports[k], f.port[k], into, model.inner);
    },
  };
}
