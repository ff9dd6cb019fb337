import { inCase } from '../edits/index';
import type { Design } from '../fields/types';
import { type Forces, type Ledger, ledger } from '../forces/index';
import { type Ready, type Snapshot, ready } from './analyse';

/** A design in one load case, by its name, as it was worked out. */
export interface Case {
  readonly name: string;
  readonly design: Design;
  readonly forces: Forces;
  readonly ledger: Ledger;
}

/** A design as it is stated, and in every load case. */
export const casesOf = (s: Ready & Pick<Snapshot, 'ledger'>): Case[] => [
  { name: 'as stated', design: s.compiled.design, forces: s.forces, ledger: s.ledger },
  ...(s.compiled.design.cases ?? []).map((c): Case => {
    const design = inCase(s.compiled.design, c.id);
    const { pose, forces } = ready(design);
    return { name: c.name, design, forces, ledger: ledger(pose, forces) };
  }),
];
