import type { Gear } from '../elements/index';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { row, item } from '../testing/designs';
import { Design, compareDesigns, mergeDesigns, readDesign, same } from './index';

const base = (): Design =>
  row([
    [18, 54],
    [20, 40],
  ]).design;
/** A way to change the design, at random: rename, retooth, add or take away. */
const change = fc.record({ what: fc.constantFrom('teeth', 'rename', 'add', 'remove', 'note'), k: fc.nat(3), n: fc.integer({ min: 10, max: 99 }) });
type Change = { what: string; k: number; n: number };
function apply(d: Design, c: Change, who: string): Design {
  const e = d.elements[c.k % d.elements.length];
  switch (c.what) {
    case 'teeth':
      return { ...d, elements: d.elements.map((x) => (x === e ? { ...x, teeth: c.n } : x)) };
    case 'rename':
      return { ...d, members: d.members.map((m, i) => (i === c.k % d.members.length ? { ...m, name: `${who} ${c.n}` } : m)) };
    case 'add':
      return { ...d, wanted: [...d.wanted, item({ id: `${who}${c.n}_${d.wanted.length}`, name: 'w', type: 'speed', value: c.n })] };
    case 'remove':
      return d.loads.length ? { ...d, loads: d.loads.slice(1) } : d;
    default:
      return { ...d, note: `${who} ${c.n}` };
  }
}

describe('joining two states of a design', () => {
  it('takes what only one side has touched, from either side, whatever it is', () => {
    fc.assert(
      fc.property(fc.array(change, { maxLength: 6 }), (changes) => {
        const b = base();
        const one = changes.reduce((d, c) => apply(d, c, 'one'), b);
        for (const m of [mergeDesigns(b, one, b), mergeDesigns(b, b, one), mergeDesigns(b, one, one)]) {
          expect(m.clashes).toEqual([]);
          expect(same(m.design, one)).toBe(true);
        }
      }),
      { numRuns: 60 },
    );
  });

  it('holds both sides’ edits where they touch different items, the same way round or the other', () => {
    fc.assert(
      fc.property(fc.array(change, { maxLength: 5 }), fc.array(change, { maxLength: 5 }), (a, b) => {
        const d = base();
        const [mine, theirs] = [a.reduce((x, c) => apply(x, c, 'mine'), d), b.reduce((x, c) => apply(x, c, 'theirs'), d)];
        const [m, n] = [mergeDesigns(d, mine, theirs), mergeDesigns(d, theirs, mine)];
        expect(m.clashes.length === 0).toBe(n.clashes.length === 0);
        expect(readDesign(m.design).problems).toBeUndefined();
        if (m.clashes.length) return;
        for (const e of d.elements) {
          const at = (x: Design) => x.elements.find((y): y is Gear => y.id === e.id)?.teeth;
          expect(at(m.design)).toBe(at(mine) !== at(d) ? at(mine) : at(theirs));
          expect(at(n.design)).toBe(at(m.design));
        }
        expect(m.design.wanted).toHaveLength(mine.wanted.length + theirs.wanted.length - d.wanted.length);
      }),
      { numRuns: 100 },
    );
  });

  it('calls it a clash when one item is changed both ways, and when one side needs what the other has deleted', () => {
    const b = base();
    const teeth = (n: number): Design => ({ ...b, elements: b.elements.map((e, i) => (i ? e : { ...e, teeth: n })) });
    expect(mergeDesigns(b, teeth(20), teeth(21)).clashes).toEqual([expect.stringContaining('changed in both')]);
    const gone = { ...b, members: b.members.slice(1) };
    const uses = { ...b, elements: [...b.elements, { ...b.elements[0], id: 'new', name: 'New wheel', member: b.members[0].id }] };
    expect(mergeDesigns(b, uses, gone).clashes).toContainEqual(expect.stringContaining('“New wheel” needs member'));
    expect(mergeDesigns(b, { ...b, note: 'a' }, { ...b, note: 'b' }).clashes).toEqual(['The note was changed in both']);
  });
});

describe('what one side names and the other has deleted', () => {
  it('is a clash in load cases, runs and load sheets as in items; a word that happens to be an id is none', () => {
    const b: Design = {
      ...base(),
      loads: [item({ id: 'right', name: 'Right', type: 'torque', member: base().members[0].id, torque: [0, 0, 1] as const })],
    };
    const gone = { ...b, loads: [] };
    const named = { ...b, cases: [{ id: 'case', name: 'Lifting', loads: [{ load: 'right', factor: 2 }] }] };
    expect(mergeDesigns(b, named, gone).clashes).toEqual([expect.stringContaining('“Lifting” needs load “right”')]);
    // The hand of a gear is a word.
    const handed = { ...b, elements: b.elements.map((e, i) => (i ? e : { ...e, hand: 'right' })) };
    expect(mergeDesigns(b, handed, gone).clashes).toEqual([]);
    const sheet = { ...b, sheets: [{ id: 's', name: 'Sheet', member: b.members[0].id }] };
    const without = { ...b, members: b.members.slice(1) };
    expect(mergeDesigns(b, sheet, without).clashes).toContainEqual(expect.stringContaining('“Sheet” needs member'));
  });
});

describe('a comparison in words', () => {
  it('says what came, what went, and each changed field by its label with both values', () => {
    const b = base();
    const after: Design = {
      ...b,
      name: 'Second thought',
      elements: b.elements.map((e, i) => (i ? e : { ...e, teeth: 20, name: 'Pinion' })),
      couplings: b.couplings.slice(1),
      wanted: [item({ id: 'w', name: 'Hoist speed', type: 'speed', value: 3 })],
      settings: { duration: 4 },
    };
    const said = compareDesigns(b, after).map((d) => `${d.change}: ${d.what} ${d.detail}`.trim());
    expect(said).toContain('changed: Element “Pinion” Teeth: 18 → 20');
    expect(said).toContain('added: Wanted output “Hoist speed”');
    expect(said.some((s) => s.startsWith('removed: Coupling'))).toBe(true);
    expect(said).toContain('changed: Design Duration: not stated → 4 s');
    expect(compareDesigns(b, b)).toEqual([]);
  });
});
