import type { LedgerLine } from '../forces/index';
import type { Units } from '../units/index';
import { motionUnit } from '../units/index';
import { LIVE, type MapCoupling, type MapMember, widthOf } from './cells';
import { ratioText } from './drawing';

/** Size of a speed with its sense: seen along the axis, or the way of a slide. */
export function speedText(m: Pick<MapMember, 'upright'>, l: LedgerLine | undefined, units: Units): string {
  if (!l) return '';
  // What does not turn is told by its travel.
  if (l.travel) {
    const [x, , z] = l.travel.direction;
    const arrow = Math.abs(z) >= Math.SQRT1_2 ? (z > 0 ? '↑' : '↓') : x >= 0 ? '→' : '←';
    return `${units.text(l.travel.speed, 'mm/s', 4)} ${arrow}`;
  }
  const size = units.text(Math.abs(l.speed), motionUnit(l.motion).speed, 4);
  if (!l.speed) return size;
  const positive = l.speed > 0;
  if (l.motion !== 'slide') return `${size} ${positive ? '↻' : '↺'}`;
  return `${size} ${m.upright ? (positive === m.upright > 0 ? '↑' : '↓') : positive ? '→' : '←'}`;
}

/** The torque or force that passes through a member. */
export function loadText(l: LedgerLine | undefined, units: Units): string {
  if (l?.travel) return units.text(l.travel.load, 'N', 4);
  return l ? units.text(l.load, motionUnit(l.motion).effort, 4) : '';
}

/** The ratio across a coupling in the units of the design; empty where it has none. */
export const couplingRatio = (c: Pick<MapCoupling, 'ratio' | 'unit'>, units: Units): string =>
  c.ratio ? ratioText({ ...c.ratio, q: units.exactShown(c.ratio.q, c.unit) }, units.of(c.unit)) : '';

/** What stands in the box of a linkage that is drawn shut. */
export const linkageText = (c: Pick<MapCoupling, 'touches' | 'box'>): string =>
  `${c.touches.length + (c.box?.members.length ?? 0)} members, ${c.box?.joints ?? 0} joints`;

/** Members that the box of a linkage has lines for. */
export const linesInBox = (c: Pick<MapCoupling, 'box'>): readonly { id: string; name: string }[] =>
  c.box ? c.box.members.slice(0, Math.max(0, Math.floor((c.box.height - 39) / 15))) : [];

/** Names of the loads on a member, as far as there is room for them. */
export function loadsText(names: readonly string[]): string {
  const all = names.join(', ');
  if (widthOf(all) < LIVE - 40) return all;
  return names.length > 1 ? `${names.length} loads` : `${all.slice(0, 18)}…`;
}
