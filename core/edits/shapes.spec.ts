import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { type Design, emptyDesign, readDesign } from '../document/index';
import { type ShapeElement, placesOf } from '../elements/index';
import { FRAME } from '../fields/types';
import { WORLD, frameOf } from '../math/index';
import { joinFeatures } from '../sizing/index';
import { circle, meshOf, rectangle } from '../solids/index';
import { welded } from '../shapes/index';
import { boxMesh, shapeFrom } from '../testing/shapes';
import { addShapes, replaceShape } from './index';

const A = 'a'.repeat(64),
  B = 'b'.repeat(64);
const bracket = (length: number, hole = 10, at = 20) =>
  shapeFrom(
    welded(meshOf({ kind: 'prism', outline: rectangle(0, 0, length, 40), holes: [circle(hole / 2, at, 20)], from: 0, to: 8 })),
    'Bracket',
    'bracket.stl',
  );
const shapeOf = (d: Design): ShapeElement => d.elements.find((e) => e.type === 'shape') as ShapeElement;
const faceOf = (d: Design, x: number): string => {
  const e = shapeOf(d);
  return `${e.id}:${placesOf(e).find((p) => p.kind === 'face' && p.direction[0] * x > 0.99)!.key}`;
};

/** A bracket on the frame, a block that slides along x towards its end face, a lever pinned in its hole. */
function withBracket(): { design: Design; slide: string; pin: string } {
  let { design } = addShapes(emptyDesign('Gate'), [{ content: A, data: bracket(100), place: WORLD, onto: { member: FRAME } }]);
  design = {
    ...design,
    members: [
      { id: 'gate', name: 'Gate', kind: 'slide', at: [300, 20, 4], axis: [1, 0, 0], up: [0, 1, 0] },
      { id: 'arm', name: 'Arm', kind: 'lever', at: [500, 0, 0] },
    ],
    elements: [
      ...design.elements,
      { id: 'leaf', name: 'Leaf', type: 'block', member: 'gate', length: 40, depth: 40, height: 40 } as never,
      { id: 'bar', name: 'Bar', type: 'lever', member: 'arm', length: 60, eye: 20, thickness: 5 } as never,
    ],
    joints: [{ id: 'way', type: 'prismatic', parent: FRAME, child: 'gate', lowerFaces: ['leaf:-z', faceOf(design, 1)] }],
  };
  const hole = placesOf(shapeOf(design)).find((p) => p.kind === 'axis')!.key;
  const joined = joinFeatures(design, 'pin', 'bar:eye', `${shapeOf(design).id}:${hole}`);
  if (!('design' in joined)) throw new Error(joined.problem);
  return { design: joined.design, slide: 'way', pin: joined.joint! };
}
const stopAt = (d: Design, joint: string): number | undefined =>
  analyse(d).compiled.structure.coordinates.find((c) => c.joint.id === joint)?.lower as number | undefined;

describe('an imported part', () => {
  it('is an element with its size and places; the document is valid and weighs it without its content', () => {
    const { design } = addShapes(emptyDesign('One'), [
      { content: A, data: bracket(100), place: WORLD, onto: { newMember: 'Bracket', kind: 'body' } },
    ]);
    expect(readDesign(JSON.parse(JSON.stringify(design))).problems).toBeUndefined();
    const volume = 100 * 40 * 8 - Math.PI * 25 * 8;
    expect([...analyse(design).masses.values()][0].mass).toBeCloseTo(volume * 7850e-9, 4);
    expect(shapeOf(design)).toMatchObject({ least: [0, 0, 0], most: [100, 40, 8], content: A });
  });

  it('that is open says that its mass is unknown', () => {
    const box = boxMesh(1, 2, 3);
    const { design } = addShapes(emptyDesign('Open'), [
      { content: A, data: shapeFrom({ ...box, triangles: box.triangles.slice(6) }), place: WORLD, onto: { newMember: 'Lid', kind: 'body' } },
    ]);
    expect(analyse(design).findings.map((f) => f.code)).toContain('shape-open');
  });

  it('stands where it stood in its file, on whatever member it is put', () => {
    const place = frameOf([10, 20, 30], [1, 0, 0], [0, 0, 1]);
    const base: Design = { ...emptyDesign('Two'), members: [{ id: 'm', name: 'M', kind: 'body', at: [5, 5, 5], axis: [0, 1, 0], up: [1, 0, 0] }] };
    const { design } = addShapes(base, [{ content: A, data: bracket(50), place, onto: { member: 'm' } }]);
    const f = analyse(design).compiled.elementFrames.get(shapeOf(design).id)!;
    for (const key of ['o', 'x', 'y', 'z'] as const) f[key].forEach((v, i) => expect(v).toBeCloseTo(place[key][i], 9));
  });

  it('parts that share a new member are on one; names stay apart', () => {
    const part = { content: A, data: bracket(50), place: WORLD, onto: { newMember: 'Housing', kind: 'body' as const } };
    const { design, members } = addShapes(emptyDesign('Three'), [part, part]);
    expect(members).toHaveLength(1);
    expect(new Set(design.elements.map((e) => e.name)).size).toBe(2);
    expect(new Set(design.elements.map((e) => e.member)).size).toBe(1);
  });
});

describe('a newer file', () => {
  it('takes along a stop on its face and a pin in its hole: the stop by the length, the pin by the way of the hole', () => {
    const { design, slide, pin } = withBracket();
    // The leaf's near face is at 280, the bracket's end at 100.
    expect(stopAt(design, slide)).toBeCloseTo(-180, 6);
    const before = analyse(design).compiled.structure.frames.get('arm')!.o;
    const { design: after, joints, lost } = replaceShape(design, shapeOf(design).id, B, bracket(150, 10, 32));
    expect(lost).toEqual([]);
    expect(stopAt(after, slide)).toBeCloseTo(-130, 6);
    expect(joints).toEqual([{ joint: pin, by: expect.closeTo(12, 6) }]);
    expect(analyse(after).compiled.structure.frames.get('arm')!.o[0] - before[0]).toBeCloseTo(12, 6);
    expect(analyse(after).findings.filter((f) => f.code.startsWith('shape') && f.code !== 'shape-not-checked')).toEqual([]);
    expect(shapeOf(after).content).toBe(B);
  });

  it('without the hole says so, and moves nothing', () => {
    const { design, pin } = withBracket();
    const { design: after, joints, lost } = replaceShape(design, shapeOf(design).id, B, shapeFrom(boxMesh(100, 40, 8)));
    expect(joints).toEqual([]);
    expect(lost).toHaveLength(1);
    expect(after.joints.find((j) => j.id === pin)).toEqual(design.joints.find((j) => j.id === pin));
    const said = analyse(after).findings.filter((f) => f.code === 'shape-place-lost');
    expect(said).toHaveLength(1);
    expect(said[0].message).toContain('axis Ø 10');
    // A later file that has it again takes it up.
    const again = replaceShape(after, shapeOf(after).id, A, bracket(100));
    expect(again.lost).toEqual([]);
    expect(analyse(again.design).findings.some((f) => f.code === 'shape-place-lost')).toBe(false);
  });

  it('that is the same changes nothing but the content', () => {
    const { design } = withBracket();
    const { design: after, joints } = replaceShape(design, shapeOf(design).id, B, bracket(100));
    expect(joints).toEqual([]);
    expect({ ...after, elements: after.elements.map((e) => ({ ...e, content: A })) }).toEqual({
      ...design,
      elements: design.elements.map((e) => ({ ...e, content: A })),
    });
  });
});
