import { describe, expect, it } from 'vitest';
import { analyse } from '../checks/index';
import { type Design, emptyDesign, readDesign } from '../document/index';
import { ELEMENT_KINDS } from '../elements/index';
import { FRAME } from '../fields/types';
import { insertStage, withInputShaft } from '../sizing/index';
import {
  ungrouped,
  withCase,
  withCaseChanged,
  withElement,
  withElementMoved,
  withGroup,
  withGroupCopied,
  withGroupMoved,
  withGroupNamed,
  withItem,
  withJoint,
  withJointPlace,
  withNote,
  withRatchetSense,
  withSource,
  withStopFaces,
  withValue,
  withView,
  withViewNamed,
  withWanted,
  withoutView,
} from './index';

/** A crank with a spur pair behind it. */
function pair(): { design: Design; input: string; output: string } {
  const begun = withInputShaft(emptyDesign('Pair'), { type: 'crank', name: 'Crank', fields: { speed: 30 } });
  const made = insertStage(begun.design, { kind: 'spur', from: begun.output, values: { z1: 18, z2: 72, module: 3 } })!;
  return { design: made.design, input: begun.output, output: made.output };
}
const sound = (d: Design): Design => {
  expect(readDesign(JSON.parse(JSON.stringify(d))).problems).toBeUndefined();
  return d;
};
const gears = (d: Design): { id: string; teeth?: number; width?: number }[] =>
  d.elements.filter((e) => e.type === 'gear') as { id: string; teeth?: number; width?: number }[];

describe('a value that is stated', () => {
  it('changes the ratio by the new tooth count, and keeps the text only where there is one', () => {
    const { design } = pair();
    const [, wheel] = gears(design);
    const typed = withValue(design, { list: 'elements', ids: [wheel.id], field: 'teeth', value: 63, typed: '126/2' });
    expect(typed.typed).toEqual({ ...design.typed, [`${wheel.id}.teeth`]: '126/2' });
    const speed = (d: Design): number => Math.abs(analyse(d).ledger.lines.at(-1)!.speed);
    expect(speed(typed) / speed(design)).toBeCloseTo(72 / 63, 12);
    expect(withValue(typed, { list: 'elements', ids: [wheel.id], field: 'teeth', value: 63 }).typed).toEqual(design.typed);
  });
  it('goes to all that are selected, and to each as it is asked for', () => {
    const { design } = pair();
    const [a, b] = gears(design).map((g) => g.id);
    const both = withValue(design, { list: 'elements', ids: [a, b], field: 'width', value: 25 });
    expect(gears(both).map((g) => g.width)).toEqual([25, 25]);
    const each = withValue(design, { list: 'elements', ids: [a, b], field: 'width', value: 25, each: (x) => Number(x['width']) + 1 });
    expect(gears(each).map((g) => g.width)).toEqual([25, Number(gears(design)[1].width) + 1]);
  });
  it('is stated no more where it is undefined', () => {
    const { design } = pair();
    const [a] = gears(design);
    expect(gears(withValue(design, { list: 'elements', ids: [a.id], field: 'width', value: undefined }))[0]).not.toHaveProperty('width');
  });
  it('takes a stop from its faces, and faces from a stop', () => {
    const { design } = pair();
    const joint = design.joints[0].id;
    const faced = withStopFaces(design, joint, 'upper', ['a:+x', 'b:-x']);
    expect(faced.joints[0]).toMatchObject({ upperFaces: ['a:+x', 'b:-x'] });
    const stated = withValue(faced, { list: 'joints', ids: [joint], field: 'upper', value: 90 });
    expect(stated.joints[0]).toMatchObject({ upper: 90 });
    expect(stated.joints[0]).not.toHaveProperty('upperFaces');
    expect(withJointPlace(faced, joint, 'upper', 45).joints[0]).not.toHaveProperty('upperFaces');
    expect(withJointPlace(faced, joint, 'home', 10).joints[0]).toMatchObject({ home: 10, upperFaces: ['a:+x', 'b:-x'] });
    expect(withStopFaces(stated, joint, 'upper', ['a:+x', 'b:-x']).joints[0]).not.toHaveProperty('upper');
  });
  it('takes the pawls of every ratchet wheel to the other side, of all that are selected', () => {
    const begun = withInputShaft(emptyDesign('Two ratchets'), { type: 'crank', name: 'Crank' });
    const one = insertStage(begun.design, { kind: 'ratchet', from: begun.output })!;
    const { design } = insertStage(one.design, { kind: 'ratchet', from: begun.output })!;
    const wheels = design.elements.filter((e) => e.type === 'ratchet-wheel').map((e) => e.id);
    expect(wheels).toHaveLength(2);
    const both = withValue(design, { list: 'elements', ids: [wheels[0], wheels[1]], field: 'free', value: 'back' });
    const each = wheels.reduce((d, id) => withRatchetSense(d, id, 'back'), design);
    expect(both.elements).toEqual(each.elements);
    expect(both.members).toEqual(each.members);
    expect(both.elements.filter((e) => e.type === 'pawl')).not.toEqual(design.elements.filter((e) => e.type === 'pawl'));
    expect(analyse(both).findings.filter((f) => f.severity === 'fault')).toEqual(analyse(each).findings.filter((f) => f.severity === 'fault'));
  });
  it('belongs to one item, whatever list that is in', () => {
    const { design } = pair();
    expect(withItem(design, design.sources[0].id, { speed: 45 }).sources[0]).toMatchObject({ speed: 45 });
    expect(withItem(design, 'nobody', { speed: 45 })).toBe(design);
  });
  it('a blank note is none', () => {
    expect(withNote(emptyDesign('D'), 'Lifts the gate')).toHaveProperty('note', 'Lifts the gate');
    expect(withNote(withNote(emptyDesign('D'), 'x'), '  ')).not.toHaveProperty('note');
  });
});

describe('what is added', () => {
  it.each(ELEMENT_KINDS.filter((k) => !k.imported).map((k) => k.type))('a %s is a sound document', (type) => {
    const { design, output } = pair();
    const made = withElement(design, type, output)!;
    expect(made.design.elements.at(-1)).toMatchObject({ id: made.id, type, member: output });
    sound(made.design);
  });
  it('nothing comes of a kind that is not known', () => expect(withElement(emptyDesign('D'), 'flux', 'm')).toBeUndefined());
  it('a joint is called after its child; a screw has a lead', () => {
    const { design, output } = pair();
    const { id, design: d } = withJoint(design, 'screw', output);
    expect(d.joints.at(-1)).toMatchObject({ id, parent: FRAME, child: output, lead: 5 });
    expect(d.joints.at(-1)!.name).toBe(`${design.members.find((m) => m.id === output)!.name} joint`);
    expect(withJoint(design, 'revolute', output).design.joints.at(-1)).not.toHaveProperty('lead');
  });
  it('a source begins at 60 rev/min or 10 mm/s, or as its fields say', () => {
    const { design } = pair();
    const joint = design.joints[0].id;
    const speed = (slides: boolean, fields?: Record<string, unknown>): unknown =>
      withSource(design, 'motor', 'Motor', joint, slides, fields).design.sources.at(-1)!.speed;
    expect([speed(false), speed(true), speed(false, { speed: 7 }), speed(false, { stall: 10, speed: undefined })]).toEqual([60, 10, 7, undefined]);
  });
  it('a wanted output is open until it is stated', () => {
    const { design, id } = withWanted(emptyDesign('D'), 'linear-speed', 'Linear speed', {});
    expect(sound(design).wanted).toEqual([{ id, name: 'Linear speed', type: 'linear-speed', value: 0, tolerance: 0 }]);
  });
});

describe('order, groups, views and cases', () => {
  it('an element changes place with its neighbour on the same member only', () => {
    const { design, output } = pair();
    const d = withElement(withElement(design, 'gear', output)!.design, 'block', output)!.design;
    const own = d.elements.filter((e) => e.member === output).map((e) => e.id);
    const moved = withElementMoved(d, own[0], 1);
    expect(moved.elements.filter((e) => e.member === output).map((e) => e.id)).toEqual([own[1], own[0], ...own.slice(2)]);
    expect(moved.elements.filter((e) => e.member !== output)).toEqual(d.elements.filter((e) => e.member !== output));
    expect(withElementMoved(d, own[0], -1)).toBe(d);
  });
  it('a group is named, moved, copied with its items and taken apart', () => {
    const begun = pair();
    const { input, output } = begun;
    const design = ungrouped(begun.design, begun.design.groups![0].id);
    const one = withGroup(design, [output, design.couplings[0].id]);
    const two = withGroup(one, [input]);
    expect(two.groups!.map((g) => g.name)).toEqual(['Stage 1', 'Stage 2']);
    const [g1, g2] = two.groups!.map((g) => g.id);
    expect(withGroupMoved(two, g2, -1).groups!.map((g) => g.id)).toEqual([g2, g1]);
    expect(withGroupMoved(two, g1, -1).groups!.map((g) => g.id)).toEqual([g1, g2]);
    expect(withGroupNamed(two, g1, 'Head').groups![0].name).toBe('Head');
    const copied = sound(withGroupCopied(two, g1));
    expect(copied.groups!.at(-1)).toMatchObject({ name: 'Stage 1 again' });
    expect(copied.members.length).toBe(design.members.length + 1);
    expect(ungrouped(two, g1).groups!.map((g) => g.id)).toEqual([g2]);
    expect(ungrouped(one, g1)).not.toHaveProperty('groups');
    expect(ungrouped(two, g1).members).toEqual(design.members);
  });
  it('views have free names, and no list is left empty', () => {
    const view = { from: [1, 0, 0], up: [0, 0, 1], target: [0, 0, 0], height: 100 } as const;
    const look = { from: [...view.from], up: [...view.up], target: [...view.target], height: 100 } as Parameters<typeof withView>[1];
    const two = withView(withView(emptyDesign('D'), look), look);
    expect(two.views!.map((v) => v.name)).toEqual(['View 1', 'View 2']);
    expect(withView(withoutView(two, 'view1'), look).views!.map((v) => v.id)).toEqual(['view2', 'view1']);
    expect(withViewNamed(two, 'view2', 'From above').views![1].name).toBe('From above');
    expect(withoutView(withoutView(two, 'view1'), 'view2')).not.toHaveProperty('views');
  });
  it('a case is added under the next usual name and changed alone', () => {
    const two = withCase(withCase(emptyDesign('D')));
    expect(two.cases!.map((c) => c.name)).toEqual(['Lifting', 'Holding']);
    expect(withCaseChanged(two, two.cases![0].id, (c) => ({ ...c, name: 'Up' })).cases!.map((c) => c.name)).toEqual(['Up', 'Holding']);
  });
});
