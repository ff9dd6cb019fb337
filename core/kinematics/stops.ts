import { finding } from '../findings/index';
import { Exact, Finding, Id } from '../fields/types';
import { PiRatio, Ratio, div, exactly, piRatio, piToNumber, ratio, sub, toNumber } from '../math/index';
import type { Port } from '../couplings/index';
import type { Compiled } from './compiled';
import { exactRatio } from './eliminate';
import type { Coordinate, Structure } from './structure';

/** A stop of one joint as it limits the source: exact where the train is. Turns or mm. */
export interface MappedStop {
  joint: Id;
  which: 'lower' | 'upper';
  /** Value of the joint's own coordinate, in turns or mm. */
  own: number;
  /** Value of the driving coordinate at which the stop is met, in turns or mm. */
  at: number;
  exact?: PiRatio;
  /** What ends there, where it is no stop but a coupling (whose id `joint` is) that leaves engagement. */
  leaves?: string;
  /**
   * Set where no stop but the geometry ends the way: a dead centre (links in line),
   * or a place out of the links' reach. `joint` is the one that then moves quickest.
   */
  dead?: 'dead-point' | 'unreachable';
}

/** The interval that the stops leave to one driving coordinate, with the tightest stop at each end. */
export interface Interval {
  lower?: MappedStop;
  upper?: MappedStop;
}

/** Stated joint values are deg and mm; exact coordinates are turns and mm. */
export const toExactUnit = (c: Coordinate, value: Exact): Ratio => (c.motion === 'slide' ? exactly(value) : div(exactly(value), ratio(360)));

/** Lower and upper of a joint, in order whichever way they were typed, in turns or mm. */
export function stopsOf(c: Coordinate): { lower?: Ratio; upper?: Ratio; home?: Ratio } {
  const read = (v: unknown): Ratio | undefined => (v === undefined || v === null ? undefined : toExactUnit(c, v as Exact));
  let lower = read(c.lower),
    upper = read(c.upper);
  if (lower && upper && sub(upper, lower).n < 0n) [lower, upper] = [upper, lower];
  return { lower, upper, home: read(c.home) };
}

/**
 * Where a slide's stop lies as people see it: 'top' or 'bottom' where the slide
 * rises or falls more than it goes across; nothing else has an upper end.
 */
export function endSeen(c: Coordinate, which: 'lower' | 'upper'): 'top' | 'bottom' | undefined {
  if (c.motion !== 'slide' || Math.abs(c.axis[2]) < Math.SQRT1_2) return undefined;
  return c.axis[2] > 0 === (which === 'upper') ? 'top' : 'bottom';
}

/** Findings about stops as stated: home outside, no room between. */
export function stopFindings(compiled: Compiled): Finding[] {
  const out: Finding[] = [];
  for (const c of compiled.structure.coordinates) {
    const { lower, upper, home } = stopsOf(c);
    const name = `“${c.joint.name ?? c.joint.id}”${c.order ? ` (${c.label})` : ''}`;
    const at = (key: string): string => (c.order ? `${key}${c.order + 1}` : key);
    if (home && ((lower && sub(home, lower).n < 0n) || (upper && sub(upper, home).n < 0n))) {
      out.push(finding('home-outside-stops', [c.joint.id], { name }, at('home')));
    }
    if (lower && upper && sub(upper, lower).n === 0n) {
      out.push(finding('no-travel', [c.joint.id], { name }, at('upper')));
    }
    if ((lower && lower.n > 0n) || (upper && upper.n < 0n)) {
      if (!home) {
        out.push(finding('reference-outside-stops', [c.joint.id], { name }, at('lower')));
      }
    }
  }
  return out;
}

const stopped = new WeakMap<Structure, { c: Coordinate; lower?: Ratio; upper?: Ratio }[]>();

/** The coordinates that have stops, read once. */
function stoppedOf(structure: Structure): readonly { c: Coordinate; lower?: Ratio; upper?: Ratio }[] {
  let list = stopped.get(structure);
  if (!list) {
    list = structure.coordinates.map((c) => ({ c, ...stopsOf(c) })).filter((x) => x.lower ?? x.upper);
    stopped.set(structure, list);
  }
  return list;
}

/** Stops of all joints that follow linearly from the driving coordinate alone, mapped onto it exactly. */
export function mapStops(compiled: Compiled, driving: number, engagements = true): Interval {
  const out: Interval = {};
  const { structure, reduction } = compiled;
  for (const { c, lower, upper } of stoppedOf(structure)) {
    const k = c.index === driving ? piRatio(ratio(1)) : exactRatio(reduction, c.index, driving);
    if (!k || k.q.n === 0n) continue;
    const put = (own: Ratio | undefined, which: 'lower' | 'upper'): void => {
      if (!own) return;
      const exact = piRatio(div(own, k.q), -k.pi);
      const at = piToNumber(exact);
      const isUpper = (which === 'upper') === k.q.n > 0n;
      const m: MappedStop = { joint: c.joint.id, which, own: toNumber(own), at, exact };
      if (isUpper) {
        if (!out.upper || at < out.upper.at) out.upper = m;
      } else if (!out.lower || at > out.lower.at) out.lower = m;
    };
    put(lower, 'lower');
    put(upper, 'upper');
  }
  for (const m of engagements ? mapEngagements(compiled, driving) : []) {
    const side = m.which;
    const had = out[side];
    if (!had || (side === 'upper' ? m.at < had.at : m.at > had.at)) out[side] = m;
  }
  return out;
}

/** Motion of a port for one unit of a coordinate, turns or mm; undefined where it does not follow from it alone. */
function portOver(compiled: Compiled, port: Port, driving: number): number | undefined {
  let sum = 0;
  for (const t of port.terms) {
    const r = t.coordinate === driving ? 1 : exactRatio(compiled.reduction, t.coordinate, driving);
    if (r === undefined) return undefined;
    sum += piToNumber(t.factor) * (typeof r === 'number' ? r : piToNumber(r));
  }
  return sum;
}

/** Where couplings leave engagement, mapped onto a driving coordinate: which end of its way each is. */
export function mapEngagements(compiled: Compiled, driving: number): MappedStop[] {
  return compiled.couplings.flatMap(({ coupling, model }) =>
    (model.engagements ?? []).flatMap((e) => {
      const k = portOver(compiled, e.motion, driving);
      if (!k) return [];
      return [e.from, e.to].map((own, i): MappedStop => ({
        joint: coupling.id,
        which: (i === 1) === k > 0 ? 'upper' : 'lower',
        own,
        at: own / k,
        leaves: e.what,
      }));
    }),
  );
}

/** How far a stop may stand beyond an end and be at it. */
const slack = (at: number): number => 1e-9 * Math.max(1, Math.abs(at));

/** Couplings that leave engagement before a stop ends their motion, or in which nothing would end it. */
export function engagementFindings(compiled: Compiled): Finding[] {
  const out: Finding[] = [];
  for (const { coupling, e } of compiled.couplings.flatMap(({ coupling, model }) => (model.engagements ?? []).map((e) => ({ coupling, e })))) {
    const name = coupling.name ?? coupling.id;
    const port = e.motion;
    const unit = port.motion === 'slide' ? ' mm' : '°';
    const shown = (v: number): string => String(Number((port.motion === 'slide' ? v : v * 360).toFixed(3)));
    if (e.from > 0 || e.to < 0) {
      out.push(finding('out-of-engagement', [coupling.id], { name, what: e.what }));
      continue;
    }
    // Whichever source leads it alone; without one its own motion.
    const leads = [...compiled.sources.map((s) => s.coordinate), ...port.terms.map((t) => t.coordinate)];
    const driving = leads.find((c) => portOver(compiled, port, c));
    const ratio = driving === undefined ? undefined : portOver(compiled, port, driving);
    if (driving === undefined || !ratio) continue;
    const stops = mapStops(compiled, driving, false);
    for (const end of mapEngagements(compiled, driving).filter((m) => m.joint === coupling.id && m.leaves === e.what)) {
      const stop = stops[end.which];
      const at = `${shown(end.own)}${unit}`;
      if (!stop) out.push(finding('engagement-open', [coupling.id], { name, what: e.what, at }));
      else if (end.which === 'upper' ? stop.at > end.at + slack(end.at) : stop.at < end.at - slack(end.at)) {
        const way = stop.at * ratio;
        const words = { name, what: e.what, at, way: `${shown(way)}${unit}`, enough: e.enough?.(way) ?? '' };
        out.push(finding('leaves-engagement', [coupling.id, stop.joint], words));
      }
    }
  }
  return out;
}
