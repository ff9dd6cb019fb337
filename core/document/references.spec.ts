import { describe, expect, it } from 'vitest';
import { Builder } from '../testing/designs';
import { copyItems, pasteItems, removeItems } from '../edits/index';
import { namedBy, readDesign, withReferences } from './index';

/** Two helical wheels, and a member whose id is the word “left”. */
function withMemberLeft() {
  const b = new Builder();
  const left = b.shaft([0, 0, 0], 'frame', { id: 'left' });
  const other = b.shaft([41.4, 0, 0]);
  const wheel = b.gear(left.member, 20, 2, { helix: 15, hand: 'left' });
  const partner = b.gear(other.member, 20, 2, { helix: 15, hand: 'right' });
  return { d: b.design, wheel, partner, mesh: b.mesh(wheel, partner) };
}

describe('references between items', () => {
  it('are the fields that name an item; a chosen word is none, whatever ids there are', () => {
    const { d, wheel, partner } = withMemberLeft();
    expect(namedBy('elements', d.elements[0])).toEqual(['left']);
    expect(namedBy('couplings', d.couplings[0])).toEqual([wheel, partner]);
    const renamed = withReferences('elements', d.elements[0], (id) => `${id}-2`);
    expect(renamed).toMatchObject({ member: 'left-2', hand: 'left' });
  });
  it('keep what stands behind the id: the number of a freedom, the face of an element', () => {
    const joint = { id: 'j', type: 'revolute', parent: 'frame', child: 'm', lowerFaces: ['collar:+z', 'plate:-z'] };
    expect(withReferences('joints', joint, (id) => (id === 'collar' ? 'ring' : undefined)).lowerFaces).toEqual(['ring:+z', 'plate:-z']);
    const load = { id: 'l', name: 'L', type: 'joint-load', joint: 'j3:1', value: 2 };
    expect(withReferences('loads', load, (id) => (id === 'j3' ? 'j9' : undefined)).joint).toBe('j9:1');
  });
  it('a pasted wheel keeps its hand, and so does one whose partner is taken out', () => {
    const { d, partner } = withMemberLeft();
    const pasted = pasteItems(
      d,
      copyItems(
        d,
        d.members.map((m) => m.id),
      ),
      [0, 0, 100],
    ).design;
    expect(pasted.elements.slice(2)).toMatchObject([{ hand: 'left' }, { hand: 'right' }]);
    expect(pasted.couplings).toHaveLength(2);
    expect(readDesign(pasted).problems).toBeUndefined();
    const less = removeItems(d, [partner]);
    expect(less.elements).toMatchObject([{ hand: 'left' }]);
    expect(less.couplings).toEqual([]);
  });
  it('one id names one thing: two lists that share one are refused, with the place', () => {
    const { d } = withMemberLeft();
    const shared = { ...d, elements: d.elements.map((e, i) => (i ? e : { ...e, id: 'left' })), couplings: [] };
    expect(readDesign(shared).problems).toMatchObject([{ path: 'elements[0].id', message: expect.stringMatching(/“left” is the id of/) }]);
  });
});
