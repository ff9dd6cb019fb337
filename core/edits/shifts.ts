import { type Gear, gearOf, num } from '../elements/index';
import type { Coupling, Design, Id } from '../fields/types';
import { balancedShifts } from '../teeth/index';
import { withItem } from './values';

/** Decimals of a profile shift that is proposed: finer than it is cut. */
const DECIMALS = 4;

/** Both external gears of a pair, or undefined. */
export function gearsOfPair(design: Design, coupling: Id): readonly [Gear, Gear] | undefined {
  const c: Coupling | undefined = design.couplings.find((x) => x.id === coupling);
  if (c?.type !== 'gear-pair') return undefined;
  const [a, b] = [c.a, c.b].map((id) => design.elements.find((e) => e.id === id) as Gear | undefined);
  return a?.type === 'gear' && b?.type === 'gear' && !a.internal && !b.internal ? [a, b] : undefined;
}

/**
 * Profile shifts at which the roots of both gears of an external pair slide alike; their sum stays, and so do the centre
 * distance and the phase. Says why not where there are none, or where one of the gears meshes with others too.
 */
export function withBalancedShifts(design: Design, coupling: Id): { design: Design; problem?: undefined } | { problem: string } {
  const gears = gearsOfPair(design, coupling);
  if (!gears) return { problem: 'Only pairs of external gears can be balanced.' };
  for (const g of gears) {
    const others = design.couplings.filter((c) => c.id !== coupling && (c.a === g.id || c.b === g.id));
    const names = others.map((c) => `“${c.name ?? c.id}”`).join(', ');
    if (others.length) return { problem: `“${g.name}” is in ${names} too: its shift would change that.` };
  }
  const [a, b] = gears;
  const balanced = balancedShifts(gearOf(a), gearOf(b));
  if (!balanced) return { problem: 'No shifts with the same sum balance the sliding without pointed or undercut teeth.' };
  const sum = num(a.shift) + num(b.shift);
  const x = Number(balanced[0].toFixed(DECIMALS));
  const other = Number((sum - x).toPrecision(12));
  return { design: withItem(withItem(design, a.id, { shift: x }), b.id, { shift: other }) };
}
