import fc from 'fast-check';
import { afterEach, describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { emptyDesign } from '../document/index';
import { addShapes } from '../edits/index';
import { WORLD } from '../math/index';
import { circle, meshOf, rectangle } from '../solids/index';
import { Builder } from '../testing/designs';
import { boxMesh, shapeFrom } from '../testing/shapes';
import { MeshTree, holdContent, releaseContents, treeOf, welded } from './index';

const HASH = 'c'.repeat(64);
/** A plate 100 × 40 × 8 with a hole of 20 about (50, 20). */
const plate = welded(meshOf({ kind: 'prism', outline: rectangle(0, 0, 100, 40), holes: [circle(10, 50, 20)], from: 0, to: 8 }));

describe('how deep a point lies in a surface', () => {
  it('is the distance to the nearest side of a box, negative outside', () => {
    const tree = new MeshTree(boxMesh(10, 20, 30));
    fc.assert(
      fc.property(
        fc.double({ min: -15, max: 25, noNaN: true }),
        fc.double({ min: -15, max: 35, noNaN: true }),
        fc.double({ min: -15, max: 45, noNaN: true }),
        (x, y, z) => {
          const inside = Math.min(x, 10 - x, y, 20 - y, z, 30 - z);
          const out = Math.hypot(Math.max(-x, 0, x - 10), Math.max(-y, 0, y - 20), Math.max(-z, 0, z - 30));
          const depth = tree.depth(x, y, z);
          expect(Math.abs(depth)).toBeCloseTo(inside > 0 ? inside : out, 9);
          if (Math.abs(inside) > 1e-9) expect(depth > 0).toBe(inside > 0);
        },
      ),
    );
  });

  it('changes by no more than the way: what the search for overlaps stands on', () => {
    const tree = new MeshTree(plate);
    const p = fc.tuple(fc.integer({ min: -20, max: 120 }), fc.integer({ min: -20, max: 60 }), fc.integer({ min: -10, max: 20 }));
    fc.assert(fc.property(p, p, (a, b) => Math.abs(tree.depth(...a) - tree.depth(...b)) <= Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]) + 1e-9));
  });

  it('is outside in a hole', () => {
    const tree = new MeshTree(plate);
    expect(tree.depth(50, 20, 4)).toBeCloseTo(-10, 1);
    expect(tree.depth(50, 34, 4)).toBeCloseTo(4, 1);
  });
});

describe('imported shapes and other bodies', () => {
  afterEach(() => releaseContents());
  /** The plate on the frame, and a bar of a diameter, fast on a shaft beside it, through its hole, so far off its middle. */
  const design = (diameter: number, off = 0) => {
    const b = new Builder();
    const s = b.shaft([300, 20, 0]);
    b.element('rod', s.member, { diameter, length: 60, at: [off - 250, 0, -10] });
    b.motor(s.joint, 20);
    return addShapes(b.design, [{ content: HASH, data: shapeFrom(plate), place: WORLD, onto: { member: 'frame' } }]).design;
  };
  const codes = (d: ReturnType<typeof design>): string[] =>
    analyse(d)
      .findings.map((f) => f.code)
      .filter((c) => c === 'bodies-overlap' || c === 'shape-not-checked');

  it('a bar that passes the hole is clear; one beside it stands in the plate', () => {
    holdContent(HASH, () => plate);
    expect(codes(design(16))).toEqual([]);
    expect(codes(design(16, 6))).toEqual(['bodies-overlap']);
    expect(codes(design(30))).toEqual(['bodies-overlap']);
  });

  it('without the content nobody looked, and it is said so', () => {
    expect(codes(design(30))).toEqual(['shape-not-checked']);
    expect(treeOf(HASH)).toBeUndefined();
  });

  it('members that stop each other do so where their surfaces touch, and the stop follows a longer part', () => {
    const gate = (length: number): number | undefined => {
      releaseContents();
      const part = boxMesh(length, 40, 40);
      holdContent(HASH, () => part);
      const b = new Builder();
      const s = b.slide([300, 20, 20], [1, 0, 0]);
      b.element('block', s.member, { length: 40, depth: 40, height: 40 });
      b.motor(s.joint, 20);
      const made = addShapes(b.design, [{ content: HASH, data: shapeFrom(part), place: WORLD, onto: { newMember: 'Buffer', kind: 'body' } }]);
      const d = {
        ...made.design,
        joints: [...made.design.joints, { id: 'seat', type: 'fixed', parent: 'frame', child: made.members[0] }],
        members: made.design.members.map((m) => (m.id === s.member ? { ...m, stopsAt: [made.members[0]] } : m)),
      };
      return analyse(d).compiled.structure.coordinates.find((c) => c.joint.id === s.joint)!.lower as number | undefined;
    };
    expect(gate(100)).toBeCloseTo(-180, 3);
    expect(gate(150)).toBeCloseTo(-130, 3);
  });

  it('an empty design needs none', () => expect(analyse(emptyDesign('Empty')).findings.filter((f) => f.code === 'shape-not-checked')).toEqual([]));
});
