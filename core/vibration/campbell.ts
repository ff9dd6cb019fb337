import type { DrivingSource } from '../document/kinds';
import type { Id } from '../fields/types';
import type { Compiled } from '../kinematics/index';
import { type Gear, num } from '../elements/index';
import type { Ledger } from '../forces/index';
import type { Mode } from './modes';

/**
 * What excites a train in steady motion: once a turn of a member, as its teeth come into mesh, or as its motor's torque
 * ripples.
 */
export interface Excitation {
  readonly item: Id;
  readonly name: string;
  readonly kind: 'turn' | 'mesh' | 'ripple';
  /** Hz at nominal speed. */
  readonly frequency: number;
}
/** A speed at which an excitation meets a natural frequency, as a part of the nominal one. */
export interface Crossing {
  readonly mode: number;
  readonly excitation: number;
  readonly speed: number;
}

/** Couplings whose elements have teeth that come into mesh one by one. */
const TOOTHED = new Set(['gear-pair', 'rack-mesh', 'bevel-pair', 'worm-drive', 'crossed-gears', 'sector-mesh', 'chain']);

/** Rotation and mesh frequencies at nominal speeds, each once. */
export function excitationsOf(compiled: Compiled, ledger: Ledger): Excitation[] {
  const out: Excitation[] = [];
  const names = new Map(compiled.design.members.map((m) => [m.id, m.name]));
  for (const l of ledger.lines) {
    if (l.motion === 'turn' && Math.abs(l.speed) > 0) {
      out.push({ item: l.member, name: names.get(l.member) ?? l.member, kind: 'turn', frequency: Math.abs(l.speed) / 60 });
    }
  }
  const done = new Set<Id>();
  for (const line of ledger.couplings) {
    const c = compiled.couplings.find((x) => x.coupling.id === line.coupling)?.coupling;
    if (!c || done.has(c.id)) continue;
    done.add(c.id);
    const first = compiled.design.elements.find((e) => e.id === (c.wheels?.[0] ?? c.a)) as (Gear & { starts?: number; form?: string }) | undefined;
    if (!TOOTHED.has(c.type) && !(c.type === 'belt' && first?.form === 'toothed')) continue;
    const teeth = first?.type === 'worm' ? num(first.starts, 1) : num(first?.teeth);
    const frequency = (teeth * Math.abs(line.speeds[0])) / 60;
    if (frequency > 0) out.push({ item: c.id, name: c.name ?? c.id, kind: 'mesh', frequency });
  }
  for (const { source, coordinate } of compiled.sources) {
    const s = source as DrivingSource;
    const speed = ledger.sources.find((x) => x.source === s.id)?.speed ?? 0;
    const frequency = (Math.abs(speed) / 60) * num(s.rippleOrder, 1);
    if (num(s.ripple) > 0 && frequency > 0 && compiled.structure.coordinates[coordinate].motion === 'turn') {
      out.push({ item: s.id, name: s.name, kind: 'ripple', frequency });
    }
  }
  return out.sort((a, b) => a.frequency - b.frequency);
}

/** Where excitations meet natural frequencies, up to a part of the nominal speed; nearest to it first. */
export function crossingsOf(modes: readonly Mode[], excitations: readonly Excitation[], upTo = 2): Crossing[] {
  const away = (c: Crossing): number => Math.abs(Math.log(c.speed));
  return modes
    .flatMap((m, mode) => excitations.map((e, excitation): Crossing => ({ mode, excitation, speed: m.frequency / e.frequency })))
    .filter((c) => c.speed > 0 && c.speed <= upTo)
    .sort((a, b) => away(a) - away(b));
}
