import { describe, expect, it } from 'vitest';
import { COUPLING_KINDS } from '../couplings/index';
import { statedBy } from '../fields/fields';
import type { Coupling } from '../fields/types';
import { compile } from '../kinematics/index';
import { RIGS } from '../testing/rigs/index';
import { couplingsBetween, withCoupling } from './couple';

/** What a coupling of a design joins. */
const joined = (c: Coupling): string[] => {
  const { a, b, wheels } = statedBy(c);
  return [a, b, ...((wheels as string[] | undefined) ?? [])].filter((x) => x !== undefined).map(String);
};

describe('couplings between what is picked', () => {
  const seen = new Set<string>();
  it('offer every coupling that stands in a rig, whichever end is picked first, and put it in as it stood', () => {
    for (const rig of RIGS) {
      const d = rig.make();
      for (const c of d.couplings) {
        const ends = joined(c).map((x) => x.split(':')[0]);
        // A further freedom of a joint is chosen in the data sheet.
        if (joined(c).some((x) => x.includes(':')) || new Set(ends).size < 2) continue;
        for (const picked of 'wheels' in c ? [ends] : [ends, [...ends].reverse()]) {
          const offer = couplingsBetween(d, picked).find((o) => o.kind.type === c.type);
          expect(offer, `${rig.name}: ${c.type} of ${picked.join()}`).toBeDefined();
          const made = withCoupling({ ...d, couplings: [] }, offer!);
          expect(compile(made.design).findings.filter((f) => f.code.startsWith('coupling-needs'))).toEqual([]);
          seen.add(c.type);
        }
      }
    }
    expect(COUPLING_KINDS.map((k) => k.type).filter((t) => !seen.has(t))).toEqual([]);
  });
  it('offer nothing that could not be: parallel gears no bevel or crossed pair, one wheel nothing, a gear and a pulley nothing', () => {
    const d = RIGS.find((r) => r.name === 'gear train')!.make();
    const pair = d.couplings.find((c) => c.type === 'gear-pair')!;
    expect(couplingsBetween(d, joined(pair)).map((o) => o.kind.type)).toEqual(['gear-pair']);
    expect(couplingsBetween(d, [joined(pair)[0]])).toEqual([]);
    const [g] = d.elements;
    const other = { ...d, elements: [...d.elements, { ...g, id: 'p', type: 'pulley', member: 'frame' }] };
    expect(couplingsBetween(other, [g.id, 'p'])).toEqual([]);
    // On one member nothing can be coupled.
    expect(couplingsBetween({ ...d, elements: d.elements.map((e) => ({ ...e, member: g.member })) }, joined(pair))).toEqual([]);
  });
});
