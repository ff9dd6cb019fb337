import { Exact, Finding, Id, finding } from '../fields/types';
import { PiRatio, Ratio, div, exactly, piRatio, piToNumber, ratio, sub, toNumber } from '../exact/index';
import type { Compiled } from './compile';
import { exactRatio } from './eliminate';
import type { Coordinate } from './structure';

/** A stop of one joint as it limits the source: exact where the train is. Turns or mm. */
export interface MappedStop {
  joint: Id;
  which: 'lower' | 'upper';
  /** Value of the joint's own coordinate, in turns or mm. */
  own: number;
  /** Value of the driving coordinate at which the stop is met, in turns or mm. */
  at: number;
  exact?: PiRatio;
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
  const j = c.joint;
  const read = (v: unknown): Ratio | undefined => (v === undefined || v === null ? undefined : toExactUnit(c, v as Exact));
  let lower = read(c.lower),
    upper = read(c.upper);
  if (lower && upper && sub(upper, lower).n < 0n) [lower, upper] = [upper, lower];
  return { lower, upper, home: read(j.home) };
}

/** Findings about stops as stated: home outside, no room between. */
export function stopFindings(compiled: Compiled): Finding[] {
  const out: Finding[] = [];
  for (const c of compiled.structure.coordinates) {
    if (c.order !== 0) continue;
    const { lower, upper, home } = stopsOf(c);
    const name = `“${c.joint.name ?? c.joint.id}”`;
    if (home && ((lower && sub(home, lower).n < 0n) || (upper && sub(upper, home).n < 0n))) {
      out.push(finding('stop', 'home-outside-stops', [c.joint.id], `joint ${name}: home lies outside its stops; move home or the stop`, 'home'));
    }
    if (lower && upper && sub(upper, lower).n === 0n) {
      out.push(finding('caution', 'no-travel', [c.joint.id], `joint ${name}: both stops are at the same place, so nothing can move`, 'upper'));
    }
    if ((lower && lower.n > 0n) || (upper && upper.n < 0n)) {
      if (!home) {
        out.push(
          finding(
            'note',
            'reference-outside-stops',
            [c.joint.id],
            `joint ${name}: its reference position lies outside its stops; turning begins at the nearer stop`,
            'lower',
          ),
        );
      }
    }
  }
  return out;
}

/** Stops of all joints that follow linearly from the driving coordinate alone, mapped onto it exactly. */
export function mapStops(compiled: Compiled, driving: number): Interval {
  const out: Interval = {};
  const { structure, reduction } = compiled;
  for (const c of structure.coordinates) {
    if (c.order !== 0) continue;
    const { lower, upper } = stopsOf(c);
    if (!lower && !upper) continue;
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
  return out;
}
