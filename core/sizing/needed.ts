import type { WantedOutput } from '../document/index';
import type { Design, Id } from '../fields/types';

/** A speed of a member as the ledger tells it: rev/min, or mm/s where it slides. */
export interface MemberSpeed {
  member: Id;
  motion: 'turn' | 'slide' | 'still';
  speed: number;
}

/** What is still to be done behind a member for a wanted speed: turns in for one out, or travel per turn, mm. */
export interface StillNeeded {
  wanted: Id;
  name: string;
  kind: 'turns' | 'travel';
  ratio: number;
}

/**
 * What the train still needs behind a turning member, for each wanted speed that no joint has taken yet: the member's speed over the wanted one, or the wanted
 * linear speed over its turns in a second. Nothing where the member stands, or is to turn as it does already.
 */
export function stillNeeded(design: Design, speeds: readonly MemberSpeed[], member: Id): StillNeeded[] {
  const at = speeds.find((s) => s.member === member);
  const n = Math.abs(at?.speed ?? 0);
  if (at?.motion !== 'turn' || n === 0) return [];
  return design.wanted.flatMap((w: WantedOutput): StillNeeded[] => {
    const value = Math.abs(w.value ?? 0);
    if (w.joint !== undefined || value === 0) return [];
    if (w.type === 'speed') {
      const ratio = n / value;
      return Math.abs(ratio - 1) < 1e-9 ? [] : [{ wanted: w.id, name: w.name, kind: 'turns', ratio }];
    }
    return w.type === 'linear-speed' ? [{ wanted: w.id, name: w.name, kind: 'travel', ratio: (value * 60) / n }] : [];
  });
}
